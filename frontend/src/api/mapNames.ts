// Made of the core's names of maps by `make types`.

/** A map by its name. */
export type MapName =
  | { kind: "reading"; reading: string }
  | { kind: "at"; steps: number; reading: string }
  | { kind: "where"; step: number }
  | { kind: "finding"; code: string }
  | { kind: "picture"; reading: string; otherwise?: true }
  | { kind: "mask"; mask: string; lines?: number }
  | { kind: "band"; mask: string; band: number }
  | { kind: "count"; masks: string[] }
  | { kind: "scatter"; scatter: string }
  | { kind: "final"; mask: string }
  | { kind: "weight"; layer: string }
  | { kind: "strength"; layer: string }
  | { kind: "strongest" }
  | { kind: "layers"; layer?: string }
  | { kind: "colour"; coats?: number }
  | { kind: "colour_middle"; coats?: number }
  | { kind: "colour_far"; coats?: number }
  | { kind: "classes" }
  | { kind: "holes" }
  | { kind: "coat"; coat: string }
  | { kind: "surface"; map: string }
  | { kind: "sheet"; sheet: string }
  | { kind: "channel"; sheet: string; channel: "r" | "g" | "b" | "a" }
  | { kind: "sums" }
  | { kind: "mixed"; how: "sum" | "chain" }
  | { kind: "height" }
  | { kind: "points"; scatter: string }
  | { kind: "look"; look: string; part: string };

declare const isMap: unique symbol;
/** A name as text: made here alone. */
export type MapText = string & { readonly [isMap]: true };

/** The parts of each kind of name, in order; those with a question mark may be left out. */
const PARTS: Record<MapName["kind"], string[]> = {
  reading: ["reading"],
  at: ["steps", "reading"],
  where: ["step"],
  finding: ["code"],
  picture: ["reading", "otherwise?"],
  mask: ["mask", "lines?"],
  band: ["mask", "band"],
  count: ["masks"],
  scatter: ["scatter"],
  final: ["mask"],
  weight: ["layer"],
  strength: ["layer"],
  strongest: [],
  layers: ["layer?"],
  colour: ["coats?"],
  colour_middle: ["coats?"],
  colour_far: ["coats?"],
  classes: [],
  holes: [],
  coat: ["coat"],
  surface: ["map"],
  sheet: ["sheet"],
  channel: ["sheet", "channel"],
  sums: [],
  mixed: ["how"],
  height: [],
  points: ["scatter"],
  look: ["look", "part"],
};
const NUMBERS = ["band", "coats", "lines", "step", "steps"];
const LISTS = ["masks"];

const told = (part: unknown) => (Array.isArray(part) ? part.join("+") : part === true ? "otherwise" : String(part));
const written = (kind: MapName["kind"], parts: unknown[]) =>
  [kind, ...parts.filter((part) => part !== undefined && part !== null).map(told)].join(":") as MapText;

/** The text of a map's name, by its kind. */
export const named = {
  reading: (reading: string) => written("reading", [reading]),
  at: (steps: number, reading: string) => written("at", [steps, reading]),
  where: (step: number) => written("where", [step]),
  finding: (code: string) => written("finding", [code]),
  picture: (reading: string, otherwise?: true) => written("picture", [reading, otherwise]),
  mask: (mask: string, lines?: number) => written("mask", [mask, lines]),
  band: (mask: string, band: number) => written("band", [mask, band]),
  count: (masks: string[]) => written("count", [masks]),
  scatter: (scatter: string) => written("scatter", [scatter]),
  final: (mask: string) => written("final", [mask]),
  weight: (layer: string) => written("weight", [layer]),
  strength: (layer: string) => written("strength", [layer]),
  strongest: () => written("strongest", []),
  layers: (layer?: string) => written("layers", [layer]),
  colour: (coats?: number) => written("colour", [coats]),
  colour_middle: (coats?: number) => written("colour_middle", [coats]),
  colour_far: (coats?: number) => written("colour_far", [coats]),
  classes: () => written("classes", []),
  holes: () => written("holes", []),
  coat: (coat: string) => written("coat", [coat]),
  surface: (map: string) => written("surface", [map]),
  sheet: (sheet: string) => written("sheet", [sheet]),
  channel: (sheet: string, channel: "r" | "g" | "b" | "a") => written("channel", [sheet, channel]),
  sums: () => written("sums", []),
  mixed: (how: "sum" | "chain") => written("mixed", [how]),
  height: () => written("height", []),
  points: (scatter: string) => written("points", [scatter]),
  look: (look: string, part: string) => written("look", [look, part]),
};

/** The name that a text writes, as the core reads it; null for what is none. */
export function readName(text: string): MapName | null {
  const [kind = "", ...values] = text.split(":");
  const parts = PARTS[kind as MapName["kind"]] as string[] | undefined;
  if (!parts || values.length > parts.length || parts.slice(values.length).some((part) => !part.endsWith("?")))
    return null;
  const read = values.map((value, at) => {
    const name = (parts[at] ?? "").replace("?", "");
    const plain = name === "otherwise" ? true : value;
    return [name, NUMBERS.includes(name) ? Number(value) : LISTS.includes(name) ? value.split("+") : plain];
  });
  return { kind, ...Object.fromEntries(read) } as MapName;
}
