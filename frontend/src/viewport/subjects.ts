import type { Ground, ProjectDocument, ProjectState, Reading } from "../api/types";
import type { FitStyle, FitSubject, PaintedMap, Subject } from "../state/view";

/** Whether something is laid over the ground as it looks: hill shade, or a picture. */
export function laidOver(subject: Subject): boolean {
  switch (subject.kind) {
    case "ground":
      return subject.style === "shade" || subject.finding !== undefined;
    case "mask":
      return (subject.style === "over" || subject.style === "wipe") && subject.base !== "colour";
    case "band":
    case "final":
    case "together":
    case "scatter":
    case "weight":
      return true;
    default:
      return false;
  }
}

/** The names of the maps that a subject is painted from; `backdrop`: the picture it is laid on, if on one. */
export function needs(subject: Subject, backdrop: string | null = null): string[] {
  return backdrop && laidOver(subject) ? [...own(subject), `picture:${backdrop}`] : own(subject);
}

function own(subject: Subject): string[] {
  const shade = "reading:shade";
  const height = "reading:height";
  switch (subject.kind) {
    case "ground":
      if (subject.finding) return [`finding:${subject.finding}`, height, shade];
      if (subject.style !== "wipe") return [height, shade];
      return [height, shade, `at:${subject.steps ?? 0}:height`, `at:${subject.steps ?? 0}:shade`];
    case "acts":
      return [`where:${subject.step}`, `at:${subject.step}:shade`];
    case "reading":
      return subject.over ? [`reading:${subject.name}`, shade, height] : [`reading:${subject.name}`];
    case "mask":
      if (subject.style === "alone" || subject.style === "bands") return [`mask:${subject.id}`];
      return [
        `mask:${subject.id}`,
        ...(subject.style === "wipe" ? [beforeName(subject)] : []),
        ...(subject.base === "colour" ? ["layers"] : []),
        shade,
        height,
      ];
    case "picture":
      return [
        `picture:${subject.name}`,
        ...(subject.style === "both" ? [`picture:${subject.name}:otherwise`] : []),
        shade,
        height,
      ];
    case "band":
      return [`band:${subject.mask}:${subject.band}`, shade, height];
    case "final":
      return [`final:${subject.mask}`, shade, height];
    case "together":
      return [`count:${subject.masks.join("+")}`, shade, height];
    case "scatter":
      return [`scatter:${subject.id}`, shade, height];
    case "layers":
      return [subject.solo ? `layers:${subject.solo}` : "layers", shade, height];
    case "weight":
      return subject.style === "wipe"
        ? [`weight:${subject.id}`, `strength:${subject.id}`, shade, height]
        : [`${subject.style === "before" ? "strength" : "weight"}:${subject.id}`, shade, height];
    case "strongest":
      return ["strongest", shade];
    case "sums":
      return ["sums"];
    case "mixed":
      return [`mixed:${subject.how}`, shade];
    case "colour":
      if (subject.style === "after") return [`${subject.map}:${subject.coats}`];
      return [
        paintedName(subject.map),
        ...(subject.style === "wipe" ? [`${subject.map}:${subject.coats}`] : []),
        ...(subject.style === "flat" ? [] : [shade]),
      ];
    case "coat":
      return [`coat:${subject.id}`];
    case "sheet":
      return [`sheet:${subject.id}`];
    case "channel":
      return [`channel:${subject.sheet}:${subject.channel}`];
    case "fit":
      return fitParts(subject.style).map((part) => fitName(subject, part));
  }
}

/** Which pictures of a fit check a style is painted from. */
function fitParts(style: FitStyle): FitPart[] {
  if (style === "wipe" || style === "checker") return ["rebuilt", "meant"];
  // Both are coloured between the same ends.
  return style === "rebuilt" || style === "meant" ? [style] : ["difference"];
}

export type FitPart = "rebuilt" | "meant" | "difference";

/** The name of a picture of a fit check among all maps. */
export function fitName(subject: FitSubject, part: FitPart): string {
  return `fit:${subject.number}:${subject.map}-${part}`;
}

/** The name of a colour or surface map among all maps. */
export function paintedName(map: PaintedMap): string {
  return map.startsWith("colour") ? map : `surface:${map}`;
}

export const PAINTED_TITLES: Record<PaintedMap, string> = {
  colour: "Colour",
  colour_far: "Far colour",
  normal: "Normal",
  roughness: "Roughness",
  occlusion: "Occlusion",
  curvature: "Curvature",
  detail: "Height detail",
};

