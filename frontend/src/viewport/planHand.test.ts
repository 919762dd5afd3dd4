import { describe, expect, it } from "vitest";
import { testState } from "../testing/state";
import { placeIn, scale } from "./plan";
import { drawnAlong, heldOn, keyed, sampleAt, wheeled } from "./planHand";

const home = { ...testState().home, rows: 101, cols: 201, width: 1000, length: 400, spacing_x: 5, spacing_y: 4 };
const rect = { x: 10, y: 20, width: 536, height: 436 };
const camera = { x: 0.4, y: 0.6, zoom: 4 };

describe("the hand on the plan", () => {
  it("keeps the place under the wheel where it is, between all of the ground and four hundred times as near", () => {
    const under = placeIn(100, 80, rect, home, camera);
    const nearer = wheeled(camera, -100, under, home);
    expect(nearer.zoom).toBeCloseTo(4 * Math.exp(0.16));
    const now = placeIn(100, 80, rect, home, nearer);
    expect([now.east, now.south]).toEqual([expect.closeTo(under.east), expect.closeTo(under.south)]);
    expect(wheeled(camera, 1e6, under, home)).toEqual({ x: 0.5, y: 0.5, zoom: 1 });
    expect(wheeled(camera, -1e6, under, home).zoom).toBe(400);
  });

  it("draws the ground along with the pointer", () => {
    const before = placeIn(200, 200, rect, home, camera);
    const after = placeIn(230, 190, rect, home, drawnAlong(camera, 30, -10, rect, home));
    expect([after.east, after.south]).toEqual([expect.closeTo(before.east), expect.closeTo(before.south)]);
  });

  it("goes by a part of the view with arrows, nearer and further with plus and minus", () => {
    expect(keyed(camera, "ArrowLeft")).toEqual({ ...camera, x: 0.4 - 0.02 });
    expect(keyed(camera, "ArrowRight")).toEqual({ ...camera, x: 0.4 + 0.02 });
    expect(keyed(camera, "ArrowUp")).toEqual({ ...camera, y: 0.6 - 0.02 });
    expect(keyed(camera, "ArrowDown")).toEqual({ ...camera, y: 0.6 + 0.02 });
    expect(keyed(camera, "+")?.zoom).toBeCloseTo(5.2);
    expect(keyed(camera, "-")?.zoom).toBeCloseTo(4 / 1.3);
    expect(keyed({ ...camera, zoom: 399 }, "+")?.zoom).toBe(400);
    expect(keyed({ ...camera, zoom: 1.1 }, "-")?.zoom).toBe(1);
    expect(keyed(camera, "x")).toBeNull();
  });

  it("holds tools on the ground, and finds the nearest sample or none", () => {
    expect(heldOn({ east: -3, south: 401 }, home)).toEqual({ east: 0, south: 400 });
    expect(heldOn({ east: 1001, south: -1 }, home)).toEqual({ east: 1000, south: 0 });
    expect(sampleAt({ east: 12.6, south: 5.9 }, home)).toEqual({ row: 1, col: 3 });
    expect(sampleAt({ east: 1002.4, south: 401.9 }, home)).toEqual({ row: 100, col: 200 });
    for (const off of [{ east: 1002.6 }, { east: -2.6 }, { south: 402.1 }, { south: -2.1 }])
      expect(sampleAt({ east: 0, south: 0, ...off }, home)).toBeNull();
  });
});

describe("a panel", () => {
  it("shows the camera's place in its middle, the ground within its margins, and is not turned", () => {
    expect(scale(rect, home, { ...camera, zoom: 1 })).toBe(0.5);
    expect(placeIn(278, 238, rect, home, camera)).toEqual({ east: 400, south: 240 });
    expect(placeIn(280, 234, rect, home, camera)).toEqual({ east: 401, south: 238 });
  });
});
