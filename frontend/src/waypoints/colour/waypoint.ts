import { fetched, many, type Waypoint } from "../waypoint";

export const colour: Waypoint = {
  name: "colour",
  title: "Colour",
  ...fetched("ColourCard", () => import("./ColourCard")),
  stop: ({ state }) => {
    const coats = state.document.coats ?? [];
    return coats.length === 0
      ? { sign: "waiting", words: "no coats yet" }
      : { sign: "tick", words: many(coats.length, "coat") };
  },
  opens: () => ({ kind: "colour", map: "colour", style: "lit", coats: 0 }),
  picture: "colour.png",
};
