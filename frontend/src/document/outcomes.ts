import type { ProjectDocument } from "../api/types";

interface Outcome {
  id: string;
  name: string;
  colour: string;
}

/** What takes part in sharing, as the index map counts it: the base, then layers from the bottom, merged ones as one. */
export function takingPart(document: ProjectDocument): Outcome[] {
  const found = [{ id: "base", name: document.base.name ?? "Base", colour: document.base.colour ?? "#808080" }];
  for (const layer of document.layers) {
    if (layer.muted || !layer.mask) continue;
    const made = (document.merges ?? []).find((item) => item.layers.includes(layer.id)) ?? layer;
    if (!found.some((item) => item.id === made.id)) found.push(made);
  }
  return found;
}

/** What comes out of sharing: the base, layers that are not merged, merged ones. */
export function outcomes(document: ProjectDocument): Outcome[] {
  const merged = new Set((document.merges ?? []).flatMap((merge) => merge.layers));
  return [
    { id: "base", name: document.base.name ?? "Base", colour: document.base.colour ?? "" },
    ...document.layers.filter((layer) => !merged.has(layer.id)),
    ...(document.merges ?? []),
  ];
}
