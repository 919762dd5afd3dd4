import { describe, expect, it } from "vitest";
import { monotone } from "./curve";

describe("a curve through points", () => {
  const curve = monotone([
    [0.25, 0],
    [0.5, 0.9],
    [0.75, 0.92],
    [1, 1],
  ]);
  const at = (t: number) => curve[Math.round(t * (curve.length - 1))]?.[1];

  it("passes them and is level before the first", () => {
    expect(at(0)).toBe(0);
    expect(at(0.25)).toBeCloseTo(0, 5);
    expect(at(0.5)).toBeCloseTo(0.9, 5);
    expect(at(0.75)).toBeCloseTo(0.92, 5);
    expect(at(1)).toBeCloseTo(1, 5);
  });
  it("never turns back", () => {
    for (let i = 1; i < curve.length; i++)
      expect((curve[i]?.[1] ?? 0) - (curve[i - 1]?.[1] ?? 0)).toBeGreaterThan(-1e-9);
  });
  it("is straight between two points on the diagonal", () => {
    for (const [u, v] of monotone([
      [0, 0],
      [1, 1],
    ]))
      expect(v).toBeCloseTo(u, 6);
  });
});
