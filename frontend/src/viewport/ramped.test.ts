import { beforeAll, describe, expect, it } from "vitest";
import type { Reading } from "../api/types";
import { withImages } from "../testing/image";
import { testMap } from "../testing/state";
import { bendOf, ends, middleOf, ramped, readingEnds } from "./ramped";
import { RAMPS } from "./ramps";

beforeAll(withImages);

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

  it("colours a value by its part of the way, the ends beyond them, and what has none like the surround", () => {
    const image = ramped(map([NaN, -5, 0, 2.5, 10, 99]), "steep", 0, 10, false, null);
    const at = (k: number) => [...(RAMPS["steep"]?.slice(k * 3, k * 3 + 3) ?? []), 255];
    const shown = Array.from({ length: 6 }, (_, i) => [...image.data.slice(i * 4, i * 4 + 4)]);
    expect(shown).toEqual([[111, 115, 113, 255], at(0), at(0), at(64), at(255), at(255)]);
    const bent = ramped(map([2.5]), "steep", 0, 10, false, null, 0.5);
    expect([...bent.data]).toEqual(at(128));
    const doubled = ramped(map([1, 4, 16]), "steep", 1, 16, true, null);
    expect([...doubled.data]).toEqual([at(0), at(128), at(255)].flat());
    expect([...ramped(map([0]), "steep", 0, 1024, true, null).data]).toEqual(at(0));
    expect([...ramped(map([5]), "steep", 5, 5, false, null).data]).toEqual(at(0));
  });

  it("is lit by a hill shade, never quite dark", () => {
    const shade = testMap("reading:shade", [0, 150, 0, 0]);
    const white = ramped(map([10, 10]), "grey", 0, 10, false, shade);
    expect([white.data[0], white.data[4]]).toEqual([Math.round(255 * 0.42), Math.round(255 * 0.92)]);
  });

  it("is bent by ratios for what counts in doublings, never below three tenths, nor for what has a middle", () => {
    const values = Array.from({ length: 100 }, (_, i) => (i === 99 ? 2 ** 20 : 2 ** (i / 25)));
    const log = { scale: "log" } as Reading;
    const most = (90 - 0) / 25 / 20;
    expect(bendOf(map(values), log, 1, 2 ** 20)).toBeCloseTo(Math.log(0.45) / Math.log(most), 1);
    const rare = map(Array.from({ length: 100 }, (_, i) => (i === 99 ? 1e6 : 2e3)));
    const linear = { scale: "linear" } as Reading;
    expect(bendOf(rare, linear, 0, 1e6)).toBe(0.3);
    for (const odd of [{ signed: true }, { wraps: true }, { light: true }])
      expect(bendOf(rare, { ...linear, ...odd }, 0, 1e6)).toBe(1);
    expect(bendOf(rare, undefined, 0, 1e6)).toBe(1);
  });
});

describe("the ends of a reading's ramp", () => {
  const reading = (more: Partial<Reading>) => ({ scale: "linear", low: null, high: null, ...more }) as Reading;
  /** 1 to 999, and two extremes. */
  const uneven = map([-5000, ...Array.from({ length: 999 }, (_, i) => i + 1), 5000]);

  it("leave a hundredth out, unless all count or nothing else would be left", () => {
    expect(readingEnds(uneven, reading({}))).toEqual([5, 995]);
    expect(readingEnds(uneven, reading({ ramp_all: true }))).toEqual([-5000, 5000]);
    expect(readingEnds(uneven, undefined)).toEqual([-5000, 5000]);
    expect(readingEnds(map([3, 3, 3, 9]), reading({}))).toEqual([3, 9]);
    const flat = Array.from({ length: 400 }, (_, i) => (i === 7 ? 9 : 3));
    expect(readingEnds(map(flat), reading({}))).toEqual([3, 9]);
    // Of a large map some values are enough.
    const large = map(Array.from({ length: 40_000 }, (_, i) => (i % 2 ? 1e9 : i / 40)));
    expect(readingEnds(large, reading({}))[1]).toBeLessThan(1000);
  });

  it("lie evenly about 0 for what has signs, and where the reading has fixed ones", () => {
    expect(readingEnds(map([-2, -1, 3]), reading({ signed: true }))).toEqual([-3, 3]);
    expect(readingEnds(map([-4, 3]), reading({ signed: true }))).toEqual([-4, 4]);
    expect(readingEnds(map([0, 0]), reading({ signed: true }))).toEqual([-1, 1]);
    expect(readingEnds(map([2, 7]), reading({ low: 0, high: 90 }))).toEqual([0, 90]);
    const within = (high: number) => readingEnds(map([2, high]), reading({ low: 0, ramp_high: [10, 60] }))[1];
    expect([within(7), within(33), within(80)]).toEqual([10, 33, 60]);
    expect(readingEnds(map([4, 4]), reading({}))).toEqual([4, 4 + 1e-9]);
  });
});
