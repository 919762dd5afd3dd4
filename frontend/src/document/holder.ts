import { named, type MapText } from "../api/mapNames";
import type { Line, Mask, Operation, Step } from "../api/types";

/** What holds lines: a mask, or a step of preparation that acts only where they say. */
export interface Holder {
  kind: "mask" | "step";
  id: string;
  name: string;
  lines: Line[];
  /** The map that its lines make, for previews. */
  map: MapText;
  /** So many steps of preparation made the ground that it is measured on; null: all of them. */
  steps: number | null;
  /** The mask that it is: it cannot read itself. */
  mask: Mask | null;
  set: (line: Line) => Operation;
  add: (line: Line, at?: number) => Operation;
  remove: (line: string) => Operation;
  move: (line: string, to: number) => Operation;
}

/** A reading on the ground after so many steps of preparation; null: all of them. */
export const readOn = (steps: number | null, reading: string): MapText =>
  steps === null ? named.reading(reading) : named.at(steps, reading);

export function maskHolder(mask: Mask): Holder {
  const of = { mask: mask.id };
  return {
    kind: "mask",
    id: mask.id,
    name: mask.name,
    lines: mask.lines,
    map: named.mask(mask.id),
    steps: null,
    mask,
    set: (line) => ({ op: "set_line", ...of, line }),
    add: (line, at) => ({ op: "add_line", ...of, line, ...(at === undefined ? {} : { at }) }),
    remove: (line) => ({ op: "delete_line", ...of, line }),
    move: (line, to) => ({ op: "move_line", ...of, line, to }),
  };
}

/** ``index``: how many steps lie before it; ``title``: what the step is called. */
export function stepHolder(step: Step, index: number, title: string): Holder {
  const lines = step.where ?? [];
  const with_ = (where: Line[]): Operation => ({ op: "set_step", step: { ...step, where } });
  return {
    kind: "step",
    id: step.id,
    name: `where ${title} acts`,
    lines,
    map: named.where(index),
    steps: index,
    mask: null,
    set: (line) => with_(lines.map((item) => (item.id === line.id ? line : item))),
    add: (line, at = lines.length) => with_([...lines.slice(0, at), line, ...lines.slice(at)]),
    remove: (line) => with_(lines.filter((item) => item.id !== line)),
    move: (line, to) => {
      const others = lines.filter((item) => item.id !== line);
      const moved = lines.filter((item) => item.id === line);
      return with_([...others.slice(0, to), ...moved, ...others.slice(to)]);
    },
  };
}
