import { describe, expect, it } from "vitest";
import { pieces } from "../../viewport/ProfilePanel";
import { readingEnds } from "../../viewport/ramped";
import { rampOf } from "../../viewport/ramps";
import { inside } from "../../shelf/SurveyMap";
import { newStep, placeOf } from "../ground/newStep";
import { testMap, testReadings } from "../../testing/state";
import type { Reading, StepInfo } from "../../api/types";
import { shareAbove } from "./Numbers";

const [height, slope] = testReadings() as [Reading, Reading];

describe("the ends of a ramp", () => {
  it("are the map\u2019s own for heights, fixed for slope, and even about 0 for signed readings", () => {
    const map = testMap("reading:x", [-2, 0, 1, 40]);
    expect(readingEnds(map, height)).toEqual([-2, 40]);
    expect(readingEnds(map, slope)).toEqual([0, 40]);
    expect(readingEnds(testMap("reading:x", [0, 0, 1, 88]), slope)).toEqual([0, 60]);
    expect(readingEnds(testMap("reading:x", [0, 0, 1, 2]), slope)).toEqual([0, 10]);
    expect(readingEnds(map, { ...height, signed: true })).toEqual([-40, 40]);
    expect(readingEnds(map, { ...height, low: 0, ramp_all: false })).toEqual([0, 40]);
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

it("a new step has the numbers that its kind begins with, and those that are given", () => {
  const kind = (name: string, fills: boolean): StepInfo => ({
    kind: name,
    title: name,
    hint: "",
    sentence: "",
    slots: [],
    makes_grid: false,
    graded: true,
    moves: false,
    fills,
    tool: "",
    shows: "",
    fresh: { kind: name, muted: false, where: [], samples: 2, angle: 55 },
  });
  const kinds = [kind("fill_voids", true), kind("mend_edges", false)];
  const step = newStep(kinds, "mend_edges", { samples: 3 });
  expect(step).toMatchObject({ kind: "mend_edges", samples: 3, angle: 55, muted: false });
  expect(step.id).not.toBe(newStep(kinds, "mend_edges").id);
  expect(placeOf(kinds, step)).toEqual({});
  expect(placeOf(kinds, newStep(kinds, "fill_voids"))).toEqual({ at: 0 });
});
