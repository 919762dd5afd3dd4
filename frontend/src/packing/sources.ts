import type { Channel, ChannelSource, ProjectDocument, Reading, Sheet } from "../api/types";
import type { SourceChoice } from "../parts/SourcePicker";
import type { Subject } from "../state/view";
import { outcomes, PAINTED_TITLES } from "../viewport/subjects";

type Painted = Extract<ChannelSource, { kind: "painted" }>;
type Part = Painted["part"];

const PARTS: Record<Part, string> = { r: "red", g: "green", b: "blue" };

/** Every part of a painted map that a channel can carry. */
const PAINTED: [Painted["map"], Part][] = [
  ...(["colour", "colour_far", "normal"] as const).flatMap((map) =>
    (["r", "g", "b"] as const).map((part): [Painted["map"], Part] => [map, part]),
  ),
  ...(["roughness", "occlusion", "curvature", "detail", "strongest"] as const).map((map): [Painted["map"], Part] => [
    map,
    "r",
  ]),
];

function paintedTitle(map: Painted["map"], part: Part): string {
  if (map === "strongest") return "Number of the strongest layer";
  const whole = map === "colour" || map === "colour_far" || map === "normal";
  return `${PAINTED_TITLES[map]}${whole ? `, ${PARTS[part]}` : ""}`;
}

function layerName(document: ProjectDocument, id: string): string {
  const merge = document.merges?.find((item) => item.id === id);
  if (merge) return merge.name;
  const layer = document.layers.find((item) => item.id === id);
  return `${layer?.name ?? "?"}${layer?.muted || !layer?.mask ? " (switched off)" : ""}`;
}

/** "Base weight", not "Base base weight". */
function baseTitle(document: ProjectDocument): string {
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

/** Channels of a sheet, in file order; grey uses R. */
export const LETTERS: Record<Sheet["layout"], Channel[]> = {
  rgba: ["r", "g", "b", "a"],
  rgb: ["r", "g", "b"],
  grey_alpha: ["r", "a"],
  grey: ["r"],
};

/** What a sheet can be: its channels and depth. */
export const LAYOUTS = ([8, 16] as const).flatMap((bits) =>
  (
    [
      ["rgba", `RGBA ${bits}, straight alpha`],
      ["rgb", `RGB ${bits}`],
      ["grey_alpha", `grey and alpha ${bits}`],
      ["grey", `grey ${bits}`],
    ] as [Sheet["layout"], string][]
  ).map(([layout, label]) => ({ value: `${layout}-${bits}`, label, layout, bits })),
);

/** What a channel can carry, with pictures. */
export function choicesOf(
  document: ProjectDocument,
  readings: Reading[],
  bands: Record<string, number>,
): SourceChoice[] {
  const layers = outcomes(document).slice(1);
  const shared = "Weights after sharing";
  return [
    { value: "empty", label: "empty" },
    ...layers.map((layer) => ({
      value: `weight:${layer.id}`,
      label: `${layer.name} weight`,
      group: shared,
      subject: { kind: "weight", id: layer.id, style: "after" } as Subject,
    })),
    {
      value: "base",
      label: baseTitle(document),
      group: shared,
      subject: { kind: "weight", id: "base", style: "after" },
    },
    { value: "rest", label: "Rest of this sheet", group: shared, words: "full scale minus the others" },
    ...layers.map((layer) => ({
      value: `step:${layer.id}`,
      label: `${layer.name} blend step`,
      group: "Blend steps, for grounds laid one over the other",
    })),
    ...document.masks.flatMap((mask) => [
      {
        value: `mask:${mask.id}`,
        label: `${mask.name} mask`,
        group: "Masks",
        subject: { kind: "mask", id: mask.id, style: "alone", lines: null } as Subject,
      },
      ...Array.from({ length: bands[mask.id] ?? 0 }, (_, band) => ({
        value: `band:${mask.id}:${band}`,
        label: `${mask.name}, band ${band + 1}`,
        group: "Masks",
      })),
    ]),
    ...(document.scatters ?? []).map((item) => ({
      value: `scatter:${item.id}`,
      label: `${item.name} density`,
      group: "Scattered",
    })),
    ...PAINTED.map(([map, part]) => ({
      value: `painted:${map}:${part}`,
      label: paintedTitle(map, part),
      group: "Painted",
    })),
    ...readings.map((item) => ({
      value: `reading:${item.name}`,
      label: item.title,
      group: "Readings",
      words: item.good_for,
      subject: { kind: "reading", name: item.name, over: false } as Subject,
    })),
    { value: "constant", label: "The same everywhere", group: "Plain" },
  ];
}

/** What a channel carries, as one of the choices. */
export function valueOf(source: ChannelSource | null | undefined): string {
  if (!source) return "empty";
  switch (source.kind) {
    case "weight":
    case "step":
      return `${source.kind}:${source.layer}`;
    case "mask":
      return `mask:${source.mask}`;
    case "band":
      return `band:${source.mask}:${source.band}`;
    case "scatter":
      return `scatter:${source.scatter}`;
    case "reading":
      return `reading:${source.reading}`;
    case "painted":
      return `painted:${source.map}:${source.part}`;
    case "base":
    case "rest":
    case "constant":
      return source.kind;
  }
}

/** A source of one of the choices that needs nothing measured; null for readings and for empty. */
export function plainSource(value: string): ChannelSource | null {
  const [kind, name = "", part = "r"] = value.split(":");
  const turned = false;
  switch (kind) {
    case "weight":
    case "step":
      return { kind, layer: name, turned };
    case "mask":
      return { kind, mask: name, turned };
    case "band":
      return { kind, mask: name, band: Number(part), turned };
    case "scatter":
      return { kind, scatter: name, turned };
    case "painted":
      return { kind, map: name as Painted["map"], part: part as Part, turned };
    case "base":
    case "rest":
      return { kind, turned };
    case "constant":
      return { kind, value: 1, turned };
    default:
      return null;
  }
}
