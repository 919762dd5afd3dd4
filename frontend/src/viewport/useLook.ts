import { useMemo } from "react";
import { useProject } from "../document/document";
import { useViewParts } from "./view";
import type { PaintOptions } from "./overlays";

/** How the view wants its pictures painted: tint, water, colours, and what overlays are laid on. */
export function useLook(): PaintOptions {
  const { readings } = useProject();
  const {
    tint,
    tintColour: colour,
    water,
    palette,
    backdrop: wanted,
  } = useViewParts("tint", "tintColour", "water", "palette", "backdrop");
  const there = readings.some((item) => item.name === wanted && item.kind === "picture");
  const backdrop = there ? wanted : null;
  return useMemo(() => ({ tint, colour, water, palette, backdrop }), [tint, colour, water, palette, backdrop]);
}
