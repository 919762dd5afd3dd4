import type { Operation, ProjectState } from "../api/types";
import { idOf, isThing, merged, same } from "./merge";

type Document = ProjectState["document"];
type Thing = Record<string, unknown>;

/** Lists of the document that an operation has things of, where they are not called as the operation calls them. */
const LISTS: Record<string, (document: Document, operation: Thing) => unknown> = {
  line: linesOf,
  lines: linesOf,
  step: (document) => document.ground.steps,
  setting: (document) => document.readings,
  items: (document) => document.delivery.items,
  strokes: (document) => document.strokes,
  piece: (document, operation) => (operation["op"] === "set_coat_piece" ? document.coat_pieces : document.pieces),
};

function linesOf(document: Document, operation: Thing): unknown {
  return document.masks.find((mask) => mask.id === operation["mask"])?.lines;
}

function listOf(document: Document, field: string, operation: Thing): unknown[] | undefined {
  const list = LISTS[field]?.(document, operation) ?? (document as unknown as Thing)[`${field}s`];
  return Array.isArray(list) ? (list as unknown[]) : undefined;
}

/** What a value of an operation replaces. */
function held(document: Document, field: string, operation: Thing, value: unknown): unknown {
  const own = (document as unknown as Thing)[field];
  if (isThing(own)) return own;
  const id = idOf(value);
  return id === undefined ? undefined : listOf(document, field, operation)?.find((item) => idOf(item) === id);
}

/** What an operation replaces, field by field: all that has to be known of the document that it was made on. */
export type Bases = Record<string, unknown>;

/** Whether it puts a whole list in the place of another, not single things into it. */
const isWhole = (operation: Operation, field: string) => operation.op === "set_lines" && field === "lines";

export function basesOf(operation: Operation, made: Document): Bases {
  if (!operation.op.startsWith("set_")) return {};
  const told = operation as unknown as Thing;
  const found = Object.entries(told).map(([field, value]) => {
    if (isWhole(operation, field)) return [field, listOf(made, field, told) ?? []] as const;
    const base = Array.isArray(value)
      ? value.map((item) => held(made, field, told, item) ?? null)
      : isThing(value)
        ? held(made, field, told, value)
        : undefined;
    return [field, base] as const;
  });
  return Object.fromEntries(found.filter(([, base]) => base !== undefined));
}

/**
 * An operation that replaces a thing whole, made where `bases` stood, as it is on `now`: what an edit before it changed
 * in the same thing stays changed.
 */
export function rebased(operation: Operation, bases: Bases, now: Document): Operation {
  if (!operation.op.startsWith("set_")) return operation;
  const told = operation as unknown as Thing;
  const laid = (field: string, value: unknown, base: unknown): unknown => {
    const theirs = isThing(value) ? held(now, field, told, value) : undefined;
    // Nobody sends what changes nothing: a step that is not answered yet is taken back.
    return isThing(theirs) && !same(base ?? {}, value) ? merged(base ?? {}, value, theirs) : value;
  };
  const all = Object.entries(told).map(([field, value]) => {
    const base = bases[field];
    if (isWhole(operation, field)) {
      const theirs = listOf(now, field, told);
      return [field, theirs && !same(base, value) ? merged(base, value, theirs) : value];
    }
    if (!Array.isArray(value)) return [field, laid(field, value, base)];
    const each: unknown[] = Array.isArray(base) ? base : [];
    return [field, value.map((item: unknown, at) => laid(field, item, each[at]))];
  });
  return Object.fromEntries(all) as Operation;
}

/** A document with the things in place that an operation replaces: what is shown while nobody answers. */
export function replaced(document: Document, operation: Operation): Document {
  if (!operation.op.startsWith("set_")) return document;
  const told = operation as unknown as Thing;
  const now = structuredClone(document) as unknown as Document & Thing;
  for (const [field, value] of Object.entries(told)) {
    if (isThing(now[field])) Object.assign(now[field], value);
    const list = listOf(now, field, told);
    if (!list) continue;
    if (isWhole(operation, field)) list.splice(0, list.length, ...(value as unknown[]));
    else
      for (const item of Array.isArray(value) ? (value as unknown[]) : [value]) {
        const at = list.findIndex((entry) => idOf(item) !== undefined && idOf(entry) === idOf(item));
        if (at >= 0) list[at] = item;
      }
  }
  if (operation.op === "set_ground")
    Object.assign(
      now.ground,
      Object.fromEntries(Object.entries(told).filter(([field, value]) => field !== "op" && value !== null)),
    );
  return now;
}
