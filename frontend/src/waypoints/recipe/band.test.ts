import { describe, expect, it } from "vitest";
import type { Band, Reading, Stats } from "../../api/types";
import { testReadings } from "../../testing/state";
import { axisOf, dragged, firstBand, handlePosition, shifted } from "./band";
import { short } from "../../kit/numbers";

const [plain] = testReadings() as [Reading];
const reading = (name: string, unit: string, scale: "linear" | "log"): Reading => ({
  ...plain,
  name,
  kind: name,
  unit,
  scale,
  high: name === "slope" ? 90 : null,
});
const stats = (low: number, high: number): Stats => ({
  name: "",
  low,
  high,
  mean: 0,
  below_90: 0,
  scale: "linear",
  counts: [1],
  bin_low: low,
  bin_high: high,
  area: 1,
});
const band = (part: Partial<Band>): Band => ({
  kind: "band",
  reading: "slope",
  low: 30,
  high: 60,
  fade_low: 6,
  fade_high: 4,
  smooth: false,
  ...part,
});

describe("the band on its histogram", () => {
  const slope = axisOf(reading("slope", "°", "linear"), stats(0, 70), band({}));
  it("is taken along as a whole, as wide as it was and no farther than there is ground", () => {
    expect(shifted(band({}), 40, 45, slope)).toMatchObject({ low: 35, high: 65, fade_low: 6 });
    expect(shifted(band({}), 40, 69, slope)).toMatchObject({ low: 40, high: 70 });
    // What is open stays open.
    expect(shifted(band({ high: 90 }), 40, 30, slope)).toMatchObject({ low: 20, high: 90 });
    expect(shifted(band({ low: 0, high: 90 }), 40, 30, slope)).toMatchObject({ low: 0, high: 90 });
    const moved = shifted(band({ reading: "flow", low: 4096, high: 65536 }), 4096, 8192, flow);
    expect([moved.low, moved.high]).toEqual([8192, 131072]);
  });

  const flow = axisOf(reading("flow", "m²", "log"), stats(16, 16 * 2 ** 20), band({ low: 4096, high: 65536 }));

  it("places values and finds them again", () => {
    expect(slope.place(35)).toBe(0.5);
    expect(flow.value(0.5)).toBeCloseTo(16 * 2 ** 10);
    for (const t of [0, 0.3, 1]) expect(flow.place(flow.value(t))).toBeCloseTo(t);
  });

  it("counts fades in doublings on a logarithmic reading", () => {
    const b = band({ low: 4096, high: 65536, fade_low: 2, fade_high: 1 });
    expect(handlePosition(b, "fade_low", flow)).toBe(1024);
    expect(handlePosition(b, "fade_high", flow)).toBe(131072);
    expect(dragged(b, "fade_low", 2048, flow).fade_low).toBe(1);
  });

  it("never lets edges cross or fades turn inside out", () => {
    expect(dragged(band({}), "low", 65, slope)).toMatchObject({ low: 65, high: 65 });
    expect(dragged(band({}), "high", 10, slope)).toMatchObject({ low: 10, high: 10 });
    expect(dragged(band({}), "fade_low", 40, slope).fade_low).toBe(0);
    expect(dragged(band({}), "fade_high", 50, slope).fade_high).toBe(0);
    expect(dragged(band({}), "fade_low", 20, slope).fade_low).toBe(10);
  });

  it("begins in the upper part of what there is", () => {
    const first = firstBand(reading("slope", "°", "linear"), stats(0, 60));
    expect(first).toMatchObject({ low: 33, high: 90 });
    expect(first.fade_low).toBeGreaterThan(0);
  });

  it("says large numbers shortly", () => {
    expect([short(12), short(16000), short(2_500_000)]).toEqual(["12", "16k", "2.5M"]);
  });
});
