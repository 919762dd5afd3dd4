import { named } from "../../api/mapNames";
import { single } from "../imaging";
import { coloured, overlay, tintOf } from "../overlays";
import { always, type SubjectKind } from "./kind";
import type { Of } from "./subject";

/** Where a step of preparation acts, over the ground before it. */
export const acts: SubjectKind<Of<"acts">> = {
  needs: ({ step }) => [named.where(step), named.at(step, "shade")],
  title: ({ step }) => ["Where it acts", `step ${step + 1}, over the ground before it`],
  paint: ({ step }, { maps, options }) => {
    const base = coloured(maps(named.at(step, "shade")), null);
    return single(overlay(base, maps(named.where(step)), tintOf(options), options.tint), null, true);
  },
  exists: ({ step }, state) => step < (state.document.ground.steps ?? []).length,
  tinted: always,
  wet: always,
};
