import type { MapText } from "../api/mapNames";

/** The kind of a thing by its name in the graph of uses: "mask" of `mask:ID`. */
export const kindOfThing = (name: string): string => name.slice(0, name.indexOf(":"));

/** What a file of the delivery is called there. */
export const itemOf = (map: MapText): string => `item:${map}`;
