import type { CSSProperties } from "react";

/** A drawing that covers the plan and lets what it does not draw on through to it. */
export const overPlan: CSSProperties = {
  position: "absolute",
  inset: 0,
  width: "100%",
  height: "100%",
  pointerEvents: "none",
  overflow: "hidden",
};
