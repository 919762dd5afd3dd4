import type { ProjectState, Reading } from "../api/types";
import type { Subject } from "../state/view";

/** The names of the maps that a subject is painted from. */
export function needs(subject: Subject, state: ProjectState): string[] {
  const shade = "reading:shade";
  const height = "reading:height";
  switch (subject.kind) {
    case "ground":
      return [height, shade];
    case "reading":
      return subject.over ? [`reading:${subject.name}`, shade, height] : [`reading:${subject.name}`];
    case "mask":
      if (subject.style === "alone") return [`mask:${subject.id}`];
      return [`mask:${subject.id}`, ...(subject.style === "wipe" ? [beforeName(subject)] : []), shade, height];
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

/** The mask as it is before the chosen line. */
export function beforeName(subject: Extract<Subject, { kind: "mask" }>): string {
  return `mask:${subject.id}:${subject.lines ?? 0}`;
}

/** Whether everything that a subject shows is still in the project. */
export function exists(subject: Subject, state: ProjectState): boolean {
  const { masks, sheets } = state.document;
  switch (subject.kind) {
    case "mask":
      return masks.some((mask) => mask.id === subject.id);
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
      const { heights, low, high, stored_low, stored_high } = document.ground;
      const [a, b] = heights === "stored" ? [stored_low, stored_high] : [low, high];
      const how = heights === "stored" ? "heights as stored" : "heights from low to high";
      return ["Ground", subject.style === "shade" ? "hill shade" : `${how} · ${trim(a)} to ${trim(b)} m`];
    }
    case "reading": {
      const reading = readings.find((item) => item.name === subject.name);
      const width =
        subject.name === "slope" ? ` · over ${trim(document.ground.slope_width ?? document.ground.spacing_x)} m` : "";
      return [reading?.title ?? subject.name, `${unitWord(reading?.unit ?? "")}${width}`];
    }
    case "mask": {
      const mask = document.masks.find((item) => item.id === subject.id);
      const how = {
        over: "over hill shade",
        alone: "alone, black to white",
        wipe: "before | after the chosen line",
      };
      return [mask?.name ?? "Mask", how[subject.style]];
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

function unitWord(unit: string): string {
  return { "°": "degrees", m: "metres", "m²": "square metres drained" }[unit] ?? "light, 1 to 255";
}

export function trim(value: number, decimals = 2): string {
  const text = value.toFixed(decimals);
  const short = text.includes(".") ? text.replace(/\.?0+$/, "") : text;
  const [whole = "", rest] = short.split(".");
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, "\u202f");
  return rest ? `${grouped}.${rest}` : grouped;
}
