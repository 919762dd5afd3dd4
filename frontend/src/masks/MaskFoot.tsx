import type { Mask, ProjectDocument } from "../api/types";
import { WhereItGoes } from "../parts/Card";
import { useProject } from "../state/document";
import { useView } from "../state/view";
import { usersOf } from "./lines";

/** Where the chosen mask goes. */
export function MaskFoot() {
  const { document } = useProject();
  const selected = useView((view) => view.selectedMask);
  const mask = document.masks.find((item) => item.id === selected) ?? document.masks[0];
  return mask ? <WhereItGoes steps={thread(document, mask)} /> : null;
}

/** A mask's way from here: layer, channel, file. */
function thread(document: ProjectDocument, mask: Mask): string[] {
  const steps = [mask.name];
  const layer = document.layers.find((item) => item.mask === mask.id);
  if (layer) steps.push(`layer ${layer.name}`);
  for (const sheet of document.sheets) {
    for (const channel of ["r", "g", "b", "a"] as const) {
      const source = sheet[channel];
      const carries =
        (source?.kind === "weight" && source.layer === layer?.id) ||
        (source?.kind === "mask" && source.mask === mask.id);
      if (carries) return [...steps, `${sheet.name} · ${channel.toUpperCase()}`];
    }
  }
  if (layer) return [...steps, "no channel yet"];
  const used = usersOf(document, mask.id);
  return [...steps, used.length > 0 ? `read by ${used.join(", ")}` : "nowhere yet: make a layer of it"];
}
