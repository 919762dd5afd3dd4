import type { ChannelSource, ProjectDocument, Reading } from "../api/types";

type Painted = Extract<ChannelSource, { kind: "painted" }>;
type Part = Painted["part"];

export const PAINTED_MAPS = [
  "colour",
  "colour_middle",
  "colour_far",
  "normal",
  "roughness",
  "occlusion",
  "curvature",
  "detail",
] as const;
export type PaintedMap = (typeof PAINTED_MAPS)[number];

export const PAINTED_TITLES: Record<PaintedMap, string> = {
  colour: "Colour",
  colour_middle: "Middle colour",
  colour_far: "Far colour",
  normal: "Normal",
  roughness: "Roughness",
  occlusion: "Occlusion",
  curvature: "Curvature",
  detail: "Height detail",
};

/** Colour by distance, apart from maps of the surface. */
export function isColourMap(map: PaintedMap): map is "colour" | "colour_middle" | "colour_far" {
  return map === "colour" || map === "colour_middle" || map === "colour_far";
}

const PARTS: Record<Part, string> = { r: "red", g: "green", b: "blue" };

export function paintedTitle(map: Painted["map"], part: Part): string {
  if (map === "strongest") return "Number of the strongest layer";
  const whole = isColourMap(map) || map === "normal";
  return `${PAINTED_TITLES[map]}${whole ? `, ${PARTS[part]}` : ""}`;
}

function layerName(document: ProjectDocument, id: string): string {
  const merge = document.merges?.find((item) => item.id === id);
  if (merge) return merge.name;
  const layer = document.layers.find((item) => item.id === id);
  return `${layer?.name ?? "?"}${layer?.muted || !layer?.mask ? " (switched off)" : ""}`;
}

/** "Base weight", not "Base base weight". */
export function baseTitle(document: ProjectDocument): string {
  const name = document.base.name ?? "Base";
  return name.toLowerCase() === "base" ? "Base weight" : `${name} base weight`;
}

/** What a channel carries, in a few words. */
export function sourceTitle(source: ChannelSource, document: ProjectDocument, readings: Reading[]): string {
  switch (source.kind) {
    case "weight":
      return `${layerName(document, source.layer)} weight`;
    case "step":
      return `${layerName(document, source.layer)} blend step`;
    case "base":
      return baseTitle(document);
    case "rest":
      return "Rest of this sheet";
    case "constant":
      return `${Math.round(source.value * 100)} % everywhere`;
    case "mask":
      return `${document.masks.find((item) => item.id === source.mask)?.name ?? "?"} mask`;
    case "band":
      return `${document.masks.find((item) => item.id === source.mask)?.name ?? "?"}, band ${source.band + 1}`;
    case "scatter":
      return `${document.scatters?.find((item) => item.id === source.scatter)?.name ?? "?"} density`;
    case "reading":
      return readings.find((item) => item.name === source.reading)?.title ?? source.reading;
    case "painted":
      return paintedTitle(source.map, source.part);
  }
}
