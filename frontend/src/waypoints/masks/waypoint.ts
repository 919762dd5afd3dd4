import { named } from "../../api/mapNames";
import { fetched, type Waypoint } from "../waypoint";

export const masks: Waypoint = {
  name: "masks",
  title: "Masks",
  ...fetched("MasksCard", () => import("./MasksCard")),
  stop: ({ state: { document, uses } }) => {
    const all = document.masks;
    if (all.length === 0) return { sign: "waiting", words: "none yet" };
    const used = new Set(uses.filter((use) => use.user !== use.used).map((use) => use.used));
    const unused = all.filter((mask) => !used.has(named.mask(mask.id))).length;
    return { sign: "tick", words: `${all.length}${unused ? ` · ${unused} unused` : ""}` };
  },
  picture: "masks.png",
};
