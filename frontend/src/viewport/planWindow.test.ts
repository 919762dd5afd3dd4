import { describe, expect, it } from "vitest";
import { testState } from "../testing/state";
import { canBeSeen, isNear, windowOf } from "./planWindow";

/** A pixel a metre at zoom 1; samples of 4 by 2 m. */
const rect = { x: 0, y: 0, width: 4036, height: 2036 };
const view = { ...testState().home, rows: 1001, cols: 1001, width: 4000, length: 2000, spacing_x: 4, spacing_y: 2 };
const fine = { ...view, rows: 2001, cols: 2001, spacing_x: 2, spacing_y: 1 };
const camera = { x: 0.5, y: 0.25, zoom: 4 };

describe("the samples in view", () => {
  it("reach one beyond the panel and end with the ground", () => {
    const small = { ...rect, width: 416, height: 136 };
    const zoom = 4 / (100 / 2000);
    expect(windowOf(small, view, { x: 0.5, y: 0.25, zoom }, fine)).toEqual({
      row0: 483,
      row1: 518,
      col0: 974,
      col1: 1027,
    });
    expect(windowOf(small, view, { x: 0, y: 0, zoom }, fine)).toMatchObject({ row0: 0, col0: 0 });
    expect(windowOf(small, view, { x: 1, y: 1, zoom }, fine)).toMatchObject({ row1: 2001, col1: 2001 });
  });

  it("are fetched up to 1024 of them a side", () => {
    // Across lie half as many as pixels, at twice as near a quarter.
    expect(windowOf(rect, view, { ...camera, zoom: 2 }, fine)).not.toBeNull();
    expect(windowOf(rect, view, { ...camera, zoom: 1.9 }, fine)).toBeNull();
    const high = { ...rect, width: 2036, height: 4036 };
    expect(windowOf(high, { ...view, width: 2000, length: 4000 }, { ...camera, zoom: 1.9 }, fine)).toBeNull();
  });

  it("can be told apart from seven tenths of a pixel on", () => {
    expect(canBeSeen(rect, view, { ...camera, zoom: 1 }, { ...fine, spacing_x: 0.71 })).toBe(true);
    expect(canBeSeen(rect, view, { ...camera, zoom: 1 }, { ...fine, spacing_x: 0.69 })).toBe(false);
  });

  it("are near while each can be shown: few enough, and large enough", () => {
    expect(isNear(rect, view, { ...camera, zoom: 2 }, fine)).toBe(true);
    expect(isNear(rect, view, { ...camera, zoom: 1.9 }, fine)).toBe(false);
    expect(isNear(rect, view, { ...camera, zoom: 4 }, { ...fine, spacing_x: 0.1, cols: 800 })).toBe(false);
    expect(isNear(rect, view, { ...camera, zoom: 4 }, { ...fine, spacing_x: 0.2, cols: 800 })).toBe(true);
    expect(isNear(undefined, view, camera, fine)).toBe(false);
  });
});
