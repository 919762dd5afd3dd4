import { describe, expect, it } from "vitest";
import type { GridInfo } from "../api/types";
import { groundAt, panelRects, scale } from "./plan";
import { barLength } from "./ScaleBar";
import { trim } from "./subjects";

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
