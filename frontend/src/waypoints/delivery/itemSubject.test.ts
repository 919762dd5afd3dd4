import { describe, expect, it } from "vitest";
import type { PlanItem } from "../../api/types";
import { testState } from "../../testing/state";
import { formWords, subjectOf, writtenOf } from "./itemSubject";

const { document } = testState();
const item = (more: Partial<PlanItem>) =>
  ({
    of: "mask:scree",
    name: "moor_scree",
    kind: "mask",
    format: "PNG 8",
    space: "data",
    channels: ["grey"],
    ends: "10–90 m",
    rows: 1009,
    cols: 505,
    files: 1,
    tiles: [1, 1],
    ...more,
  }) as PlanItem;

describe("what can be delivered", () => {
  it.each([
    ["height", { kind: "ground", style: "heights" }],
    ["sheet:splat", { kind: "sheet", id: "splat", style: "each" }],
    ["mask:scree", { kind: "mask", id: "scree", style: "alone", lines: null }],
    ["band:scree:2", { kind: "band", mask: "scree", band: 2 }],
    ["reading:flow", { kind: "reading", name: "flow", over: false }],
    ["points:firs", { kind: "scatter", id: "firs" }],
    ["scatter:firs", { kind: "scatter", id: "firs" }],
    ["weight:rock", { kind: "weight", id: "rock", style: "after" }],
    ["coat:soil", { kind: "coat", id: "soil" }],
    ["strongest", { kind: "strongest" }],
    ["colour", { kind: "colour", map: "colour", style: "flat", coats: 0 }],
    ["surface:normal", { kind: "colour", map: "normal", style: "flat", coats: 0 }],
    ["layers", { kind: "layers", over: true }],
  ])("%s is shown as what it is", (of, subject) => expect(subjectOf(of, document)).toEqual(subject));

  it("shows a sheet of one channel as it is", () => {
    const [sheet] = document.sheets;
    const grey = { ...document, sheets: [{ ...sheet, layout: "grey" }] } as typeof document;
    expect(subjectOf("sheet:splat", grey)).toMatchObject({ style: "together" });
  });

  it("says how it is written in a few words", () => {
    expect(formWords(item({}))).toEqual(["PNG 8", "grey"]);
    const channels = ["r", "g", "b", "a"];
    expect([2, 3, 4].map((count) => formWords(item({ channels: channels.slice(0, count) }))[1])).toEqual([
      "grey and alpha",
      "RGB",
      "RGBA",
    ]);
    expect(formWords(item({ kind: "height" }))).toEqual(["PNG 8", "10–90 m"]);
    expect(formWords(item({ space: "sRGB" }))).toEqual(["PNG 8", "sRGB"]);
    expect(formWords(item({ kind: "points", format: "CSV" }))).toEqual(["CSV"]);
  });

  it("says over the view what the file will be, in samples and tiles, and whether it is seen in colours", () => {
    const trial = { key: "k" } as never;
    expect(writtenOf(item({}), trial)).toEqual({
      of: "mask:scree",
      name: "moor_scree",
      how: "as it will be written · 505 × 1009, PNG 8, grey",
      tiles: [1, 1],
      trial,
    });
    expect(writtenOf(item({ files: 6, tiles: [2, 3] }), trial)).toMatchObject({
      how: "as it will be written · 505 × 1009, 2 × 3 tiles, PNG 8, grey",
      tiles: [2, 3],
    });
    const how = (more: Partial<PlanItem>) => writtenOf(item(more), trial).how;
    expect(how({ kind: "height", of: "height" })).toBe("written as 505 × 1009, PNG 8, 10–90 m · here in colours");
    expect(how({ of: "reading:flow" })).toBe("written as 505 × 1009, PNG 8, grey · here in colours");
    expect(how({ kind: "look" })).toBe("505 × 1009, PNG 8, grey · a texture, seen where it is worn");
    expect(how({ kind: "points" })).toBe("points");
  });
});
