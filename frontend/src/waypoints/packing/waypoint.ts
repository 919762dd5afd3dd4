import { fetched, many, type Waypoint } from "../waypoint";

export const packing: Waypoint = {
  name: "packing",
  title: "Packing",
  ...fetched("PackingCard", () => import("./PackingCard")),
  stop: ({ state: { document, cautions } }) => {
    const doubts = cautions.filter((item) => item.waypoint === "packing");
    if (document.sheets.length === 0) return { sign: "waiting", words: "no sheets yet" };
    return doubts.length
      ? { sign: "attention", words: `${doubts.length} to look at` }
      : { sign: "tick", words: many(document.sheets.length, "sheet") };
  },
  picture: "packing.png",
};
