import type { Step, StepKind } from "../api/types";

export const STEP_TITLES: Record<StepKind, string> = {
  fill_voids: "Fill",
  mend_edges: "Mend the border",
  crop: "Crop",
  resample: "Resample",
  refine: "Refine",
  un_terrace: "Un-terrace",
  smooth: "Smooth",
  soften: "Soften",
  slump: "Slump",
  erode: "Erode",
  flatten: "Flatten",
  raise: "Raise or lower",
  multiply: "Multiply",
  turn: "Turn or flip",
};

/** What each step is for, in the menu that adds it. */
export const STEP_WORDS: Record<StepKind, string> = {
  fill_voids: "missing samples from what surrounds them",
  mend_edges: "border lines that jump",
  crop: "keep a part of the ground",
  resample: "other counts over the same ground",
  refine: "make a coarse ground larger without jagged edges",
  un_terrace: "take out stair steps, keep cliffs",
  smooth: "calm the ground, with or without its edges",
  soften: "draw out faces that are too steep",
  slump: "let steep ground slide to an angle",
  erode: "let rain run over it",
  flatten: "hold everything below or above a height",
  raise: "move the whole ground up or down",
  multiply: "make heights larger or smaller",
  turn: "turn, mirror, or swap rows and columns",
};

/** Steps that make another grid act on all of the ground. */
export const WHOLE_STEPS: StepKind[] = ["crop", "resample", "refine", "turn"];

export interface Size {
  rows: number;
  cols: number;
  width: number;
  length: number;
  spacing_x: number;
  low: number;
}

/** A step as it is when it is added. */
export function freshStep(kind: StepKind, id: string, size?: Size): Step {
  const base = { id, muted: false, where: [] };
  const spacing = size?.spacing_x ?? 1;
  switch (kind) {
    case "fill_voids":
      return { ...base, kind };
    case "mend_edges":
      return { ...base, kind, samples: 1 };
    case "crop":
      return { ...base, kind, west: 0, north: 0, width: size?.width ?? 1, length: size?.length ?? 1 };
    case "resample":
      return { ...base, kind, rows: size?.rows ?? 513, cols: size?.cols ?? 513 };
    case "refine":
      return { ...base, kind, times: 2, detail: 0, seed: 1 };
    case "un_terrace":
      return { ...base, kind, step: null };
    case "smooth":
      return { ...base, kind, radius: Number((spacing * 3).toPrecision(2)), keep: null };
    case "soften":
      return { ...base, kind, angle: 55 };
    case "slump":
      return { ...base, kind, angle: 38 };
    case "erode":
      return { ...base, kind, rain: 0.2, strength: 0.5, seed: 1 };
    case "flatten":
      return { ...base, kind, side: "below", height: Math.round(size?.low ?? 0), blend: 2 };
    case "raise":
      return { ...base, kind, by: 10 };
    case "multiply":
      return { ...base, kind, factor: 1.2, about: Math.round(size?.low ?? 0) };
    case "turn":
      return { ...base, kind, how: "right" };
  }
}
