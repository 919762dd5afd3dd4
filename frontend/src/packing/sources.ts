import type { Channel, ChannelSource, ProjectDocument, Reading, Sheet } from "../api/types";
import type { Choice } from "../parts/ChoiceToken";
import { outcomes, PAINTED_TITLES } from "../viewport/subjects";

type Painted = Extract<ChannelSource, { kind: "painted" }>;
type Part = NonNullable<Painted["part"]>;

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

/** What a channel carries, in a few words. */
export function sourceTitle(source: ChannelSource, document: ProjectDocument, readings: Reading[]): string {
  switch (source.kind) {
    case "weight": {
      const merge = document.merges?.find((item) => item.id === source.layer);
      if (merge) return `${merge.name} weight`;
      const layer = document.layers.find((item) => item.id === source.layer);
      return `${layer?.name ?? "?"} weight${layer?.muted || !layer?.mask ? " (switched off)" : ""}`;
    }
    case "base":
      return `${document.base.name} base weight`;
    case "rest":
      return "Rest of this sheet";
    case "mask":
      return `${document.masks.find((item) => item.id === source.mask)?.name ?? "?"} mask`;
    case "scatter":
      return `${document.scatters?.find((item) => item.id === source.scatter)?.name ?? "?"} density`;
    case "reading":
      return readings.find((item) => item.name === source.reading)?.title ?? source.reading;
    case "painted":
      return paintedTitle(source.map, source.part ?? "r");
  }
}

/** Channels of a sheet, in file order; grey uses R. */
export const LETTERS: Record<Sheet["layout"], Channel[]> = {
  rgba: ["r", "g", "b", "a"],
  rgb: ["r", "g", "b"],
  grey: ["r"],
};

/** What a channel can carry. */
export function choicesOf(document: ProjectDocument, readings: Reading[]): Choice[] {
  return [
    { value: "empty", label: "empty" },
    ...outcomes(document)
      .slice(1)
      .map((layer) => ({
        value: `weight:${layer.id}`,
        label: `${layer.name} weight`,
        group: "Weights after sharing",
      })),
    { value: "base", label: `${document.base.name} base weight`, group: "Weights after sharing" },
    { value: "rest", label: "Rest of this sheet", group: "Weights after sharing" },
    ...document.masks.map((mask) => ({
      value: `mask:${mask.id}`,
      label: `${mask.name} mask`,
      group: "Masks",
    })),
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
    ...readings.map((item) => ({ value: `reading:${item.name}`, label: item.title, group: "Readings" })),
  ];
}

/** What a channel carries, as one of the choices. */
export function valueOf(source: ChannelSource | null | undefined): string {
  if (!source) return "empty";
  switch (source.kind) {
    case "weight":
      return `weight:${source.layer}`;
    case "mask":
      return `mask:${source.mask}`;
    case "scatter":
      return `scatter:${source.scatter}`;
    case "reading":
      return `reading:${source.reading}`;
    case "painted":
      return `painted:${source.map}:${source.part ?? "r"}`;
    case "base":
    case "rest":
      return source.kind;
  }
}
