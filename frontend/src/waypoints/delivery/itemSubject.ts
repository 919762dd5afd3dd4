import { readName } from "../../api/mapNames";
import type { PlanItem, ProjectDocument } from "../../api/types";
import type { Written } from "../../viewport/view";
import type { PaintedMap } from "../../document/sourceTitle";
import type { Subject } from "../../viewport/subjects/subject";

/** What the view shows of something that can be delivered. */
export function subjectOf(of: string, document: ProjectDocument): Subject {
  const name = readName(of);
  switch (name?.kind) {
    case "height":
      return { kind: "ground", style: "heights" };
    case "sheet": {
      const sheet = document.sheets.find((item) => item.id === name.sheet);
      return { kind: "sheet", id: name.sheet, style: sheet?.layout === "grey" ? "together" : "each" };
    }
    case "mask":
      return { kind: "mask", id: name.mask, style: "alone", lines: null };
    case "band":
      return { kind: "band", mask: name.mask, band: name.band };
    case "reading":
      return { kind: "reading", name: name.reading, over: false };
    case "scatter":
    case "points":
      return { kind: "scatter", id: name.scatter };
    case "weight":
      return { kind: "weight", id: name.layer, style: "after" };
    case "coat":
      return { kind: "coat", id: name.coat };
    case "holes": {
      const holes = document.classes.holes;
      return holes ? { kind: "mask", id: holes, style: "alone", lines: null } : { kind: "layers", over: true };
    }
    case "strongest":
      return { kind: "strongest" };
    case "colour":
    case "colour_middle":
    case "colour_far":
      return { kind: "colour", map: name.kind, style: "flat", coats: 0 };
    case "surface":
      return { kind: "colour", map: name.map as PaintedMap, style: "flat", coats: 0 };
    default:
      return { kind: "layers", over: true };
  }
}

const LAYOUT: Record<number, string> = { 1: "grey", 2: "grey and alpha", 3: "RGB", 4: "RGBA" };

/** How a file is written, in a few words. */
export function formWords(item: PlanItem): string[] {
  if (item.kind === "points") return [item.format];
  const many = LAYOUT[item.channels.length] ?? "";
  const words = [item.format];
  if (item.kind === "height") words.push(item.ends);
  else if (item.space === "sRGB") words.push("sRGB");
  else words.push(many);
  return words;
}

/** What is said over the view while a file is looked at as it will be written. */
export function writtenOf(item: PlanItem, trial: Written["trial"]): Written {
  const size = `${item.cols} × ${item.rows}`;
  const pieces = item.files > 1 ? `, ${item.tiles[0]} × ${item.tiles[1]} tiles` : "";
  const words = `${size}${pieces}, ${formWords(item).join(", ")}`;
  // Heights and readings stay in the colours they are known by; a texture by itself is seen where it is worn.
  const coloured = item.kind === "height" || readName(item.of)?.kind === "reading";
  const how =
    item.kind === "points"
      ? "points"
      : item.kind === "look"
        ? `${words} · a texture, seen where it is worn`
        : coloured
          ? `written as ${words} · here in colours`
          : `as it will be written · ${words}`;
  return { of: item.of, name: item.name, how, tiles: [item.tiles[0] ?? 1, item.tiles[1] ?? 1], trial };
}