/** What takes part in sharing, as the index map counts it: the base, then layers from the bottom, merged ones as one. */
export function takingPart(document: ProjectDocument): { id: string; name: string; colour: string }[] {
  const found = [{ id: "base", name: document.base.name ?? "Base", colour: document.base.colour ?? "#808080" }];
  for (const layer of document.layers) {
    if (layer.muted || !layer.mask) continue;
    const made = (document.merges ?? []).find((item) => item.layers.includes(layer.id)) ?? layer;
    if (!found.some((item) => item.id === made.id)) found.push(made);
  }
  return found;
}

/** What comes out of sharing: the base, layers that are not merged, merged ones. */
export function outcomes(document: ProjectDocument): { id: string; name: string; colour: string }[] {
  const merged = new Set((document.merges ?? []).flatMap((merge) => merge.layers));
  return [
    { id: "base", name: document.base.name ?? "Base", colour: document.base.colour ?? "" },
    ...document.layers.filter((layer) => !merged.has(layer.id)),
    ...(document.merges ?? []),
  ];
}

/** The mask as it is before the chosen line. */
export function beforeName(subject: Extract<Subject, { kind: "mask" }>): string {
  return `mask:${subject.id}:${subject.lines ?? 0}`;
}

/** Whether everything that a subject shows is still in the project. */
export function exists(subject: Subject, state: ProjectState): boolean {
  const { masks, sheets } = state.document;
  switch (subject.kind) {
    case "acts":
      return subject.step < (state.document.ground.steps ?? []).length;
    case "reading":
    case "picture":
      return state.readings.some((reading) => reading.name === subject.name);
    case "mask":
      return masks.some((mask) => mask.id === subject.id);
    case "band":
    case "final":
      return masks.some((mask) => mask.id === subject.mask);
    case "together":
      return subject.masks.length > 1 && subject.masks.every((id) => masks.some((mask) => mask.id === id));
    case "scatter":
      return (state.document.scatters ?? []).some((item) => item.id === subject.id);
    case "layers":
      return !subject.solo || state.document.layers.some((layer) => layer.id === subject.solo);
    case "weight": {
      const { layers, merges } = state.document;
      return subject.id === "base" || [...layers, ...(merges ?? [])].some((item) => item.id === subject.id);
    }
    case "coat":
      return (state.document.coats ?? []).some((coat) => coat.id === subject.id);
    case "sheet":
      return sheets.some((sheet) => sheet.id === subject.id);
    case "channel":
      return sheets.some((sheet) => sheet.id === subject.sheet);
    default:
      return true;
  }
}

/** What a subject is called, and how it is seen; `backdrop`: the picture it is laid on, if on one. */
export function title(
  subject: Subject,
  state: ProjectState,
  readings: Reading[],
  backdrop: string | null = null,
): [string, string] {
  const [name, how] = ownTitle(subject, state, readings);
  if (!backdrop || !laidOver(subject)) return [name, how];
  const under = readings.find((item) => item.name === backdrop)?.title ?? "a picture";
  return [name, how.includes("hill shade") ? how.replace("hill shade", under) : `${how}, over ${under}`];
}

