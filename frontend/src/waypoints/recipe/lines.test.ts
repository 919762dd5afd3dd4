import { describe, expect, it } from "vitest";
import type { LineKind, Reading, Stats } from "../../api/types";
import { phrases } from "../../kit/sentence";
import { testReadings, testSlot, testState } from "../../testing/state";
import { evenEdges, firstReading, freeName, isPossible, mapped, newLine, numbersOf, readBy, usersOf } from "./lines";

const FRAY: LineKind = {
  verb: "fray",
  title: "Fray",
  family: "breakup",
  hint: "",
  sentence: "**Fray** its edges by {reach}, seed {seed}",
  bound: false,
  in_piece: true,
  offered: true,
  holds: 0.3,
  fresh: { verb: "fray", muted: false, note: "", reach: 16, seed: 1 },
  slots: [
    testSlot("reach", "number", { title: "Reach", unit: "m", step: 0.5, high: 100, value: 16 }),
    testSlot("seed", "number", { title: "Seed", step: 1, high: 999999, value: 1, whole: true }),
  ],
};

const TAKE: LineKind = {
  ...FRAY,
  verb: "take",
  family: "combine",
  sentence: "**Take** {source}",
  fresh: { verb: "take", muted: false, note: "" },
  slots: [testSlot("source", "source", { start: "band" })],
};
const USE: LineKind = { ...FRAY, verb: "use", fresh: { verb: "use" }, slots: [testSlot("which", "piece")] };

const { document, uses } = testState();

describe("a sentence", () => {
  it("reads something that the recipe does not read yet, so that it changes what is there", () => {
    const readings = testReadings();
    const line = newLine(TAKE, readings, undefined, document);
    expect(readBy([line])).toEqual(new Set(["slope"]));
    const other = firstReading(readings, readBy([line]));
    expect(other?.name).not.toBe("slope");
    expect(other?.whole_ground).toBe(false);
  });

  it("falls into words, the verb, and the places of numbers", () => {
    expect(phrases(FRAY.sentence)).toEqual([
      { kind: "bold", text: "Fray" },
      { kind: "text", text: " its edges by " },
      { kind: "slot", text: "reach" },
      { kind: "text", text: ", seed " },
      { kind: "slot", text: "seed" },
    ]);
  });
});

describe("a new line", () => {
  it("begins with the numbers that suit the ground", () => {
    expect(newLine(FRAY, testReadings(), undefined, document)).toMatchObject({ verb: "fray", reach: 16, seed: 1 });
  });
  it("reads slope first", () => {
    expect(newLine(TAKE, testReadings(), undefined, document)).toMatchObject({
      source: { kind: "band", reading: "slope" },
    });
  });
  it("has an id of its own", () => {
    const [a, b] = [1, 2].map(() => newLine(FRAY, testReadings(), undefined, document).id);
    expect(a).not.toBe(b);
  });
});

describe("a reading from black to white", () => {
  it("starts above nothing where it counts in doublings", () => {
    const flow = testReadings().find((item) => item.name === "flow");
    const source = flow && mapped(flow, undefined);
    expect(source?.kind === "reading" && source.black > 0 && source.white > source.black).toBe(true);
  });

  it("goes from its fixed low end to what was measured, in three digits, and is never of no width", () => {
    const [height, slope, flow] = testReadings() as [Reading, Reading, Reading];
    const stats = (low: number, high: number) => ({ low, high }) as Stats;
    const ends = (reading: Reading, measured?: Stats) => {
      const made = mapped(reading, measured);
      return made?.kind === "reading" ? [made.black, made.white] : null;
    };
    expect(ends(height, stats(12.3456, 789.12))).toEqual([12.3, 789]);
    expect(ends({ ...height, low: 0, high: 90 }, stats(5, 40))).toEqual([0, 90]);
    expect(ends({ ...slope, high: 90 }, stats(5, 41.26))).toEqual([0, 41.3]);
    expect(ends(height, stats(7, 7))).toEqual([7, 8]);
    expect(ends(height)).toEqual([0, 1]);
    expect(ends(flow)).toEqual([1, 1e6]);
    expect(ends(flow, stats(0, 5000))).toEqual([1e-3, 5000]);
  });
});

describe("numbers that a piece can let others set", () => {
  it("are those of the line and of the band it reads", () => {
    const line = newLine(TAKE, testReadings(), undefined, document);
    expect(numbersOf(line, [TAKE]).map((item) => item.field)).toEqual([
      "source.low",
      "source.high",
      "source.fade_low",
      "source.fade_high",
    ]);
    expect(numbersOf({ ...newLine(FRAY, testReadings(), undefined, document) }, [FRAY])[0]).toMatchObject({
      field: "reach",
      value: 16,
    });
  });
});

describe("names and uses", () => {
  it("finds a name that is free, whatever its case", () => {
    expect(freeName(["Path", "path 2"], "PATH")).toBe("PATH 3");
    expect(freeName([], "Path")).toBe("Path");
  });
  it("names who uses a mask, each once, and never itself", () => {
    const own = { user: "mask:scree", used: "mask:scree", words: "the mask Scree", band: null };
    expect(usersOf([...uses, ...uses, own], "mask:scree")).toEqual([
      "the layer Rock",
      "channel B of the sheet splat_a",
    ]);
    expect(usersOf(uses, "mask:b")).toEqual([]);
  });
});

it("a line that uses a piece is offered where there is one, and begins with it", () => {
  expect(isPossible(USE, document)).toBe(false);
  expect(isPossible(FRAY, document)).toBe(true);
  const more = { ...document, pieces: [{ id: "hung", name: "Hung", lines: [] }] } as unknown as typeof document;
  expect(isPossible(USE, more)).toBe(true);
  expect(newLine(USE, testReadings(), undefined, more)).toMatchObject({ verb: "use", which: "hung" });
});

it("even bands have one edge less than there are bands", () => {
  expect(evenEdges(4)).toEqual([0.25, 0.5, 0.75]);
});
