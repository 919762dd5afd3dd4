import { describe, expect, it } from "vitest";
import type { Operation, ProjectState } from "../api/types";
import { testState } from "../testing/state";
import places from "./places.json";
import { basesOf, rebased as onto, replaced } from "./rebase";

type Document = ProjectState["document"];
const band = { kind: "band" as const, reading: "slope", low: 20, high: 90, fade_low: 5, fade_high: 0, smooth: false };
const take = (source: object, more = {}) => ({ id: "a", verb: "take", strength: 1, muted: false, source, ...more });
const document = (line: object, items: object[] = []) => {
  const { document: whole } = testState();
  const mask = { ...whole.masks?.[0], id: "scree", lines: [line] };
  return { ...whole, masks: [mask], delivery: { ...whole.delivery, items } } as Document;
};
const set = (line: object) => ({ op: "set_line", mask: "scree", line }) as Operation;
const made = document(take(band));
const rebased = (operation: Operation, was: Document, now: Document) => onto(operation, basesOf(operation, was), now);

describe("an operation that was made before the answer of another", () => {
  it("keeps what that one changed in the same line, at any depth", () => {
    const now = document(take({ ...band, fade_low: 8 }, { strength: 0.5 }));
    expect(rebased(set(take({ ...band, low: 30 }, { muted: true })), made, now)).toEqual(
      set(take({ ...band, low: 30, fade_low: 8 }, { strength: 0.5, muted: true })),
    );
  });

  it("is the later one where both changed the same", () => {
    const now = document(take({ ...band, low: 25 }));
    expect(rebased(set(take({ ...band, low: 30 })), made, now)).toEqual(set(take({ ...band, low: 30 })));
  });

  it("takes back a step that is not answered yet", () => {
    expect(rebased(set(take(band)), made, document(take({ ...band, low: 20.5 })))).toEqual(set(take(band)));
  });

  it("never mixes what means something else", () => {
    const height = { ...band, reading: "height", low: 200, high: 400 };
    expect(rebased(set(take(band, { muted: true })), made, document(take(height)))).toEqual(
      set(take(height, { muted: true })),
    );
    const edge = set(take({ ...band, low: 30 }));
    expect(rebased(edge, made, document(take(height)))).toEqual(edge);
  });

  it("is left alone where the thing is gone, and where it replaces nothing", () => {
    const gone = { ...made, masks: [] };
    const edge = set(take({ ...band, low: 30 }));
    expect(rebased(edge, made, gone)).toEqual(edge);
    const add = { ...edge, op: "add_line" } as Operation;
    expect(rebased(add, made, document(take({ ...band, fade_low: 8 })))).toEqual(add);
  });

  it("keeps choices of the same file, and lists that were not touched", () => {
    const now = document(take(band), [{ of: "height", form: "tiff16", deliver: null }]);
    const choice = { op: "set_items", items: [{ of: "height", form: null, deliver: false }] } as unknown as Operation;
    expect(rebased(choice, made, now)).toEqual({
      op: "set_items",
      items: [{ of: "height", form: "tiff16", deliver: false }],
    });
    const named = { op: "set_delivery", delivery: { ...made.delivery, pattern: "{map}" } } as Operation;
    expect(rebased(named, made, now)).toMatchObject({
      delivery: { pattern: "{map}", items: [{ of: "height", form: "tiff16" }] },
    });
  });
});

