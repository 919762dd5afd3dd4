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

  it("leaves gaps out", () => {
    const values = Float32Array.from({ length: 16 }, (_, i) => (i < 8 ? NaN : i));
    const [, north] = busiest({ rows: 4, cols: 4, channels: 1, values }, 0.5);
    expect(north).toBeGreaterThan(0.2);
  });
});
