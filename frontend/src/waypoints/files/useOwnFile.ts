import type { ItemChoice } from "../../api/types";
import type { MenuAction } from "../../kit/MoreMenu";
import { useDocument, useProject } from "../../document/document";

const PLAIN: Omit<ItemChoice, "of"> = {
  deliver: null,
  file: null,
  form: null,
  rows: null,
  cols: null,
  ending: null,
  order: null,
  packed: true,
  blocks: 0,
  black: null,
  white: null,
  turn: "none",
  resampling: "box",
  alpha: true,
  whole: false,
};

/** A map that goes out as a file of its own: whether it does, under which name, and what changes that. */
export function useOwnFile(of: string) {
  const { delivery } = useProject().document;
  const edit = useDocument((store) => store.edit);
  const choice: ItemChoice = delivery.items.find((item) => item.of === of) ?? { of, ...PLAIN };
  const goes = choice.deliver === true;
  const set = (part: Partial<ItemChoice>) => edit([{ op: "set_items", items: [{ ...choice, ...part }] }]);
  const action: MenuAction = goes
    ? { label: "No file of its own any more", act: () => void set({ deliver: null }) }
    : { label: "Deliver as its own file", act: () => void set({ deliver: true }) };
  return { goes, file: choice.file ?? null, action, set };
}
