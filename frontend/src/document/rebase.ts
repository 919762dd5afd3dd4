import type { Operation, ProjectState } from "../api/types";
import { idOf, isThing, merged, same } from "./merge";
import table from "./places.json";

type Document = ProjectState["document"];
type Thing = Record<string, unknown>;
type Table = Record<string, { replaces: string | null; changes: string[] }>;

/** What an operation replaces, field by field: all that has to be known of the document that it was made on. */
export type Bases = Record<string, unknown>;

/**
 * Where the value of an operation belongs, as the core declares it: in the `field` of the operation are `things` of a
 * list, a `whole` in the place of another, or nothing: its own `fields` are those of the part.
 */
interface Place {
  how: "things" | "whole" | "fields";
  field: string;
  /** The way from the document to the list or the part that is replaced. */
  way: string[];
}

const NAMED = /^\{(\w+)\}$/;

function placeOf(operation: Operation): Place | null {
  const way = (table as Table)[operation.op]?.replaces?.split("/");
  const last = way?.at(-1);
  if (!way || last === undefined) return null;
  const named = NAMED.exec(last)?.[1];
  if (named !== undefined) return { how: "things", field: named, way: way.slice(0, -1) };
  return { how: last in operation ? "whole" : "fields", field: last, way };
}

/** What stands in a document at the end of a way; things on it are found by the ids that the operation names. */
function standing(document: Document, way: string[], operation: Operation): unknown {
  return way.reduce<unknown>((at, step) => {
    const named = NAMED.exec(step)?.[1];
    if (named === undefined) return isThing(at) ? at[step] : undefined;
    const id = (operation as unknown as Thing)[named];
    return Array.isArray(at) ? at.find((item) => idOf(item) === id) : undefined;
  }, document);
}

const valueOf = (operation: Operation, field: string) => (operation as unknown as Thing)[field];
const twin = (list: unknown, item: unknown): unknown =>
  idOf(item) !== undefined && Array.isArray(list) ? list.find((entry) => idOf(entry) === idOf(item)) : undefined;

export function basesOf(operation: Operation, made: Document): Bases {
  const place = placeOf(operation);
  if (!place || place.how === "fields") return {};
  const there = standing(made, place.way, operation);
  if (place.how === "whole") return there === undefined ? {} : { [place.field]: there };
  const value = valueOf(operation, place.field);
  if (Array.isArray(value)) return { [place.field]: value.map((item) => twin(there, item) ?? null) };
  const base = twin(there, value);
  return base === undefined ? {} : { [place.field]: base };
}

/**
 * An operation that replaces a thing whole, made where `bases` stood, as it is on `now`: what an edit before it changed
 * in the same thing stays changed.
 */
export function rebased(operation: Operation, bases: Bases, now: Document): Operation {
  const place = placeOf(operation);
  if (!place || place.how === "fields") return operation;
  const there = standing(now, place.way, operation);
  const [value, base] = [valueOf(operation, place.field), bases[place.field]];
  // Nobody sends what changes nothing: a step that is not answered yet is taken back.
  const laid = (item: unknown, was: unknown, theirs: unknown): unknown =>
    theirs !== undefined && !same(was, item) ? merged(was, item, theirs) : item;
  if (place.how === "whole") return { ...operation, [place.field]: laid(value, base, there) };
  const each: unknown[] = Array.isArray(base) ? base : [];
  const one = (item: unknown, was: unknown) => laid(item, was ?? {}, twin(there, item));
  const made = Array.isArray(value) ? value.map((item: unknown, at) => one(item, each[at])) : one(value, base);
  return { ...operation, [place.field]: made };
}

/** A document with the things in place that an operation replaces: what is shown while nobody answers. */
export function replaced(document: Document, operation: Operation): Document {
  const place = placeOf(operation);
  if (!place) return document;
  const now = structuredClone(document);
  const there = standing(now, place.how === "whole" ? place.way.slice(0, -1) : place.way, operation);
  const value = valueOf(operation, place.field);
  if (place.how === "whole" && isThing(there)) there[place.field] = value;
  else if (place.how === "fields" && isThing(there)) Object.assign(there, told(operation));
  else if (place.how === "things" && Array.isArray(there))
    for (const item of Array.isArray(value) ? (value as unknown[]) : [value]) {
      const at = there.findIndex((entry) => idOf(item) !== undefined && idOf(entry) === idOf(item));
      if (at >= 0) there[at] = item;
    }
  return now;
}

/** The fields of a part that an operation gives; what it leaves out stays. */
const told = (operation: Operation) =>
  Object.fromEntries(Object.entries(operation).filter(([field, value]) => field !== "op" && value !== null));
