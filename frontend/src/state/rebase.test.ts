import { describe, expect, it } from "vitest";
import type { Operation, ProjectState } from "../api/types";
import { testState } from "../testing/state";
import { rebased } from "./rebase";

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
    expect(rebased(add, made, document(take({ ...band, fade_low: 8 })))).toBe(add);
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
