import { itemOf, kindOfThing } from "../../document/things";
import { named } from "../../api/mapNames";
import type { Mask, ProjectState, Use } from "../../api/types";
import { WhereItGoes } from "../../kit/Card";
import { useProject } from "../../document/document";
import { useView } from "../../viewport/view";
import { usersOf } from "../recipe/lines";

/** Where the chosen mask goes. */
export function MaskFoot() {
  const state = useProject();
  const selected = useView((view) => view.selectedMask);
  const { masks } = state.document;
  const mask = masks.find((item) => item.id === selected) ?? masks[0];
  return mask ? <WhereItGoes steps={thread(state, mask)} /> : null;
}

const shortened = (words: string) => words.replace(/^the /, "").replace(/^channel (.) of the sheet (.*)$/, "$2 · $1");

/** A mask's way from here: layer, channel, file. */
function thread({ uses }: ProjectState, mask: Mask): string[] {
  const own = uses.filter((use) => use.used === named.mask(mask.id));
  const layer = own.find((use) => kindOfThing(use.user) === "layer");
  const toSheet = (use: Use) => kindOfThing(use.user) === "sheet";
  const sheet = (layer && uses.find((use) => use.used === layer.user && toSheet(use))) ?? own.find(toSheet);
  const alone = own.some((use) => use.user === itemOf(named.mask(mask.id)));
  const steps = [mask.name, ...(layer ? [shortened(layer.words)] : [])];
  if (alone && !layer && !sheet) return [...steps, "a file of its own"];
  if (sheet) return [...steps, shortened(sheet.words)];
  if (layer) return [...steps, "no channel yet"];
  const used = usersOf(uses, named.mask(mask.id)).map(shortened);
  return [...steps, used.length > 0 ? `read by ${used.join(", ")}` : "nowhere yet: make a layer of it"];
}
