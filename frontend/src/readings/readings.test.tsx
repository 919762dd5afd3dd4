import { describe, expect, it } from "vitest";
import { pieces } from "../viewport/ProfilePanel";
import { readingEnds } from "../viewport/ramped";
import { rampOf } from "../viewport/ramps";
import { inside } from "../shelf/SurveyMap";
import { freshStep, STEP_TITLES, WHOLE_STEPS } from "../ground/steps";
import { testMap, testReadings } from "../testing/state";
import type { Reading, StepKind } from "../api/types";
import { shareAbove } from "./Numbers";

const [height, slope] = testReadings() as [Reading, Reading];

describe("the ends of a ramp", () => {
  it("are the map\u2019s own for heights, fixed for slope, and even about 0 for signed readings", () => {
    const map = testMap("reading:x", [-2, 0, 1, 40]);
    expect(readingEnds(map, height)).toEqual([-2, 40]);
    expect(readingEnds(map, slope)).toEqual([0, 40]);
    expect(readingEnds(map, { ...height, kind: "relative_height", signed: true })).toEqual([-40, 40]);
    expect(readingEnds(map, { ...height, kind: "scour", low: 0 })).toEqual([0, 40]);
  });

  it("leave out what has no value", () => {
    const map = testMap("reading:x", [NaN, 3, 5, NaN]);
    expect(readingEnds(map, height)).toEqual([3, 5]);
    expect(readingEnds(testMap("reading:x", [NaN, NaN, NaN, NaN]), height)).toEqual([0, 1]);
  });
});

it("a palette for all eyes takes the place of every reading\u2019s own colours", () => {
  expect(rampOf("steep", false, "own")).toBe("steep");
  expect(rampOf("unknown", false, "own")).toBe("grey");
  expect(rampOf("bend", true, "safe")).toBe("safe_balance");
  expect(rampOf("steep", false, "safe")).toBe("safe");
});

it("the hypsometric curve begins with all of the ground and falls", () => {
  const curve = shareAbove({ counts: [0.25, 0.5, 0.25] });
  expect(curve).toEqual([1, 0.75, 0.25]);
});

it("a profile is drawn in pieces between its gaps", () => {
  const drawn = pieces([0, 1, 2, 3, 4, 5], [0, 1, null, 1, 0, null], 0, 1);
  expect(drawn).toHaveLength(2);
  expect(drawn[0]?.split(" ")).toHaveLength(2);
  expect(drawn[0]?.startsWith("0.0,90.0")).toBe(true);
  expect(pieces([0, 1], [null, null], 0, 1)).toEqual([]);
});

it("a surveyed square stays inside the world", () => {
  expect(inside({ west: -50, north: 900, side: 800 }, 1000)).toEqual({ west: 0, north: 200, side: 800 });
  expect(inside({ west: 0, north: 0, side: 5 }, 1000).side).toBe(500);
  expect(inside({ west: 3, north: 3, side: 9000 }, 1000)).toEqual({ west: 0, north: 0, side: 1000 });
});

it("every step of preparation can be begun with, and those that change the grid are known", () => {
  const size = { rows: 100, cols: 120, width: 476, length: 396, spacing_x: 4, low: 12.4 };
  for (const kind of Object.keys(STEP_TITLES) as StepKind[]) {
    expect(freshStep(kind, "a", size)).toMatchObject({ id: "a", kind, muted: false });
  }
  expect(freshStep("crop", "a", size)).toMatchObject({ width: 476, length: 396 });
  expect(freshStep("flatten", "a", size)).toMatchObject({ height: 12 });
  expect(WHOLE_STEPS).toContain("turn");
});
