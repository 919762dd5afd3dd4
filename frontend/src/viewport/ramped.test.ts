import { describe, expect, it } from "vitest";
import type { Reading } from "../api/types";
import { testMap } from "../testing/state";
import { bendOf, ends, middleOf } from "./ramped";

const map = (values: number[]) => ({ ...testMap("reading:slope", values), rows: 1, cols: values.length });

describe("a ramp", () => {
  it("has its middle where half of the way is, by ratios where it is logarithmic", () => {
    expect(middleOf(0, 10, false, 1)).toBe(5);
    expect(middleOf(1, 100, true, 1)).toBeCloseTo(10);
    expect(middleOf(0, 10, false, 0.5)).toBeCloseTo(2.5);
  });

  it("reaches from the least to the most of what has a value", () => {
    expect(ends(map([NaN, -3, 7, 2]))).toEqual([-3, 7]);
    expect(ends(map([NaN]))).toEqual([0, 1]);
  });

  it("is bent only for what lies low, so that nine tenths of it come near to the middle", () => {
    const reading = { scale: "linear" } as Reading;
    const low = map(Array.from({ length: 100 }, (_, i) => (i === 99 ? 100 : 1 + i / 9)));
    const bend = bendOf(low, reading, 0, 100);
    expect(bend).toBeLessThan(1);
    expect((1 + 90 / 9) / 100).toBeLessThan(0.3);
    expect(((1 + 89 / 9) / 100) ** bend).toBeCloseTo(0.45, 1);
    expect(bendOf(map(Array.from({ length: 100 }, (_, i) => i)), reading, 0, 100)).toBe(1);
  });
});
