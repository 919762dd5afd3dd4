import { describe, expect, it } from "vitest";
import type { GridInfo } from "../api/types";
import { testMap } from "../testing/state";
import { fitted } from "./fitted";
import { groundAt, panelRects, scale, seenOf } from "./plan";
import { barLength } from "./ScaleBar";
import { trim } from "../kit/numbers";

const grid: GridInfo = {
  rows: 101,
  cols: 201,
  spacing_x: 5,
  spacing_y: 4,
  registration: "vertex",
  width: 1000,
  length: 400,
};

describe("the plan", () => {
  const rects = panelRects(1, 1036, 700);
  const camera = { x: 0.5, y: 0.5, zoom: 1 };

  it("fits the ground and finds metres under the pointer", () => {
    expect(scale(rects[0] ?? { x: 0, y: 0, width: 1, height: 1 }, grid, camera)).toBe(1);
    expect(groundAt(518, 350, rects, grid, camera)).toEqual({ east: 500, south: 200, panel: 0 });
    expect(groundAt(18, 150, rects, grid, camera)).toEqual({ east: 0, south: 0, panel: 0 });
    expect(groundAt(518 + 40, 350, rects, grid, { ...camera, zoom: 4 })?.east).toBe(510);
  });

  it("knows how many samples can be seen, and which part when nearer", () => {
    const rect = { x: 0, y: 0, width: 136, height: 700 };
    const large = { ...grid, rows: 401, cols: 1001 };
    expect(seenOf(rect, large, camera, "plan")).toEqual({ shown: 129 });
    // Never more than there are, and the relief beside it needs all of them.
    expect(seenOf(rect, grid, { ...camera, zoom: 4 }, "both")).toEqual({ shown: 201 });
    // Beside the ground nothing of it is seen, and of more than seven tenths all is asked for.
    expect(seenOf(rect, grid, { x: 3, y: 0.5, zoom: 4 }, "plan")).not.toHaveProperty("part");
    expect(seenOf(rect, grid, { ...camera, zoom: 1.1 }, "plan")).not.toHaveProperty("part");
    const near = seenOf(rect, grid, { ...camera, zoom: 4 }, "plan");
    expect(near.shown).toBe(201);
    expect(near.part?.map((v) => Number(v.toFixed(2)))).toEqual([0.33, 0, 0.67, 1]);
  });

  it("brings a map to what moves by the mean of what each sample covers", () => {
    const all = { ...testMap("reading:height", [0, 2, 4, 6]), rows: 1, cols: 4 };
    const to = { ...testMap("mask:a", [0, 0]), rows: 1, cols: 2, grid: { ...grid, rows: 2, cols: 4 } };
    const whole = { ...all, rows: 2, values: Float32Array.of(0, 2, 4, 6, 0, 2, 4, 6) };
    const part = fitted(whole, { ...to, window: { row0: 1, row1: 2, col0: 2, col1: 4 } });
    expect([...part.values]).toEqual([4, 6]);
    const small = fitted({ ...whole, cols: 4 }, { ...to, rows: 2, grid: { ...grid, rows: 2, cols: 2 } });
    expect([...small.values]).toEqual([1, 5, 1, 5]);
    expect(fitted(whole, { ...to, rows: 2, grid: { ...grid, rows: 2, cols: 2 } })).not.toBe(whole);
  });

  it("puts four channels side by side and knows which one is pointed at", () => {
    const four = panelRects(4, 800, 600);
    expect(four).toHaveLength(4);
    expect(groundAt(600, 500, four, grid, camera)?.panel).toBe(3);
    expect(groundAt(2, 2, four, grid, camera)).toBeNull();
  });

  it("draws round scale bars and groups thousands", () => {
    expect([barLength(0.16), barLength(1), barLength(400)]).toEqual([500, 100, 0.2]);
    expect([trim(4032), trim(0.5), trim(-40), trim(1234.5)]).toEqual(["4\u202f032", "0.5", "-40", "1\u202f234.5"]);
  });
});
