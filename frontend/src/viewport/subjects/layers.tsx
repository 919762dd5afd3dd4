import { named, type MapText } from "../../api/mapNames";
import { useProject } from "../../document/document";
import { outcomes, takingPart } from "../../document/outcomes";
import { Segments } from "../../kit/Segments";
import { single } from "../imaging";
import { byIndex, cachedBase, coloured, drown, HEIGHT, laid, overlay, SHADE, tintOf } from "../overlays";
import { rgb } from "../ramps";
import { useView } from "../view";
import { always, weightsOf, type ChoicesProps, type Probed, type SubjectKind } from "./kind";
import type { Of } from "./subject";

type OfLayers = Of<"layers">;
type OfWeight = Of<"weight">;
type OfStrongest = Of<"strongest">;

const solo = (subject: OfLayers) => named.layers(subject.solo ?? undefined);
const probed = (_: unknown, rows: Probed[], state: Parameters<typeof weightsOf>[0]) => [
  ...rows,
  ...weightsOf(state, named.weight),
];

/** All layers in their plain colours, or one of them alone over the base. */
export const layers: SubjectKind<OfLayers> = {
  needs: (subject) => [solo(subject), SHADE, HEIGHT],
  title: (subject, { document }) => {
    const alone = document.layers.find((item) => item.id === subject.solo);
    return alone
      ? [`${alone.name} alone`, "over the base, before sharing"]
      : ["Layers", "each in its own plain colour, after sharing"];
  },
  paint: (subject, { maps, state, options }) => {
    const image = coloured(maps(solo(subject)), subject.over ? maps(SHADE).values : null);
    if (options.water && subject.over) drown(image.data, maps(HEIGHT).values, state.document.ground.water);
    return single(image, null, subject.over);
  },
  exists: (subject, state) => !subject.solo || state.document.layers.some((layer) => layer.id === subject.solo),
  probed,
  wet: ({ over }) => over,
  near: (subject) => !subject.solo,
  Choices: LayerChoices,
};

/** One layer's strength before sharing and its weight after it. */
export const weight: SubjectKind<OfWeight> = {
  needs: ({ id, style }) =>
    style === "wipe"
      ? [named.weight(id), named.strength(id), SHADE, HEIGHT]
      : [style === "before" ? named.strength(id) : named.weight(id), SHADE, HEIGHT],
  title: ({ id, style }, { document }) => {
    const name = outcomes(document).find((item) => item.id === id)?.name;
    const layer = name ?? document.layers.find((item) => item.id === id)?.name ?? "Layer";
    const how = { after: "weight after sharing", before: "before sharing", wipe: "before | after sharing" };
    return [layer, how[style]];
  },
  paint: ({ id, style }, { maps, state, options }) => {
    const over = (name: MapText) =>
      overlay(cachedBase(maps, state, options), maps(name), tintOf(options), options.tint);
    if (style === "before") return laid(over(named.strength(id)), null, options);
    return laid(over(named.weight(id)), null, options, style === "wipe" ? over(named.strength(id)) : null);
  },
  exists: ({ id }, { document }) =>
    id === "base" || [...document.layers, ...(document.merges ?? [])].some((item) => item.id === id),
  probed,
  coverage: ({ id, style }) => (style === "wipe" ? null : style === "before" ? named.strength(id) : named.weight(id)),
  laidOver: always,
  tinted: always,
  wet: always,
  Choices: LayerChoices,
};

/** Which layer is the strongest. */
export const strongest: SubjectKind<OfStrongest> = {
  needs: () => [named.strongest(), SHADE],
  title: () => ["Strongest layer", "each place in the colour of whoever has most of it"],
  paint: (_, { maps, state }) => {
    const colours = takingPart(state.document).map((item) => rgb(item.colour));
    return single(byIndex(maps(named.strongest()), colours, maps(SHADE).values), null, true);
  },
  probed,
  Choices: LayerChoices,
};

/** Layers together, one of them, or who is strongest. */
function LayerChoices({ subject, show }: ChoicesProps<OfLayers | OfWeight | OfStrongest>) {
  const selected = useView((view) => view.selectedLayer);
  const { layers: all } = useProject().document;
  const id = subject.kind === "weight" ? subject.id : (selected ?? all.at(-1)?.id ?? "base");
  const value = subject.kind === "weight" ? subject.style : subject.kind;
  return (
    <Segments
      label="Layers as"
      options={[
        { value: "layers", label: "Layers" },
        { value: "strongest", label: "Strongest" },
        { value: "after", label: "Weight" },
        { value: "wipe", label: "Before | after" },
      ]}
      value={value === "before" ? "wipe" : value}
      onChange={(next) => {
        if (next === "layers") show({ kind: "layers", over: true });
        else if (next === "strongest") show({ kind: "strongest" });
        else show({ kind: "weight", id, style: id === "base" ? "after" : (next as "after" | "wipe") });
      }}
    />
  );
}
