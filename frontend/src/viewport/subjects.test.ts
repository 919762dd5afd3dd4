import { describe, expect, it } from "vitest";
import { sourceTitle } from "../document/sourceTitle";
import { testFit, testReadings, testState } from "../testing/state";
import { beforeName } from "./subjects/mask";
import { exists, needs, title } from "./subjects/register";

const state = testState();
const readings = testReadings();

describe("what a subject is called", () => {
  it("names everything that is shown, with its unit", () => {
    expect(title({ kind: "ground", style: "heights" }, state, readings)).toEqual(["Ground", "heights · 10 to 90 m"]);
    expect(title({ kind: "reading", name: "slope", over: true }, state, readings)).toEqual(["Slope", "degrees"]);
    const width = { name: "width", title: "Width", unit: "m", kind: "number", value: 12, default: 4 } as const;
    const limits = { low: 4, high: 90, step: 1, decimals: 1, choices: [] };
    const wide = readings.map((item) => ({ ...item, params: [{ ...width, ...limits }] }));
    expect(title({ kind: "reading", name: "slope", over: true }, state, wide)[1]).toBe("degrees · width 12 m");
    expect(title({ kind: "mask", id: "scree", style: "over", lines: null }, state, readings)[0]).toBe("Scree");
    expect(title({ kind: "channel", sheet: "splat", channel: "a" }, state, readings)[0]).toBe("splat_a · A");
    expect(title(testFit, state, readings)).toEqual(["Height", "rebuilt − meant · delivery 4"]);
    expect(title({ ...testFit, exact: true }, state, readings)[1]).toContain("every sample is as meant");
  });
});

describe("what a subject is painted from", () => {
  it("asks for the line before, for the wipe alone", () => {
    const wipe = { kind: "mask", id: "scree", style: "wipe", lines: 2 } as const;
    expect(beforeName(wipe)).toBe("mask:scree:2");
    expect(needs(wipe)).toContain("mask:scree:2");
    expect(needs({ ...wipe, style: "over" })).not.toContain("mask:scree:2");
    expect(needs({ ...wipe, style: "alone" })).toEqual(["mask:scree"]);
  });

  it("asks for every weight of every layer and the base", () => {
    expect(needs({ kind: "layers", over: true })[0]).toBe("layers");
    expect(needs({ kind: "layers", over: true, solo: "rock" })[0]).toBe("layers:rock");
    const wiped = { kind: "colour", map: "colour", style: "wipe", coats: 2 } as const;
    expect(needs(wiped)).toEqual(["colour", "colour:2", "reading:shade"]);
    expect(needs({ ...wiped, map: "normal", style: "flat" })).toEqual(["surface:normal"]);
  });
});

describe("held views", () => {
  it("know when what they show was deleted", () => {
    expect(exists({ kind: "mask", id: "scree", style: "over", lines: null }, state)).toBe(true);
    expect(exists({ kind: "mask", id: "gone", style: "over", lines: null }, state)).toBe(false);
    expect(exists({ kind: "channel", sheet: "gone", channel: "r" }, state)).toBe(false);
    expect(exists({ kind: "layers", over: true }, state)).toBe(true);
  });
});

describe("views of masks beside the mask itself", () => {
  const gone = { kind: "band", mask: "gone", band: 0 } as const;
  it("are named, painted from their own maps, and gone with their mask", () => {
    expect(title({ kind: "band", mask: "scree", band: 1 }, state, readings)[0]).toBe("Scree, band 2");
    expect(needs({ kind: "band", mask: "scree", band: 1 })[0]).toBe("band:scree:1");
    expect(needs({ kind: "final", mask: "scree" })[0]).toBe("final:scree");
    expect(needs({ kind: "together", masks: ["scree", "peat"] })[0]).toBe("count:scree+peat");
    expect(title({ kind: "final", mask: "scree" }, state, readings)[1]).toContain("delivered size");
    expect(exists({ kind: "final", mask: "scree" }, state)).toBe(true);
    expect(exists(gone, state)).toBe(false);
    expect(exists({ kind: "together", masks: ["scree", "gone"] }, state)).toBe(false);
    expect(exists({ kind: "scatter", id: "gone" }, state)).toBe(false);
  });
});

describe("what a channel carries", () => {
  it("tells base weight, rest of this sheet and masks apart", () => {
    const { document } = state;
    expect(sourceTitle({ kind: "weight", layer: "rock", turned: false }, document, readings)).toBe("Rock weight");
    expect(sourceTitle({ kind: "base", turned: false }, document, readings)).toBe("Moor grass base weight");
    expect(sourceTitle({ kind: "rest", turned: false }, document, readings)).toBe("Rest of this sheet");
    expect(sourceTitle({ kind: "mask", mask: "scree", turned: false }, document, readings)).toBe("Scree mask");
    const flow = { kind: "reading", reading: "flow", black: 1, white: 2, mapping: "own", turned: false } as const;
    expect(sourceTitle(flow, document, readings)).toBe("Flow");
    const off = { ...document, layers: document.layers.map((layer) => ({ ...layer, muted: true })) };
    expect(sourceTitle({ kind: "weight", layer: "rock", turned: false }, off, readings)).toContain("switched off");
  });
});
