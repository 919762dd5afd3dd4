import type { Ground, ProjectState, Reading } from "../api/types";
import type { Subject } from "../state/view";

/** The names of the maps that a subject is painted from. */
export function needs(subject: Subject, state: ProjectState): string[] {
  const shade = "reading:shade";
  const height = "reading:height";
  switch (subject.kind) {
    case "ground":
      if (subject.finding) return [`finding:${subject.finding}`, height, shade];
      if (subject.style !== "wipe") return [height, shade];
      return [height, shade, `at:${subject.steps ?? 0}:height`, `at:${subject.steps ?? 0}:shade`];
    case "reading":
      return subject.over ? [`reading:${subject.name}`, shade, height] : [`reading:${subject.name}`];
    case "mask":
      if (subject.style === "alone" || subject.style === "bands") return [`mask:${subject.id}`];
      return [
        `mask:${subject.id}`,
        ...(subject.style === "wipe" ? [beforeName(subject)] : []),
        ...(subject.base === "colour" ? layerNames(state) : []),
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
      return ["weight:base", ...state.document.layers.map((layer) => `weight:${layer.id}`), shade, height];
    case "sheet":
      return [`sheet:${subject.id}`];
    case "channel":
      return [`channel:${subject.sheet}:${subject.channel}`];
    case "fit":
      return [`fit:${subject.number}:${subject.style}`];
  }
}

function layerNames(state: ProjectState): string[] {
  return ["weight:base", ...state.document.layers.map((layer) => `weight:${layer.id}`)];
}

/** The mask as it is before the chosen line. */
export function beforeName(subject: Extract<Subject, { kind: "mask" }>): string {
  return `mask:${subject.id}:${subject.lines ?? 0}`;
}

/** Whether everything that a subject shows is still in the project. */
export function exists(subject: Subject, state: ProjectState): boolean {
  const { masks, sheets } = state.document;
  switch (subject.kind) {
    case "reading":
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
    case "sheet":
      return sheets.some((sheet) => sheet.id === subject.id);
    case "channel":
      return sheets.some((sheet) => sheet.id === subject.sheet);
    default:
      return true;
  }
}

export function title(subject: Subject, state: ProjectState, readings: Reading[]): [string, string] {
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
    case "layers":
      return ["Layers", "each in its own plain colour, after sharing"];
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
    case "fit":
      return subject.style === "difference"
        ? ["Height, rebuilt − project", `delivery ${subject.number}`]
        : ["Height, rebuilt from the files", `delivery ${subject.number}`];
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