function ownTitle(subject: Subject, state: ProjectState, readings: Reading[]): [string, string] {
  const { document } = state;
  switch (subject.kind) {
    case "ground": {
      if (subject.finding) return ["Ground", "where the finding is"];
      if (subject.style === "wipe") return ["Ground", "before | after the preparation"];
      if (subject.style === "shade") return ["Ground", "hill shade"];
      if (document.ground.steps?.some((step) => !step.muted)) return ["Ground", "heights, prepared"];
      const [low, high] = fileEnds(document.ground);
      return ["Ground", `heights · ${trim(low)} to ${trim(high)} m`];
    }
    case "acts":
      return ["Where it acts", `step ${subject.step + 1}, over the ground before it`];
    case "reading": {
      const reading = readings.find((item) => item.name === subject.name);
      const size = reading?.params.find((param) => ["width", "radius", "size"].includes(param.name));
      const over = size && typeof size.value === "number" ? ` · ${size.title.toLowerCase()} ${trim(size.value)} m` : "";
      return [reading?.title ?? subject.name, `${unitWord(reading)}${over}`];
    }
    case "mask": {
      const mask = document.masks.find((item) => item.id === subject.id);
      const how = {
        over: subject.base === "colour" ? "over the layers' colours" : "over hill shade",
        alone: "alone, black to white",
        bands: "as bands of strength",
        wipe: "before | after the chosen line",
      };
      return [mask?.name ?? "Mask", how[subject.style]];
    }
    case "picture": {
      const how = {
        colour: "in true colour",
        over: "half through, over hill shade",
        both: "its samples the other way | as they are taken",
      };
      return [readings.find((item) => item.name === subject.name)?.title ?? "Picture", how[subject.style]];
    }
    case "band": {
      const mask = document.masks.find((item) => item.id === subject.mask);
      return [`${mask?.name ?? "Mask"}, band ${subject.band + 1}`, "over hill shade"];
    }
    case "final": {
      const mask = document.masks.find((item) => item.id === subject.mask);
      return [mask?.name ?? "Mask", "where the delivered size differs from the draft"];
    }
    case "together": {
      const names = subject.masks.map((id) => document.masks.find((item) => item.id === id)?.name ?? "?");
      return [names.join(" + "), "gaps in amber, overlaps in red"];
    }
    case "scatter": {
      const item = document.scatters?.find((one) => one.id === subject.id);
      return [item?.name ?? "Scatter", "scattered, over hill shade"];
    }
    case "layers": {
      const alone = document.layers.find((item) => item.id === subject.solo);
      return alone
        ? [`${alone.name} alone`, "over the base, before sharing"]
        : ["Layers", "each in its own plain colour, after sharing"];
    }
    case "weight": {
      const name = outcomes(document).find((item) => item.id === subject.id)?.name;
      const layer = name ?? document.layers.find((item) => item.id === subject.id)?.name ?? "Layer";
      const how = { after: "weight after sharing", before: "before sharing", wipe: "before | after sharing" };
      return [layer, how[subject.style]];
    }
    case "strongest":
      return ["Strongest layer", "each place in the colour of whoever has most of it"];
    case "sums":
      return ["Sum over all sheets", "white where weights add up exactly, darker where they do not"];
    case "mixed":
      return [
        "Grounds",
        subject.how === "chain"
          ? "of the sheets, each laid over what is below it"
          : "of the sheets, added up by weight",
      ];
    case "colour": {
      const name = PAINTED_TITLES[subject.map];
      if (subject.style === "wipe")
        return [name, subject.coats === 0 ? "bare ground | all coats" : `the lowest ${subject.coats} | all coats`];
      return [name, subject.style === "lit" ? "lit by hill shade" : "as it is written"];
    }
    case "coat":
      return ["Coat", "how strongly it lies"];
    case "sheet": {
      const sheet = document.sheets.find((item) => item.id === subject.id);
      return [
        sheet?.name ?? "Sheet",
        subject.style === "each" ? "each channel alone" : "R, G and B together, alpha left out",
      ];
    }
    case "channel": {
      const sheet = document.sheets.find((item) => item.id === subject.sheet);
      return [`${sheet?.name ?? "Sheet"} · ${subject.channel.toUpperCase()}`, "one channel, 0 to 255"];
    }
    case "fit": {
      const how = {
        rebuilt: "as the files hold it",
        meant: "as it was meant",
        difference: subject.exact ? "rebuilt − meant: every sample is as meant" : "rebuilt − meant",
        wipe: "meant | rebuilt",
        checker: "meant and rebuilt in squares",
      };
      const letter = subject.channel === null ? "" : ` · ${subject.channels[subject.channel]?.toUpperCase() ?? ""}`;
      return [`${subject.title}${letter}`, `${how[subject.style]} · delivery ${subject.number}`];
    }
  }
}

function unitWord(reading: Reading | undefined): string {
  const words: Record<string, string> = {
    "°": "degrees",
    m: "metres",
    "m²": "square metres",
    "1/m": "per metre",
    "×": "times as long",
  };
  if (!reading) return "";
  const [low, high] = [reading.low, reading.high];
  return words[reading.unit] ?? (low !== null && high !== null ? `${low} to ${high}` : "no unit");
}

export function trim(value: number, decimals = 2): string {
  const text = value.toFixed(decimals);
  const short = text.includes(".") ? text.replace(/\.?0+$/, "") : text;
  const [whole = "", rest] = short.split(".");
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, "\u202f");
  return rest ? `${grouped}.${rest}` : grouped;
}

/** Metres at the file's lowest and highest sample, before any preparation. */
export function fileEnds(ground: Ground): [number, number] {
  const low = ground.stored_low;
  const high = ground.stored_high;
  if (ground.heights === "points" && ground.points) {
    const { first: a, second: b } = ground.points;
    const per = (b.metres - a.metres) / (b.stored - a.stored || 1);
    return [a.metres + (low - a.stored) * per, a.metres + (high - a.stored) * per];
  }
  return ground.heights === "stored" ? [low, high] : [ground.low ?? 0, ground.high ?? 0];
}
