import { beforeAll, describe, expect, it } from "vitest";
import type { RawMap } from "../api/maps";
import type { ProjectState, Reading } from "../api/types";
import { withImages } from "../testing/image";
import { testFit, testMap, testReadings, testState } from "../testing/state";
import type { Subject } from "./subjects/subject";
import { checkered } from "./paintFit";
import { paint } from "./subjects/register";
import type { Picture } from "./imaging";
import { SCATTERED } from "../kit/theme";
import { takingPart } from "../document/outcomes";
import { rgb } from "./ramps";
import { needs } from "./subjects/register";

beforeAll(withImages);

const readings: Reading[] = testReadings();

/** Paint a subject from maps given as plain numbers, row by row. */
function painted(
  subject: Subject,
  values: Record<string, number[]>,
  options: Partial<{ tint: number; water: boolean; state: ProjectState; channels: number }> = {},
): Picture {
  const state = options.state ?? testState();
  const maps = (name: string): RawMap => {
    const found = values[name];
    if (!found) throw new Error(`no ${name}`);
    return testMap(name, found, options.channels ?? found.length / 4);
  };
  expect(needs(subject).every((name) => name in values)).toBe(true);
  const look = { tint: options.tint ?? 1, water: options.water ?? false };
  return paint(subject, { maps, state, readings, options: look });
}

function pixel(picture: Picture, index: number, panel = 0): number[] {
  return [...(picture.panels[panel]?.image.data.slice(index * 4, index * 4 + 4) ?? [])];
}

const shade = [255, 255, 255, 255];
const height = [10, 50, 70, 90];
const over = { "reading:shade": shade, "reading:height": height };
const mask = (style: "over" | "alone" | "wipe"): Subject => ({ kind: "mask", id: "scree", style, lines: 1 });

describe("masks", () => {
  it("alone are their own grey, exactly", () => {
    const picture = painted(mask("alone"), { "mask:scree": [0, 128, 200, 255] });
    expect([0, 1, 2, 3].map((i) => pixel(picture, i)[0])).toEqual([0, 128, 200, 255]);
    expect(picture.legend).toEqual({ ramp: "grey", low: "0", high: "1" });
    expect(picture.shaded).toBe(false);
  });

  it("over shade tint by strength and leave the rest as it was", () => {
    const values = { "mask:scree": [0, 255, 128, 255], ...over };
    const full = painted(mask("over"), values, { tint: 1 });
    const half = painted(mask("over"), values, { tint: 0.5 });
    const base = pixel(full, 0);
    expect(pixel(full, 1).slice(0, 3)).toEqual([75, 63, 163]);
    expect(pixel(half, 1)[0]).toBeCloseTo(((base[0] ?? 0) + 75) / 2, -0.5);
    expect(pixel(half, 0)).toEqual(base);
    expect(pixel(full, 2)[0]).toBeLessThan(base[0] ?? 0);
    expect(pixel(full, 3)[3]).toBe(255);
  });

  it("keep what came before a line for the wipe", () => {
    const picture = painted(mask("wipe"), {
      "mask:scree": [255, 255, 255, 255],
      "mask:scree:1": [0, 0, 0, 255],
      ...over,
    });
    expect([...(picture.before?.data.slice(0, 3) ?? [])]).not.toEqual(pixel(picture, 0).slice(0, 3));
    expect([...(picture.before?.data.slice(12, 15) ?? [])]).toEqual(pixel(picture, 3).slice(0, 3));
  });

  it("show water below its level, deeper ones bluer, and only when asked", () => {
    const values = { "mask:scree": [0, 0, 0, 0], ...over };
    const wet = painted(mask("over"), values, { water: true, state: testState({ water: 60 }) });
    const dry = painted(mask("over"), values, { water: false, state: testState({ water: 60 }) });
    expect(pixel(dry, 0)).toEqual(pixel(dry, 3));
    expect(pixel(wet, 3)).toEqual(pixel(dry, 3));
    expect(pixel(wet, 0)[0]).toBeLessThan(pixel(wet, 1)[0] ?? 0);
    const none = painted(mask("over"), values, { water: true, state: testState({ water: null }) });
    expect(pixel(none, 0)).toEqual(pixel(dry, 0));
  });
});

