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
