type Thing = Record<string, unknown>;
type Merge = (base: unknown, lead: unknown, follow: unknown) => unknown;

export const isThing = (value: unknown): value is Thing =>
  typeof value === "object" && value !== null && !Array.isArray(value);
export const same = (a: unknown, b: unknown) => a === b || JSON.stringify(a ?? null) === JSON.stringify(b ?? null);
export const idOf = (value: unknown) => (isThing(value) ? (value["id"] ?? value["of"]) : undefined);
/** What a thing is, not how it is: things that differ here have no fields in common that mean the same. */
const WHAT = ["kind", "verb", "reading"];

/** What was changed on both sides; where both changed the same, `mine`. */
export function merged(base: unknown, mine: unknown, theirs: unknown): unknown {
  if (same(base, theirs)) return mine;
  if (same(base, mine)) return theirs;
  if (Array.isArray(base) && Array.isArray(mine) && Array.isArray(theirs)) return mergedLists(base, mine, theirs);
  if (!isThing(base) || !isThing(mine) || !isThing(theirs)) return mine;
  if (WHAT.some((field) => !same(base[field], mine[field]) || !same(base[field], theirs[field]))) return mine;
  const both = [...new Set([...Object.keys(mine), ...Object.keys(theirs)])].map(
    (field) => [field, merged(base[field], mine[field], theirs[field])] as const,
  );
  return Object.fromEntries(both.filter(([, value]) => value !== undefined));
}

/** Entry by entry; what one side put in, took out or moved stays so, with what the other changed in the rest. */
function mergedLists(base: unknown[], mine: unknown[], theirs: unknown[]): unknown[] {
  const [left, right] = [placed(base, mine), placed(base, theirs)];
  const moved = (at: number[], list: unknown[]) => list.length !== base.length || at.some((to, from) => to !== from);
  // Whose order it is: theirs only where mine is as it was.
  if (moved(left, mine) || !moved(right, theirs)) return woven(base, mine, left, theirs, right, merged);
  return woven(base, theirs, right, mine, left, (b, lead, follow) => merged(b, follow, lead));
}

/** Where every entry of `base` is in `list`: by its id, by what it is, by its place; −1 where it is gone. */
function placed(base: unknown[], list: unknown[]): number[] {
  const at = base.map(() => -1);
  const free = new Set(list.keys());
  const take = (from: number, to: number) => {
    at[from] = to;
    free.delete(to);
  };
  if ([...base, ...list].every((entry) => idOf(entry) !== undefined)) {
    base.forEach((entry, from) => {
      const to = list.findIndex((other, i) => free.has(i) && idOf(other) === idOf(entry));
      if (to >= 0) take(from, to);
    });
    return at;
  }
  if (base.length === list.length) {
    base.forEach((entry, from) => same(entry, list[from]) && take(from, from));
    // Plain numbers have only their places: the second is not the first because it is as large.
    if (base.some((entry) => typeof entry !== "object")) return base.map((_, from) => from);
  }
  const there = new Map<string, number[]>();
  for (const to of free) {
    const told = JSON.stringify(list[to] ?? null);
    there.set(told, [...(there.get(told) ?? []), to]);
  }
  base.forEach((entry, from) => {
    const to = at[from] === -1 ? there.get(JSON.stringify(entry ?? null))?.shift() : undefined;
    if (to !== undefined) take(from, to);
  });
  // As many that are no more as are new: each became another.
  const lost = [...base.keys()].filter((from) => at[from] === -1);
  const fresh = [...free].sort((a, b) => a - b);
  if (lost.length === fresh.length) lost.forEach((from, i) => take(from, fresh[i] ?? -1));
  return at;
}

/** The entries of `lead` in their order, with what `follow` changed, put in and took out. */
function woven(
  base: unknown[],
  lead: unknown[],
  leadAt: number[],
  follow: unknown[],
  followAt: number[],
  merge: Merge,
): unknown[] {
  const out: unknown[] = [];
  const fresh = (after: number) => {
    // What follow put in behind an entry of its own, up to the next one that was there before.
    for (let i = after + 1; i < follow.length && !followAt.includes(i); i++)
      if (!lead.some((entry) => same(entry, follow[i]))) out.push(follow[i]);
  };
  fresh(-1);
  lead.forEach((entry, i) => {
    const from = leadAt.indexOf(i);
    const to = from < 0 ? undefined : followAt[from];
    if (to === undefined) out.push(entry);
    else if (to >= 0) out.push(merge(base[from], entry, follow[to]));
    // What follow took out stays only where lead changed it.
    else if (!same(base[from], entry)) out.push(entry);
    if (to !== undefined && to >= 0) fresh(to);
  });
  return out;
}