describe("readings and ground", () => {
  it("run along their ramp between the ends that the legend names", () => {
    const picture = painted({ kind: "reading", name: "slope", over: false }, { "reading:slope": [0, 20, 40, 60] });
    expect(pixel(picture, 0).slice(0, 3)).toEqual([...rgb("#f6f3e2")]);
    expect(pixel(picture, 3).slice(0, 3)).toEqual([...rgb("#43143a")]);
    expect(picture.legend).toMatchObject({ low: "0.0°", high: "60.0°" });
  });

  it("are even on the logarithm where the reading says so", () => {
    const flow: Subject = { kind: "reading", name: "flow", over: false };
    const picture = painted(flow, { "reading:flow": [16, 256, 4096, 65536] });
    const linear = painted({ kind: "reading", name: "slope", over: false }, { "reading:slope": [0, 20, 40, 60] });
    expect(picture.legend?.high).toBe("66k m²");
    // Equal factors are equal steps: the second sample sits a third along, as 20 of 60 does.
    const third = (p: Picture) => pixel(p, 1).slice(0, 3).join();
    expect(third(picture)).not.toBe(third(linear));
    expect(pixel(picture, 1)).not.toEqual(pixel(picture, 0));
  });

  it("give the ground its lowest and highest colour", () => {
    const picture = painted({ kind: "ground", style: "heights" }, over);
    expect(picture.legend).toEqual({ ramp: "height", low: "10 m", high: "90 m" });
    expect(picture.shaded).toBe(true);
    expect(painted({ kind: "ground", style: "shade" }, over).legend).toBeNull();
  });
});

describe("layers, sheets and fit", () => {
  it("show colours as they came, and lit only where that is asked for", () => {
    const layers = [141, 154, 87, 156, 154, 146, 1, 2, 3, 255, 0, 0];
    const flat = painted({ kind: "layers", over: false }, { layers, ...over });
    expect(pixel(flat, 0)).toEqual([141, 154, 87, 255]);
    const dark = { ...over, "reading:shade": [0, 0, 0, 0] };
    expect(pixel(painted({ kind: "layers", over: true }, { layers, ...dark }), 0)[0]).toBe(Math.round(141 * 0.45));
    const normal: Subject = { kind: "colour", map: "normal", style: "lit", coats: 0 };
    expect(pixel(painted(normal, { "surface:normal": layers, ...dark }), 1)).toEqual([156, 154, 146, 255]);
    const wiped: Subject = { kind: "colour", map: "colour", style: "wipe", coats: 1 };
    const before = painted(wiped, { colour: layers, "colour:1": new Array<number>(12).fill(9), ...over }).before;
    expect(before?.data[0]).toBeLessThan(pixel(flat, 0)[0] ?? 0);
  });

  it("colour whoever is strongest by the order in which the index map counts", () => {
    const picture = painted({ kind: "strongest" }, { strongest: [0, 1, 1, 0], "reading:shade": shade });
    expect(pixel(picture, 0)).toEqual(pixel(picture, 3));
    expect(pixel(picture, 0)).not.toEqual(pixel(picture, 1));
    const state = testState();
    state.document.merges = [{ id: "m", name: "Both", layers: ["rock", "x"], shares: [0.5, 0.5], colour: "#010203" }];
    expect(takingPart(state.document).map((item) => item.name)).toEqual(["Moor grass", "Both"]);
  });

  it("show channels one by one without touching them, alpha included", () => {
    const values = { "sheet:splat": [1, 2, 3, 4, 10, 20, 30, 40, 0, 0, 0, 0, 255, 255, 255, 255] };
    const each = painted({ kind: "sheet", id: "splat", style: "each" }, values, { channels: 4 });
    expect(each.panels.map((panel) => panel.title)).toEqual(["R", "G", "B", "A"]);
    expect([0, 1, 2, 3].map((panel) => pixel(each, 1, panel)[0])).toEqual([10, 20, 30, 40]);
    const together = painted({ kind: "sheet", id: "splat", style: "together" }, values, { channels: 4 });
    expect(pixel(together, 1)).toEqual([10, 20, 30, 255]);
  });

  it("shows what a fit check read beside what was meant, and how far they are apart", () => {
    const fit = { ...testFit, number: 3 };
    const exact = painted(fit, { "fit:3:0-difference": [0, 0.00001, -0.00001, 0] });
    expect(exact.legend).toMatchObject({ low: "−½ step", high: "+½ step" });
    const off = painted(fit, { "fit:3:0-difference": [-2, 0, 0, 2] });
    expect(off.legend).toMatchObject({ low: "−2.00 m", high: "+2.00 m" });
    expect(pixel(off, 0).slice(0, 3)).toEqual([...rgb("#2d4f9e")]);
    expect(pixel(off, 3).slice(0, 3)).toEqual([...rgb("#8f4a1f")]);
    const both = { "fit:3:0-rebuilt": [0, 10, 20, 30], "fit:3:0-meant": [0, 10, 20, 10] };
    expect(painted({ ...fit, style: "wipe" }, both).before).not.toBeNull();
    const mask: Subject = { ...fit, style: "rebuilt", metres: false, full: 65535 };
    expect(pixel(painted(mask, { "fit:3:0-rebuilt": [0, 65535, 32768, 0] }), 1).slice(0, 3)).toEqual([255, 255, 255]);
  });

  it("puts squares of both by turns, so that what lies otherwise breaks at their edges", () => {
    const [one, other] = [new ImageData(8, 8), new ImageData(8, 8)];
    other.data.fill(255);
    const { data } = checkered(one, other);
    const at = (x: number, y: number) => data[(y * 8 + x) * 4];
    expect([at(0, 0), at(4, 0), at(0, 4), at(7, 7)]).toEqual([0, 255, 255, 0]);
    // A twelfth of the longer side.
    const [wide, white] = [new ImageData(120, 8), new ImageData(120, 8)];
    white.data.fill(255);
    const row = [9, 10, 19, 20].map((x) => checkered(wide, white).data[x * 4]);
    expect(row).toEqual([0, 255, 255, 0]);
  });
});

