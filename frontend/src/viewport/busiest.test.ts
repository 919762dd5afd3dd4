import { describe, expect, it } from "vitest";
import { busiest } from "./busiest";

describe("busiest", () => {
  it("finds the edge of a mask, and takes the whole where that is asked for", () => {
    const values = Uint8Array.from({ length: 400 }, (_, i) => (i % 20 > 14 && i > 220 ? 255 : 0));
    const map = { rows: 20, cols: 20, channels: 1, values };
    const [west, north, east, south] = busiest(map, 0.25);
    expect(east - west).toBeCloseTo(0.25);
    expect(south - north).toBeCloseTo(0.25);
    expect(west).toBeLessThan(0.75);
    expect(east).toBeGreaterThan(0.75);
    expect(busiest(map, 1)).toEqual([0, 0, 1, 1]);
  });

  it("goes by half a window, and takes the first of those that differ as much", () => {
    const spots = (at: number[][], channels = 1) => {
      const values = new Uint8Array(64 * channels);
      for (const [row = 0, col = 0] of at) values[(row * 8 + col) * channels] = 255;
      return { rows: 8, cols: 8, channels, values };
    };
    expect(busiest(spots([[0, 7]]), 0.25)).toEqual([0.75, 0, 1, 0.25]);
    expect(busiest(spots([[7, 0]]), 0.25)).toEqual([0, 0.75, 0.25, 1]);
    // In two windows' corners, then in the middle of one.
    expect(busiest(spots([[3, 4]]), 0.5)).toEqual([0.25, 0, 0.75, 0.5]);
    expect(
      busiest(
        spots(
          [
            [1, 1],
            [6, 6],
            [6, 7],
          ],
          3,
        ),
        0.5,
      ),
    ).toEqual([0.5, 0.5, 1, 1]);
    expect(busiest(spots([]), 0.5)).toEqual([0, 0, 0.5, 0.5]);
  });

  it("leaves gaps out", () => {
    const values = Float32Array.from({ length: 16 }, (_, i) => (i < 8 ? NaN : i));
    const [, north] = busiest({ rows: 4, cols: 4, channels: 1, values }, 0.5);
    expect(north).toBeGreaterThan(0.2);
  });
});