const stops = [
  { at: 0, colour: "#000000" },
  { at: 0.4, colour: "#808080" },
  { at: 1, colour: "#ffffff" },
];
/** Things of many shapes, each where an operation finds it; at every part of one stands something of its own. */
const THINGS: [string, (thing: object) => Partial<Document>, (thing: object) => object, object][] = [
  [
    "coat",
    (coat) => ({ coats: [coat] as never }),
    (coat) => ({ op: "set_coat", coat }),
    { id: "c", kind: "ramp", strength: 1, stops, along: { kind: "reading", reading: "height", black: 1, white: 9 } },
  ],
  [
    "line",
    (line) => ({ masks: [{ id: "scree", name: "Scree", lines: [line] }] as never }),
    (line) => ({ op: "set_line", mask: "scree", line }),
    {
      id: "a",
      verb: "bend",
      muted: false,
      points: [
        [0, 0.1],
        [0.5, 0.6],
        [0.9, 1],
      ],
    },
  ],
  [
    "edges",
    (line) => ({ masks: [{ id: "scree", name: "Scree", lines: [line] }] as never }),
    (line) => ({ op: "set_line", mask: "scree", line }),
    { id: "a", verb: "cut", count: 4, edges: [0.25, 0.5, 0.75] },
  ],
  [
    "strokes",
    (strokes) => ({ strokes: [strokes] as never }),
    (strokes) => ({ op: "set_strokes", strokes }),
    { id: "s", layer: "rock", asset: "one", count: 1, muted: false },
  ],
  [
    "coat piece",
    (piece) => ({ coat_pieces: [piece] as never }),
    (piece) => ({ op: "set_coat_piece", piece }),
    {
      id: "p",
      name: "Worn",
      note: "",
      coats: [{ id: "c", kind: "ramp", stops }],
      exposed: [{ id: "e", title: "Strength" }],
    },
  ],
  [
    "feature",
    (feature) => ({ features: [feature] as never }),
    (feature) => ({ op: "set_feature", feature }),
    {
      id: "f",
      name: "Track",
      points: [
        [1, 2],
        [3, 4],
        [5, 6],
      ],
    },
  ],
  [
    "step",
    (step) => ({ ground: { ...testState().document.ground, steps: [step] } as never }),
    (step) => ({ op: "set_step", step }),
    { id: "e", kind: "erode", amount: 1, where: [{ id: "w", verb: "take", source: band }] },
  ],
  [
    "target",
    (target) => ({ targets: [target] as never }),
    (target) => ({ op: "set_target", target }),
    {
      id: "t",
      title: "Own",
      required: [{ map: "colour" }],
      neutral: [
        { setting: "Smooth", to: "off" },
        { setting: "Scale", to: "1" },
      ],
    },
  ],
];
const LISTS: [string, string, string, object][] = [
  ["set_reading", "setting", "readings", { id: "r", kind: "slope", name: "Wide", numbers: { width: 9, rise: 2 } }],
  ["set_piece", "piece", "pieces", { id: "p", name: "Worn", note: "", lines: [{ id: "a", verb: "blur", radius: 5 }] }],
  ["set_scatter", "scatter", "scatters", { id: "s", name: "Firs", mask: "scree", density: 1, spread: 0.2 }],
  ["set_layer", "layer", "layers", { id: "l", name: "Rock", strength: 1, dressing: { look: "sand", turn: 30 } }],
  ["set_look", "look", "looks", { id: "k", name: "Turf", size: 3, depth: 0.1 }],
  ["set_sheet", "sheet", "sheets", { id: "t", name: "splat", r: { kind: "weight", strength: 1 }, bits: 8 }],
];
for (const [op, field, list, thing] of LISTS)
  THINGS.push([list, (made) => ({ [list]: [made] }), (made) => ({ op, [field]: made }), thing]);
THINGS.push([
  "items",
  (item) => ({ delivery: { ...testState().document.delivery, items: [item] } as never }),
  (item) => ({ op: "set_items", items: [item] }),
  { of: "height", form: "raw16", file: "high", rows: 9 },
]);

type Path = (string | number)[];
const FIXED = ["id", "kind", "verb", "reading", "layer", "map", "of"];

function leaves(value: unknown, path: Path = []): Path[] {
  if (typeof value !== "object" || value === null) return FIXED.includes(String(path.at(-1))) ? [] : [path];
  return Object.entries(value).flatMap(([key, part]) =>
    leaves(part, [...path, Array.isArray(value) ? Number(key) : key]),
  );
}
const at = (value: unknown, path: Path): unknown =>
  path.reduce((part: unknown, key) => (part as Record<string, unknown>)[key], value);
