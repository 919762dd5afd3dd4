import type { Line, LineKind, ProjectDocument, Reading, Slot, Source, Stats, Use } from "../../api/types";
import { newId } from "../../document/document";
import { firstBand } from "./band";

/** The fields of a line by name: what they are is told by the slots of its kind. */
export function fields(line: Line): Record<string, unknown> {
  return line as unknown as Record<string, unknown>;
}

export function withFields(line: Line, changes: Record<string, unknown>): Line {
  return { ...line, ...changes } as Line;
}

/** The slot of a kind that is edited in a certain way, and the line's field that it stands for. */
export function slotOf(kind: LineKind | undefined, edited: Slot["kind"]): Slot | undefined {
  return kind?.slots.find((slot) => slot.kind === edited);
}

function started(slot: Slot, reading: Reading | undefined, stats: Stats | undefined): Source | null {
  if (slot.start === "full") return { kind: "plain", value: 1 };
  if (!reading || slot.start === "") return null;
  return slot.start === "band" ? firstBand(reading, stats) : mapped(reading, stats);
}

/** What a new line reads first; of what the recipe does not read yet (`taken`), whatever is quick to measure. */
export function firstReading(readings: Reading[], taken: Set<string> = new Set()): Reading | undefined {
  const usual = readings.find((item) => item.first) ?? readings[0];
  if (!usual || !taken.has(usual.name)) return usual;
  const other = readings.find((item) => !taken.has(item.name) && !item.whole_ground && !item.wraps && !item.own);
  return other ?? usual;
}

/** The readings that some lines read. */
export function readBy(lines: Line[]): Set<string> {
  const sources = lines.flatMap((line) => Object.values(fields(line)));
  return new Set(sources.flatMap((value) => (isRead(value) ? [value.reading] : [])));
}

function isRead(value: unknown): value is { reading: string } {
  return typeof value === "object" && value !== null && "reading" in value;
}

/** A new line of a kind, with numbers that suit the ground; ``stats``: of the reading it reads first. */
export function newLine(
  kind: LineKind,
  readings: Reading[],
  stats: Stats | undefined,
  document: ProjectDocument,
  first = firstReading(readings),
): Line {
  const line: Record<string, unknown> = { ...kind.fresh, id: newId("line") };
  for (const slot of kind.slots) {
    if (slot.kind === "source") line[slot.name] = started(slot, first, stats);
    if (slot.kind === "piece") line[slot.name] = document.pieces?.[0]?.id ?? "";
  }
  return line as unknown as Line;
}

/** Whether there is anything in the project that a line of this kind could use. */
export function isPossible(kind: LineKind, document: ProjectDocument): boolean {
  return kind.offered && (!slotOf(kind, "piece") || (document.pieces ?? []).length > 0);
}

/** Inner edges of so many even bands. */
export function evenEdges(count: number): number[] {
  return Array.from({ length: count - 1 }, (_, k) => Number(((k + 1) / count).toFixed(3)));
}

/** A reading as a mapping: black at its lowest, white at its highest. */
export function mapped(reading: Reading, stats: Stats | undefined): Source {
  const log = reading.scale === "log";
  const low = reading.low ?? stats?.low ?? (log ? 1 : 0);
  const measured = stats?.high ?? (log ? 1e6 : 1);
  const high = reading.open_end ? measured : (reading.high ?? measured);
  const tidy = (value: number) => Number(value.toPrecision(3));
  return {
    kind: "reading",
    reading: reading.name,
    black: log ? Math.max(tidy(low), 1e-3) : tidy(low),
    white: tidy(high) === tidy(low) ? tidy(low) + 1 : tidy(high),
  };
}

/** A number of a line or of what it reads, by the path a piece exposes it under. */
export interface Numbered {
  field: string;
  title: string;
  value: number;
  slot: Slot | null;
}

const SOURCE_NUMBERS: Record<string, [string, string][]> = {
  band: [
    ["low", "lower edge"],
    ["high", "upper edge"],
    ["fade_low", "lower fade"],
    ["fade_high", "upper fade"],
  ],
  reading: [
    ["black", "black"],
    ["white", "white"],
  ],
  plain: [["value", "value"]],
};

/** Every number of a line that a piece could let its users set. */
export function numbersOf(line: Line, kinds: LineKind[]): Numbered[] {
  const kind = kinds.find((item) => item.verb === line.verb);
  const values = fields(line);
  const own: Numbered[] = (kind?.slots ?? [])
    .filter((slot) => slot.kind === "number")
    .map((slot) => ({ field: slot.name, title: slot.title, value: Number(values[slot.name]), slot }));
  const source = values["source"] as Record<string, unknown> | undefined;
  const read = source ? (SOURCE_NUMBERS[String(source["kind"])] ?? []) : [];
  return [
    ...own,
    ...read.map(([name, title]) => ({ field: `source.${name}`, title, value: Number(source?.[name]), slot: null })),
  ];
}

export function freeName(taken: string[], stem: string): string {
  const names = new Set(taken.map((name) => name.toLowerCase()));
  if (!names.has(stem.toLowerCase())) return stem;
  for (let i = 2; ; i++) if (!names.has(`${stem} ${i}`.toLowerCase())) return `${stem} ${i}`;
}

/** Who uses a thing of the project, in words, each once. */
export function usersOf(uses: Use[], name: string): string[] {
  return [...new Set(uses.filter((use) => use.used === name && use.user !== name).map((use) => use.words))];
}
