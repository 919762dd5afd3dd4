import type { Line } from "../../api/types";

/** Lines with some of them taken up or down by one place, together and in their order. */
export function movedBy(lines: Line[], chosen: Set<string>, way: -1 | 1): Line[] {
  const made = [...lines];
  const order = way < 0 ? made.keys() : [...made.keys()].reverse();
  for (const at of [...order]) {
    const line = made[at];
    const other = made[at + way];
    if (!line || !other || !chosen.has(line.id) || chosen.has(other.id)) continue;
    made[at] = other;
    made[at + way] = line;
  }
  return made;
}

export function muted(lines: Line[], chosen: Set<string>, on: boolean): Line[] {
  return lines.map((line) => (chosen.has(line.id) ? { ...line, muted: on } : line));
}

/** Lines with copies of some of them behind the last of those. */
export function copied(lines: Line[], chosen: Set<string>, newId: () => string): Line[] {
  const last = lines.findLastIndex((line) => chosen.has(line.id));
  const copies = lines.filter((line) => chosen.has(line.id)).map((line) => ({ ...line, id: newId() }));
  return [...lines.slice(0, last + 1), ...copies, ...lines.slice(last + 1)];
}

export function without(lines: Line[], chosen: Set<string>): Line[] {
  return lines.filter((line) => !chosen.has(line.id));
}
