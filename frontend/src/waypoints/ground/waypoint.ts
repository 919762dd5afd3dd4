import { trim } from "../../kit/numbers";
import { fetched, type Waypoint } from "../waypoint";

export const ground: Waypoint = {
  name: "ground",
  title: "Ground",
  ...fetched("GroundCard", () => import("./GroundCard")),
  stop: ({ state: { document, gaps, home } }) => {
    if (gaps) return { sign: "attention", words: "gaps to fill" };
    const { depth } = document.ground;
    const bits = /f$/.test(depth) ? "float" : `${Number.parseInt(depth)}-bit`;
    return { sign: "tick", words: `${bits}, ${trim(home.spacing_x)} m apart` };
  },
  opens: () => ({ kind: "ground", style: "heights" }),
  picture: "ground.png",
};
