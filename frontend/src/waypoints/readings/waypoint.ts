import { fetched, type Waypoint } from "../waypoint";

export const readings: Waypoint = {
  name: "readings",
  title: "Readings",
  ...fetched("ReadingsCard", () => import("./ReadingsCard")),
  stop: (seen) => ({ sign: "tick", words: `${seen.readings.length} ready` }),
  picture: "readings.png",
};
