import type { Line, LineParam, Mask, ProjectDocument, Reading, Source, Stats, Verb, VerbInfo } from "../api/types";
import { newId } from "../state/document";
import { firstBand } from "./band";

/** A part of a sentence: plain words, a word in bold, or the place of a number. */
export type Part = { kind: "text" | "bold" | "token"; text: string };

/** "**Fray** its edges by {reach}" as parts. */
export function parts(sentence: string): Part[] {
  return sentence
    .split(/(\*\*[^*]+\*\*|\{[a-z_]+\})/)
    .filter((text) => text !== "")
    .map((text): Part => {
      if (text.startsWith("**")) return { kind: "bold", text: text.slice(2, -2) };
      if (text.startsWith("{")) return { kind: "token", text: text.slice(1, -1) };
      return { kind: "text", text };
    });
}

const BRINGS: Verb[] = [
  "take",
  "add",
  "strongest",
  "difference",
  "blend",
  "leave_out",
  "keep_within",
  "weakest",
  "multiply",
];

export function isCombining(verb: Verb): boolean {
  return BRINGS.includes(verb);
}

/** A new line of a kind, with numbers that suit the ground; what it reads first is slope. */
export function newLine(
  info: VerbInfo,
  readings: Reading[],
  slope: Stats | undefined,
  document: ProjectDocument,
): Line {
  const numbers = Object.fromEntries(info.params.map((param) => [param.name, param.value]));
  const reading = readings.find((item) => item.name === "slope");
  const line: Record<string, unknown> = { id: newId("line"), verb: info.verb, muted: false, note: "", ...numbers };
  if (isCombining(info.verb as Verb) && reading) line["source"] = firstBand(reading, slope);
  if (info.verb === "blend" && reading) {
    line["source"] = { kind: "plain", value: 1 };
    line["by"] = mapped(reading, slope);
  }
  if (info.verb === "multiply" && reading) line["source"] = mapped(reading, slope);
  if (info.verb === "piece") {
    line["piece"] = document.pieces?.[0]?.id ?? "";
    line["how"] = "follow";
    line["numbers"] = {};
  }
  if (info.verb === "bend")
    line["points"] = [
      [0, 0],
      [0.35, 0.2],
      [0.65, 0.8],
      [1, 1],
    ];
  return line as unknown as Line;
}

/** A reading as a mapping: black at its lowest, white at its highest. */
export function mapped(reading: Reading, stats: Stats | undefined): Source {
  const log = reading.scale === "log";
  const low = reading.low ?? stats?.low ?? (log ? 1 : 0);
  const high =
    reading.kind === "slope" ? Math.min(stats?.high ?? 60, 90) : (reading.high ?? stats?.high ?? (log ? 1e6 : 1));
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
  param: LineParam | null;
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
export function numbersOf(line: Line, verbs: VerbInfo[]): Numbered[] {
  const info = verbs.find((item) => item.verb === line.verb);
  const values = line as unknown as Record<string, unknown>;
  const own: Numbered[] = (info?.params ?? [])
    .filter((param) => param.choices.length === 0)
    .map((param) => ({ field: param.name, title: param.title, value: Number(values[param.name]), param }));
  const source = "source" in line ? (line.source as unknown as Record<string, unknown>) : null;
  const read = source ? (SOURCE_NUMBERS[String(source["kind"])] ?? []) : [];
  return [
    ...own,
    ...read.map(([name, title]) => ({ field: `source.${name}`, title, value: Number(source?.[name]), param: null })),
  ];
}

export function freeName(taken: string[], stem: string): string {
  const names = new Set(taken.map((name) => name.toLowerCase()));
  if (!names.has(stem.toLowerCase())) return stem;
  for (let i = 2; ; i++) if (!names.has(`${stem} ${i}`.toLowerCase())) return `${stem} ${i}`;
}

/** The last line that cuts a mask into bands, or null. */
export function cutOf(mask: Mask): Extract<Line, { verb: "cut" }> | null {
  const cuts = mask.lines?.filter((line) => line.verb === "cut" && !line.muted) ?? [];
  const last = cuts.at(-1);
  return last?.verb === "cut" ? last : null;
}

/** Who uses a mask, in words. */
export function usersOf(document: ProjectDocument, mask: string): string[] {
  const reads = (lines: Line[] | undefined) =>
    (lines ?? []).some((line) =>
      (["source", "by", "steered", "only"] as const).some((name) => {
        const source = (line as unknown as Record<string, Source | undefined>)[name];
        return typeof source === "object" && source?.kind === "mask" && source.mask === mask;
      }),
    );
  const used = document.masks
    .filter((item) => item.id !== mask && reads(item.lines))
    .map((item) => `mask ${item.name}`);
  used.push(...(document.pieces ?? []).filter((item) => reads(item.lines)).map((item) => `piece ${item.name}`));
  used.push(...document.layers.filter((item) => item.mask === mask).map((item) => `layer ${item.name}`));
  for (const sheet of document.sheets)
    for (const channel of ["r", "g", "b", "a"] as const) {
      const source = sheet[channel];
      if (source?.kind === "mask" && source.mask === mask) used.push(`${sheet.name} · ${channel.toUpperCase()}`);
    }
  for (const item of document.scatters ?? [])
    if (item.mask === mask || item.keep_out?.includes(mask) || item.size_by === `mask:${mask}`)
      used.push(`scattered ${item.name}`);
  for (const item of document.readings ?? [])
    if (Object.values(item.numbers ?? {}).includes(`mask:${mask}`)) used.push(`reading ${item.name ?? item.kind}`);
  return used;
}
