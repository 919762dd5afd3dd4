import type { Dressing } from "../../api/types";

/** A look as it comes: of its own size, not turned, not tinted. */
export const AS_IT_COMES: Dressing = {
  turn: 0,
  east: 0,
  south: 0,
  tint: "#ffffff",
  brightness: 1,
  roughness: 1,
  middle_size: 80,
};
