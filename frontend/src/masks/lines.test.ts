import { describe, expect, it } from "vitest";
import type { Line, VerbInfo } from "../api/types";
import { testReadings, testState } from "../testing/state";
import { cutOf, freeName, mapped, newLine, numbersOf, parts, usersOf } from "./lines";

const FRAY: VerbInfo = {
  verb: "fray",
  title: "Fray",
  family: "breakup",
  hint: "",
  sentence: "**Fray** its edges by {reach}, seed {seed}",
  params: [
    { name: "reach", title: "Reach", unit: "m", step: 0.5, decimals: 1, low: 0, high: 100, value: 16, choices: [] },
    { name: "seed", title: "Seed", unit: "", step: 1, decimals: 0, low: 0, high: 999999, value: 1, choices: [] },
  ],
};

const TAKE: VerbInfo = { ...FRAY, verb: "take", family: "combine", sentence: "**Take** {source}", params: [] };

const { document } = testState();

describe("a sentence", () => {
  it("falls into words, the verb, and the places of numbers", () => {
    expect(parts(FRAY.sentence)).toEqual([
      { kind: "bold", text: "Fray" },
      { kind: "text", text: " its edges by " },
      { kind: "token", text: "reach" },
      { kind: "text", text: ", seed " },
      { kind: "token", text: "seed" },
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
  it("names who uses a mask", () => {
    const use = { id: "a", verb: "drift", steered: { kind: "mask", mask: "scree" } } as unknown as Line;
    const more = {
      ...document,
      masks: [...document.masks, { id: "b", name: "Bracken", lines: [use] }],
      scatters: [{ id: "s", name: "Stones", mask: "scree" }],
    } as unknown as typeof document;
    expect(usersOf(more, "scree")).toEqual(["mask Bracken", "layer Rock", "splat_a · B", "scattered Stones"]);
    expect(usersOf(more, "b")).toEqual([]);
  });
  it("knows the last line that cuts into bands", () => {
    const cut = (id: string, count: number, muted = false) => ({ id, verb: "cut", count, muted }) as unknown as Line;
    const lines = [cut("a", 3), cut("b", 5), cut("c", 7, true)];
    expect(cutOf({ id: "m", name: "M", lines })?.count).toBe(5);
    expect(cutOf({ id: "m", name: "M", lines: [] })).toBeNull();
  });
});
