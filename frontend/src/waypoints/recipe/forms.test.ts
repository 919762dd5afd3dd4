import { describe, expect, it } from "vitest";
import type { Band } from "../../api/types";
import { formOf, FORMS, turnedTo, type Ends } from "./forms";

const ends: Ends = { least: 0, most: 90, low: 0, high: 60, log: false };
const steep: Band = { kind: "band", reading: "slope", low: 30, high: 90, fade_low: 4, fade_high: 0, smooth: true };

describe("the form of a band", () => {
  it("is open above, open below, or between two edges", () => {
    expect(formOf(steep, ends)).toBe("more");
    expect(formOf({ ...steep, low: 0, high: 20, fade_low: 0 }, ends)).toBe("less");
    expect(formOf({ ...steep, high: 50, fade_high: 2 }, ends)).toBe("between");
  });

  it("turns about its edge and back again without a change", () => {
    const gentle = turnedTo(steep, "less", ends);
    expect(gentle).toEqual({ ...steep, low: 0, fade_low: 0, high: 30, fade_high: 4 });
    expect(turnedTo(gentle, "more", ends)).toEqual(steep);
  });

  it("gets its other edge between its own and what there is, in every form that it is told", () => {
    expect(turnedTo(steep, "between", ends)).toMatchObject({ low: 30, high: 45, fade_high: 4 });
    const log: Ends = { least: 1, most: 1e9, low: 20, high: 20000, log: true };
    const wet: Band = { ...steep, reading: "flow", low: 2000, high: 1e9, fade_low: 1 };
    expect(turnedTo(wet, "between", log).high).toBe(6320);
    for (const form of FORMS)
      for (const next of FORMS) {
        const band = turnedTo(turnedTo(wet, form, log), next, log);
        expect(formOf(band, log)).toBe(next);
        expect(band.low).toBeLessThanOrEqual(band.high);
      }
  });
});
