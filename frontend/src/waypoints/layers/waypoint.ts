import { fetched, type Waypoint } from "../waypoint";

export const layers: Waypoint = {
  name: "layers",
  title: "Layers",
  ...fetched("LayersCard", () => import("./LayersCard")),
  stop: ({ state: { document, cautions } }) => {
    if (document.layers.length === 0) return { sign: "waiting", words: "only the base" };
    return cautions.some((item) => item.waypoint === "layers")
      ? { sign: "attention", words: "too many layers" }
      : { sign: "tick", words: `${document.layers.length} + base` };
  },
  opens: () => ({ kind: "layers", over: true }),
  picture: "layers.png",
};
