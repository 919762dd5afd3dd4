import { named } from "../../api/mapNames";
import { cachedBase, counted, HEIGHT, laid, SHADE } from "../overlays";
import { always, isMask, maskName, share, type SubjectKind } from "./kind";
import type { Of } from "./subject";

/** Overlap and gaps between masks. */
export const together: SubjectKind<Of<"together">> = {
  needs: ({ masks }) => [named.count(masks), SHADE, HEIGHT],
  title: ({ masks }, state) => [
    masks.map((id) => (isMask(state, id) ? maskName(state, id) : "?")).join(" + "),
    "gaps in amber, overlaps in red",
  ],
  paint: ({ masks }, { maps, state, options }) =>
    laid(counted(cachedBase(maps, state, options), maps(named.count(masks))), null, options),
  exists: ({ masks }, state) => masks.length > 1 && masks.every((id) => isMask(state, id)),
  probed: ({ masks }, rows, state) => [
    ...rows,
    ...masks.map((id) => share(isMask(state, id) ? maskName(state, id) : id, named.mask(id))),
  ],
  laidOver: always,
  wet: always,
};
