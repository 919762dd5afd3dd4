import { AS_IT_COMES } from "../waypoints/layers/dressing";
import type { FitSubject } from "../viewport/subjects/subject";
import type { RawMap } from "../api/maps";
import type { GridInfo, ProjectState, Reading, Slot } from "../api/types";

/** A 2 × 2 ground with one mask, one layer and one sheet, for tests of what is drawn and said. */
export function testState(ground: { water?: number | null } = {}): ProjectState {
  const grid: GridInfo = {
    rows: 2,
    cols: 2,
    spacing_x: 4,
    spacing_y: 4,
    registration: "vertex",
    width: 4,
    length: 4,
  };
  return {
    id: "p1",
    revision: 7,
    document: {
      version: 7,
      name: "Lantern Moor",
      ground: {
        asset: "0".repeat(64),
        file_name: "moor.png",
        file_format: "png",
        depth: "16",
        byte_order: null,
        rows: 2,
        cols: 2,
        stored_low: 0,
        stored_high: 65535,
        heights: "range",
        low: 10,
        high: 90,
        spacing_x: 4,
        spacing_y: 4,
        water: ground.water ?? null,
        ratio_locked: true,
        samples: "border",
        cells_reach: true,
        metres_a_step: 1,
        at_zero: 0,
        at_black: 0,
        at_white: 100,
        on_replace: "codes",
        header: 0,
        voids: 0,
        steps: [],
      },
      readings: [],
      pieces: [],
      features: [],
      scatters: [],
      masks: [{ id: "scree", name: "Scree", lines: [] }],
      base: { name: "Moor grass", colour: "#8d9a57", dressing: AS_IT_COMES },
      looks: [],
      mixing: { sharing: "cover", depth: 0.1 },
      merges: [],
      strokes: [],
      coats: [],
      coat_pieces: [],
      surface: { green: "up", strength: 1, textures: 1, occlusion: 1, curvature: 0.02, detail: 0.5 },
      layers: [
        {
          id: "rock",
          name: "Rock",
          mask: "scree",
          strength: 1,
          colour: "#9c9a92",
          muted: false,
          dressing: AS_IT_COMES,
        },
      ],
      classes: { classes: [], otherwise: "Nothing", holes: null },
      sheets: [
        {
          id: "splat",
          name: "splat_a",
          layout: "rgba",
          bits: 8,
          proposed: false,
          r: { kind: "weight", layer: "rock", turned: false },
          g: { kind: "base", turned: false },
          b: { kind: "mask", mask: "scree", turned: false },
          a: null,
        },
      ],
      targets: [],
      delivery: {
        target: "block-grid",
        rows: 1009,
        cols: 1009,
        sizes: [],
        pattern: "{project}_{map}",
        items: [],
      },
    },
    undo: null,
    undo_place: null,
    redo: null,
    cautions: [],
    home: grid,
    view: grid,
    final: grid,
    ground_key: "g1",
    mask_keys: { scree: "m1" },
    writes: ["a1", "b1"],
    readings: testReadings(),
    uses: [
      { user: "layer:rock", used: "mask:scree", words: "the layer Rock", band: null },
      { user: "sheet:splat", used: "layer:rock", words: "channel R of the sheet splat_a", band: null },
      { user: "sheet:splat", used: "mask:scree", words: "channel B of the sheet splat_a", band: null },
    ],
    bands: {},
    gaps: false,
    in_place: false,
    outer: [0, 0],
    file_ends: [10, 90],
    codes: { black: 0, white: 65535, at_black: 10, at_white: 90, metres_a_step: 80 / 65535, at_zero: 10 },
    to_file: [1, 0, 0, 0, 1, 0],
  };
}

export function testMap(name: string, values: number[], channels = 1): RawMap {
  const bytes = !name.startsWith("reading:") && !name.startsWith("fit:");
  return {
    name,
    rows: 2,
    cols: 2,
    channels,
    values: bytes || name === "reading:shade" ? Uint8Array.from(values) : Float32Array.from(values),
    grid: testState().home,
    key: `${name}|${values.join()}`,
    mean: null,
    draft: false,
  };
}

export function testReadings(): Reading[] {
  const reading = (name: string, unit: string, scale: "linear" | "log", low: number | null): Reading => ({
    name,
    title: name === "flow" ? "Flow" : name === "slope" ? "Slope" : "Height",
    family: "relief",
    left: false,
    trouble: null,
    unit,
    scale,
    decimals: 1,
    low,
    high: null,
    whole_ground: false,
    sentence: "",
    good_for: "",
    kind: name,
    key: `${name}-key`,
    numbers_of: name,
    own: false,
    ramp: name === "slope" ? "steep" : name,
    wraps: false,
    signed: false,
    at_other_sizes: "agrees",
    params: [],
    ramp_high: name === "slope" ? [10, 60] : null,
    ramp_all: name !== "flow",
    open_end: name === "slope",
    more: name === "slope" ? "steeper" : "more",
    less: name === "slope" ? "gentler" : "less",
    above: name === "height",
    light: false,
    first: name === "slope",
    probed: name !== "flow",
    steers: false,
  });
  return [
    reading("height", "m", "linear", null),
    reading("slope", "°", "linear", 0),
    reading("flow", "m²", "log", null),
  ];
}

/** A slot of a sentence with nothing special about it. */
export function testSlot(name: string, kind: Slot["kind"], more: Partial<Slot> = {}): Slot {
  return {
    name,
    kind,
    title: name,
    unit: "",
    step: 0.01,
    decimals: 2,
    low: 0,
    high: 1,
    value: 0,
    whole: false,
    choices: [],
    none: "",
    some: "",
    start: "",
    lead: "",
    where: null,
    ...more,
  };
}

/** The height of a delivery as a fit check saw it. */
export const testFit: FitSubject = {
  kind: "fit",
  number: 4,
  map: "0",
  title: "Height",
  style: "difference",
  channel: null,
  channels: ["r"],
  metres: true,
  full: 65535,
  step: 0.01,
  exact: false,
};
