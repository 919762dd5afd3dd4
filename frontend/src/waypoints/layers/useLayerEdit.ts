import { named, type MapText } from "../../api/mapNames";
import type { Layer } from "../../api/types";
import { useDocument, useProject } from "../../document/document";
import { previews } from "../../viewport/preview";

/** How a layer (or the base, as ``base``) tells of its changes: shown while they move, saved when they are made. */
export function useLayerEdit(id: string) {
  const { id: project, document } = useProject();
  const edit = useDocument((store) => store.edit);
  const layer = document.layers.find((item) => item.id === id);
  const name = layer?.name ?? document.base.name ?? "Base";
  const operation = (part: Partial<Layer>) =>
    layer
      ? ({ op: "set_layer", layer: { ...layer, ...part } } as const)
      : ({ op: "set_base", base: { ...document.base, ...part } } as const);
  return {
    layer,
    name,
    colour: layer?.colour ?? document.base.colour ?? "#808080",
    dressing: (layer ?? document.base).dressing,
    preview: (part: Partial<Layer> | null, map: MapText = named.layers()) => {
      if (part) previews.ask(project, map, [operation(part)]);
      else previews.clear();
    },
    set: async (part: Partial<Layer>, keyStep = false, field = "") => {
      const saved = await edit([operation(part)], {
        merge: keyStep ? `layer ${id}:${field}` : "",
        what: `a change to ${name}`,
      });
      previews.clear();
      return saved;
    },
  };
}
