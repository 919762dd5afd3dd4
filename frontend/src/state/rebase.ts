import type { Operation, ProjectState } from "../api/types";

type Document = ProjectState["document"];
type Thing = Record<string, unknown>;

const isThing = (value: unknown): value is Thing =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a ?? null) === JSON.stringify(b ?? null);
const idOf = (value: unknown) => (isThing(value) ? (value["id"] ?? value["of"]) : undefined);
/** What a thing is, not how it is: things that differ here have no fields in common that mean the same. */
const WHAT = ["kind", "verb", "reading"];

/** Where things of an operation stand; what is not told here stands in the document by its own name. */
function listOf(document: Document, field: string, operation: Thing): unknown {
  if (field === "line" || field === "lines") {
    return document.masks?.find((mask) => mask.id === operation["mask"])?.lines;
  }
  if (field === "step") return document.ground.steps;
  if (field === "setting") return document.readings;
  if (field === "items") return document.delivery.items;
  return (document as unknown as Thing)[`${field}s`];
}

/** What a value of an operation replaces. */
function held(document: Document, field: string, operation: Thing, value: unknown): unknown {
  const own = (document as unknown as Thing)[field];
  if (isThing(own)) return own;
  const list = listOf(document, field, operation);
  const id = idOf(value);
  return Array.isArray(list) && id !== undefined ? list.find((item) => idOf(item) === id) : undefined;
}

/** What was changed on both sides; where both changed the same, `mine`. */
function merged(base: unknown, mine: unknown, theirs: unknown): unknown {
  if (same(base, theirs)) return mine;
  if (same(base, mine)) return theirs;
  if (Array.isArray(base) && Array.isArray(mine) && Array.isArray(theirs)) {
    const ids = [base, mine, theirs].map((list: unknown[]) => JSON.stringify(list.map((item) => idOf(item) ?? null)));
    if (base.some((item) => idOf(item) === undefined) || new Set(ids).size > 1) return mine;
    return base.map((item, at) => merged(item, mine[at], theirs[at]));
  }
  if (!isThing(base) || !isThing(mine) || !isThing(theirs)) return mine;
  if (WHAT.some((field) => !same(base[field], mine[field]) || !same(base[field], theirs[field]))) return mine;
  const both = [...new Set([...Object.keys(mine), ...Object.keys(theirs)])].map(
    (field) => [field, merged(base[field], mine[field], theirs[field])] as const,
  );
  return Object.fromEntries(both.filter(([, value]) => value !== undefined));
}

/**
 * An operation that replaces a thing whole, made while `made` was on the screen, as it is on `now`: what an edit before
 * it changed in the same thing stays changed.
 */
export function rebased(operation: Operation, made: Document, now: Document): Operation {
  if (made === now || !operation.op.startsWith("set_")) return operation;
  const told = operation as unknown as Thing;
  const laid = (field: string, value: unknown): unknown => {
    if (Array.isArray(value)) return value.map((item) => (isThing(item) ? laid(field, item) : item));
    const theirs = isThing(value) ? held(now, field, told, value) : undefined;
    const base = held(made, field, told, value) ?? {};
    // Nobody sends what changes nothing: a step that is not answered yet is taken back.
    return isThing(theirs) && !same(base, value) ? merged(base, value, theirs) : value;
  };
  return Object.fromEntries(Object.entries(told).map(([field, value]) => [field, laid(field, value)])) as Operation;
}