function changed<T extends object>(value: T, path: Path): T {
  const made = structuredClone(value);
  const was = at(made, path);
  const holder = at(made, path.slice(0, -1)) as Record<string, unknown>;
  holder[path.at(-1) ?? ""] = typeof was === "number" ? was + 7 : typeof was === "boolean" ? !was : `${String(was)}!`;
  return made;
}

describe("any two edits of different parts of a thing", () => {
  it("are tried for every operation that puts things into a list", () => {
    const tried = THINGS.map(([, , set, thing]) => (set(thing) as { op: string }).op);
    const there = Object.entries(places).filter(([, { replaces }]) => replaces?.endsWith("}"));
    expect(new Set(tried)).toEqual(new Set(there.map(([op]) => op)));
  });

  it.each(THINGS)("both stay: %s", (_, held, set, thing) => {
    const start = { ...testState().document, ...held(thing) };
    const paths = leaves(thing);
    expect(paths.length).toBeGreaterThan(2);
    for (const first of paths)
      for (const second of paths) {
        if (first === second) continue;
        const [mine, theirs] = [changed(thing, first), changed(thing, second)];
        const operation = rebased(set(mine) as Operation, start, { ...start, ...held(theirs) });
        expect(operation, `${first.join(".")} and ${second.join(".")}`).toEqual(set(changed(mine, second)));
        // What is shown meanwhile is what will be there.
        expect(replaced(start, set(mine) as Operation)).toEqual({ ...start, ...held(mine) });
      }
  });

  const coat = (list: object[]) => ({ id: "c", kind: "ramp", stops: list });
  const ramp = (base: object[], mine: object[], theirs: object[]) => {
    const on = (list: object[]) => ({ ...testState().document, coats: [coat(list)] }) as unknown as Document;
    const made = rebased({ op: "set_coat", coat: coat(mine) } as unknown as Operation, on(base), on(theirs));
    return (made as unknown as { coat: { stops: object[] } }).coat.stops;
  };
  const [black, grey, white] = stops as [object, object, object];
  const red = { at: 0.2, colour: "#ff0000" };
  const blue = { at: 0.7, colour: "#0000ff" };
  const paler = { at: 1, colour: "#eeeeee" };

  it.each([
    ["one put in, another changed", stops, [black, red, grey, white], [black, grey, paler], [black, red, grey, paler]],
    ["one changed, another put in", stops, [black, grey, paler], [black, red, grey, white], [black, red, grey, paler]],
    ["one taken out, another changed", stops, [black, white], [black, grey, paler], [black, paler]],
    ["one changed, another taken out", stops, [black, grey, paler], [black, white], [black, paler]],
    ["both put one in", stops, [black, red, grey, white], [black, grey, blue, white], [black, red, grey, blue, white]],
    ["both took one out", stops, [grey, white], [black, grey], [grey]],
    [
      "one moved past another",
      stops,
      [grey, { at: 0.6, colour: "#000000" }, white],
      [black, grey, paler],
      [grey, { at: 0.6, colour: "#000000" }, paler],
    ],
    [
      "one moved there, another changed here",
      stops,
      [black, grey, paler],
      [grey, { at: 0.6, colour: "#000000" }, white],
      [grey, { at: 0.6, colour: "#000000" }, paler],
    ],
  ])("of a list without ids: %s", (_, base, mine, theirs, expected) => {
    expect(ramp(base, mine, theirs)).toEqual(expected);
  });

  it("keeps a line that was added while all lines were set", () => {
    const lines = (list: object[]) =>
      ({ ...testState().document, masks: [{ id: "scree", name: "Scree", lines: list }] }) as unknown as Document;
    const [a, b, c] = ["a", "b", "c"].map((id) => ({ id, verb: "blur", radius: 5, muted: false })) as [
      object,
      object,
      object,
    ];
    const muted = { ...a, muted: true };
    const operation = { op: "set_lines", mask: "scree", lines: [muted, b], what: "mute" } as unknown as Operation;
    expect(rebased(operation, lines([a, b]), lines([a, c, { ...b, radius: 9 }]))).toMatchObject({
      lines: [muted, c, { ...b, radius: 9 }],
    });
  });
});
