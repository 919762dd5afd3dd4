import { named, readName } from "../../api/mapNames";
import type { Channel, ChannelSource, ProjectDocument, Reading, Sheet } from "../../api/types";
import type { SourceChoice } from "../../viewport/SourcePicker";
import type { Subject } from "../../viewport/subjects/subject";
import { outcomes } from "../../document/outcomes";
import { baseTitle, paintedTitle } from "../../document/sourceTitle";

type Painted = Extract<ChannelSource, { kind: "painted" }>;
type Part = Painted["part"];

/** Every part of a painted map that a channel can carry. */
const PAINTED: [Painted["map"], Part][] = [
  ...(["colour", "colour_middle", "colour_far", "normal"] as const).flatMap((map) =>
    (["r", "g", "b"] as const).map((part): [Painted["map"], Part] => [map, part]),
  ),
  ...(["roughness", "occlusion", "curvature", "detail", "strongest"] as const).map((map): [Painted["map"], Part] => [
    map,
    "r",
  ]),
];

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
      value: named.weight(layer.id),
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
        value: named.mask(mask.id),
        label: `${mask.name} mask`,
        group: "Masks",
        subject: { kind: "mask", id: mask.id, style: "alone", lines: null } as Subject,
      },
      ...Array.from({ length: bands[mask.id] ?? 0 }, (_, band) => ({
        value: named.band(mask.id, band),
        label: `${mask.name}, band ${band + 1}`,
        group: "Masks",
      })),
    ]),
    ...(document.scatters ?? []).map((item) => ({
      value: named.scatter(item.id),
      label: `${item.name} density`,
      group: "Scattered",
    })),
    ...PAINTED.map(([map, part]) => ({
      value: `painted:${map}:${part}`,
      label: paintedTitle(map, part),
      group: "Painted",
    })),
    ...readings.map((item) => ({
      value: named.reading(item.name),
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
      return named.weight(source.layer);
    case "step":
      return `step:${source.layer}`;
    case "mask":
      return named.mask(source.mask);
    case "band":
      return named.band(source.mask, source.band);
    case "scatter":
      return named.scatter(source.scatter);
    case "reading":
      return named.reading(source.reading);
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
  const turned = false;
  const chosen = readName(value);
  switch (chosen?.kind) {
    case "weight":
      return { kind: "weight", layer: chosen.layer, turned };
    case "mask":
      return { kind: "mask", mask: chosen.mask, turned };
    case "band":
      return { kind: "band", mask: chosen.mask, band: chosen.band, turned };
    case "scatter":
      return { kind: "scatter", scatter: chosen.scatter, turned };
  }
  // What is no map of its own: a blend step, one part of a painted map, the same everywhere.
  const [kind, name = "", part = "r"] = value.split(":");
  switch (kind) {
    case "step":
      return { kind, layer: name, turned };
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
