import { describe, expect, it } from "vitest";
import { testState } from "../testing/state";
import { moved, nudged, placeIn, resized, turned, type Lie } from "./frame";

const home = { ...testState().home, width: 400, length: 200, spacing_x: 4, spacing_y: 2 };
const lie: Lie = { east: 0, north: 0, wide: 1, turn: 0 };

describe("the frame of a picture", () => {
  it("covers the ground, or what cells reach beyond it, and turns clockwise about its middle", () => {
    expect(placeIn(lie, home, [0, 0], 1, 1)).toEqual({ east: 400, south: 200 });
    expect(placeIn(lie, home, [4, 2], -1, -1)).toEqual({ east: -2, south: -1 });
    const quarter = placeIn({ ...lie, turn: 90 }, home, [0, 0], 1, 0);
    expect(quarter.east).toBeCloseTo(200);
    expect(quarter.south).toBeCloseTo(300);
  });

  it("follows the hand: the corner that is held stays under it", () => {
    const start = { ...lie, east: 10, north: -5, wide: 0.8, turn: 12 };
    const corner = placeIn(start, home, [0, 0], 1, -1);
    const to = { east: corner.east + 30, south: corner.south - 4 };
    expect(placeIn(moved(start, corner, to), home, [0, 0], 1, -1).east).toBeCloseTo(to.east, 1);
    const grown = resized(start, home, corner, to);
    const middle = placeIn(start, home, [0, 0], 0, 0);
    const now = placeIn(grown, home, [0, 0], 1, -1);
    const far = (spot: typeof to) => Math.hypot(spot.east - middle.east, spot.south - middle.south);
    expect(far(now)).toBeCloseTo(far(to), 1);
    const spun = placeIn(turned(start, home, corner, to), home, [0, 0], 1, -1);
    const angle = (spot: typeof to) => Math.atan2(spot.south - middle.south, spot.east - middle.east);
    expect(angle(spun)).toBeCloseTo(angle(to), 3);
  });

  it("turns on past half a turn, and stays within one", () => {
    const [east, south] = [
      { east: 300, south: 100 },
      { east: 200, south: 200 },
    ];
    expect(turned({ ...lie, turn: 100 }, home, east, south).turn).toBe(-170);
    expect(turned({ ...lie, turn: -100 }, home, south, east).turn).toBe(170);
  });

  it("goes by samples of the ground with arrows, and by little with plus, minus and brackets", () => {
    expect(nudged(lie, home, "ArrowRight", 1)?.east).toBe(4);
    expect(nudged(lie, home, "ArrowUp", 10)?.north).toBe(20);
    expect(nudged(lie, home, "+", 1)?.wide).toBeGreaterThan(1);
    expect(nudged(lie, home, "[", 10)?.turn).toBe(-1);
    expect(nudged(lie, home, "x", 1)).toBeNull();
    expect(resized({ ...lie, wide: 0.01 }, home, { east: 201, south: 100 }, { east: 200, south: 100 }).wide).toBe(0.01);
  });
});
