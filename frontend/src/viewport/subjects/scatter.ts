import { named } from "../../api/mapNames";
import { SCATTERED } from "../../kit/theme";
import { cachedBase, HEIGHT, laid, overlay, SHADE } from "../overlays";
import { rgb } from "../ramps";
import { always, share, type SubjectKind } from "./kind";
import type { Of } from "./subject";

/** How densely something is scattered; its points are drawn over it. */
export const scatter: SubjectKind<Of<"scatter">> = {
  needs: ({ id }) => [named.scatter(id), SHADE, HEIGHT],
  title: ({ id }, { document }) => [
    document.scatters?.find((one) => one.id === id)?.name ?? "Scatter",
    "scattered, over hill shade",
  ],
  paint: ({ id }, { maps, state, options }) => {
    const colour = state.document.scatters?.find((one) => one.id === id)?.colour ?? SCATTERED;
    return laid(overlay(cachedBase(maps, state, options), maps(named.scatter(id)), rgb(colour), 0.25), null, options);
  },
  exists: ({ id }, state) => (state.document.scatters ?? []).some((item) => item.id === id),
  probed: ({ id }, rows) => [...rows, share("Density", named.scatter(id))],
  laidOver: always,
  wet: always,
};
