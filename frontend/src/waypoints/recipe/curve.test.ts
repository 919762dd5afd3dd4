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
  it.each([
    [
      [
        [0.1, 0.05],
        [0.25, 0.5],
        [0.5, 0.55],
        [0.8, 1],
      ],
      [0.05, 0.05, 0.2907, 0.5, 0.5274, 0.5364, 0.55, 0.622, 0.7599, 0.9165, 1, 1, 1],
    ],
    [
      [
        [0, 0],
        [0.3, 0.8],
        [0.6, 0.3],
        [1, 0.9],
      ],
      [0, 0.2668, 0.5542, 0.7593, 0.7829, 0.632, 0.4296, 0.3045, 0.3306, 0.4371, 0.5892, 0.7544, 0.9],
    ],
    [
      [
        [0.2, 0.9],
        [0.4, 0.9],
        [0.5, 0.1],
        [0.9, 0],
      ],
      [0.9, 0.9, 0.9, 0.9, 0.9, 0.8424, 0.1, 0.0503, 0.0218, 0.008, 0.0026, 0, 0],
    ],
  ] as [[number, number][], number[]][])("is what masks are made with", (points, twelfths) => {
    const made = monotone(points);
    twelfths.forEach((value, k) => expect(made[k * 8]?.[1]).toBeCloseTo(value, 3));
  });
});