describe("a part of a larger ground", () => {
  it("is coloured by the ends of the whole, not its own", () => {
    const whole = testMap("reading:slope", [0, 20, 40, 60]);
    const part = testMap("reading:slope", [20, 20, 40, 40]);
    const state = testState();
    const slope: Subject = { kind: "reading", name: "slope", over: false };
    const options = { tint: 1, water: false };
    const inside = paint(slope, { maps: () => part, state, readings, options: { ...options, whole: () => whole } });
    const alone = paint(slope, { maps: () => whole, state, readings, options });
    expect(inside.legend).toEqual(alone.legend);
    expect(pixel(inside, 0)).toEqual(pixel(alone, 1));
    expect(pixel(inside, 2)).toEqual(pixel(alone, 2));
    expect(pixel(paint(slope, { maps: () => part, state, readings, options }), 0)).not.toEqual(pixel(inside, 0));
  });
});

describe("bands, gaps and differences", () => {
  it("paint each band of a mask in a colour of its own", () => {
    const picture = painted(
      { kind: "mask", id: "scree", style: "bands", lines: null },
      { "mask:scree": [0, 60, 130, 255] },
    );
    const colours = [0, 1, 2, 3].map((i) => pixel(picture, i).join());
    expect(new Set(colours).size).toBe(4);
  });

  it("follow the line that cuts a mask", () => {
    const state = testState();
    const cut = { id: "c", verb: "cut", muted: false, note: "", count: 2, how: "even", edges: [] } as const;
    const two = { ...state, document: { ...state.document, masks: [{ id: "scree", name: "Scree", lines: [cut] }] } };
    const subject: Subject = { kind: "mask", id: "scree", style: "bands", lines: null };
    const picture = painted(subject, { "mask:scree": [0, 0, 255, 255] }, { state: two as unknown as ProjectState });
    expect(pixel(picture, 0)).toEqual(pixel(picture, 1));
    expect(pixel(picture, 1)).not.toEqual(pixel(picture, 2));
  });

  it("show gaps in amber, overlaps in red, and leave the rest as it is", () => {
    const subject: Subject = { kind: "together", masks: ["scree", "peat"] };
    const picture = painted(subject, { "count:scree+peat": [0, 1, 2, 1], ...over });
    const [gap, one, two] = [0, 1, 2].map((i) => pixel(picture, i));
    expect(one).toEqual(pixel(painted({ kind: "ground", style: "shade" }, over), 1));
    expect((gap?.[1] ?? 0) > (two?.[1] ?? 0)).toBe(true);
    expect((two?.[0] ?? 0) > (two?.[1] ?? 0) + 40).toBe(true);
  });

  it("scale differences to the largest there is, and explain nothing where there is none", () => {
    const subject: Subject = { kind: "final", mask: "scree" };
    const some = painted(subject, { "final:scree": [0, 0, 10, 20], ...over });
    expect(some.legend?.high).toBe("0.08");
    expect(pixel(some, 3)).toEqual([214, 120, 20, 255]);
    expect(painted(subject, { "final:scree": [0, 0, 0, 0], ...over }).legend).toBeNull();
  });

  it("lay one band and the density of what is scattered over the shade", () => {
    const band = painted({ kind: "band", mask: "scree", band: 1 }, { "band:scree:1": [255, 0, 0, 0], ...over });
    expect(pixel(band, 0)).not.toEqual(pixel(band, 1));
    const dense = painted({ kind: "scatter", id: "s" }, { "scatter:s": [255, 0, 0, 0], ...over });
    const [r, g, b] = rgb(SCATTERED);
    expect(pixel(dense, 0)).toEqual([...[r, g, b].map((v) => Math.round(254 * 0.75 + v * 0.25)), 255]);
    expect(pixel(dense, 1)).toEqual([254, 254, 254, 255]);
  });

  it("lay a mask over the layers' colours where that is asked for", () => {
    const subject: Subject = { kind: "mask", id: "scree", style: "over", lines: null, base: "colour" };
    const layers = [9, 9, 9, 200, 99, 0, 9, 9, 9, 9, 9, 9];
    const picture = painted(subject, { "mask:scree": [0, 0, 0, 255], layers, ...over });
    expect(pixel(picture, 0)).not.toEqual(pixel(picture, 1));
    expect(pixel(picture, 0)).toEqual(pixel(picture, 2));
  });
});
