import { describe, expect, it } from "vitest";
import { withImages } from "../testing/image";
import { testMap } from "../testing/state";
import type { FitSubject } from "./subjects/subject";
import { fitPicture } from "./paintFit";

withImages();

const map = (values: number[]) => ({ ...testMap("fit:1", values), rows: 1, cols: values.length });
const subject = (more: Partial<FitSubject>) =>
  ({ kind: "fit", style: "difference", channel: null, metres: true, step: 0.01, full: 65535, ...more }) as FitSubject;
const legend = (values: number[], more: Partial<FitSubject> = {}) =>
  fitPicture(subject(more), () => map(values)).legend;

describe("what lies between two maps", () => {
  it("is told in millimetres below a metre, in metres above, and as half a step where it is no more", () => {
    expect(legend([-0.2, 0.1])).toMatchObject({ low: "−2.0e+2 mm", high: "+2.0e+2 mm" });
    expect(legend([-0.025, 0.01])).toMatchObject({ high: "+25 mm" });
    expect(legend([0, 3.456])).toMatchObject({ high: "+3.46 m" });
    expect(legend([0.001])).toMatchObject({ high: "+½ step" });
  });

  it("is told in stored steps or shares for what is no height", () => {
    expect(legend([-12, 3], { metres: false, full: 255 })).toMatchObject({ low: "−12" });
    expect(legend([0.25], { metres: false, full: 1 })).toMatchObject({ high: "+0.250" });
  });
});

describe("one side of a check", () => {
  const pixels = (of: { data: Uint8ClampedArray } | undefined) => [...(of?.data ?? [])];
  it("is the stored samples brought to bytes, a channel or the first three together", () => {
    const plain: Partial<FitSubject> = { style: "rebuilt", metres: false, channels: ["grey"] };
    const grey = fitPicture(subject({ ...plain, full: 65535 }), () => map([0, 257, 65535]));
    expect(pixels(grey.panels[0]?.image)).toEqual([0, 0, 0, 255, 1, 1, 1, 255, 255, 255, 255, 255]);
    expect(grey.legend).toEqual({ ramp: "grey", low: "0", high: "65535" });
    const three = { ...testMap("fit:1", [1, 2, 3, 4, 5, 6], 3), rows: 1, cols: 2 };
    const channels = ["r", "g", "b"];
    const together = fitPicture(subject({ ...plain, channels, full: 255 }), () => three);
    expect(pixels(together.panels[0]?.image)).toEqual([1, 2, 3, 255, 4, 5, 6, 255]);
    expect(together.legend).toBeNull();
    const one = fitPicture(subject({ ...plain, channels, channel: 1, full: 255 }), () => three);
    expect(pixels(one.panels[0]?.image)).toEqual([2, 2, 2, 255, 5, 5, 5, 255]);
    expect(one.legend).toMatchObject({ high: "255" });
  });

  it("shows of several channels the difference that is largest", () => {
    const apart = { ...testMap("fit:1", [1, -4, 2, 3, 1, 0], 3), rows: 1, cols: 2 };
    const made = (channel: number | null) =>
      fitPicture(subject({ metres: false, full: 255, channel, channels: ["r", "g", "b"] }), () => apart).legend;
    expect(made(null)).toMatchObject({ low: "−4", high: "+4" });
    expect(made(0)).toMatchObject({ high: "+3" });
    expect(made(2)).toMatchObject({ high: "+2" });
  });
});
