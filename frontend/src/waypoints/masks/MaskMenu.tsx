import { named } from "../../api/mapNames";
import { useState } from "react";
import type { Mask } from "../../api/types";
import { MoreMenu } from "../../kit/MoreMenu";
import { NameDialog } from "../../kit/NameDialog";
import { newId, useDocument, useProject } from "../../document/document";
import { useView } from "../../viewport/view";
import { useOwnFile } from "../files/useOwnFile";
import { LayersOfDialog } from "../layers/LayersOfDialog";
import { DeleteMaskDialog } from "./DeleteMaskDialog";
import { SendOutDialog } from "./SendOutDialog";
import { TextDialog } from "./TextDialog";
import { freeName, usersOf } from "../recipe/lines";

/** A mask as the dialog of layers names it, or the bands that it is cut into. */
function keysOf(mask: string, bands: number | undefined): string[] {
  return bands ? Array.from({ length: bands }, (_, band) => `${mask}:${band}`) : [`${mask}:`];
}

interface MaskMenuProps {
  mask: Mask;
  renaming: boolean;
  onRenaming: (on: boolean) => void;
  onTakeBack: () => void;
  /** Several lines are to be chosen. */
  onSeveral: () => void;
}

/** What can be done with a whole mask. */
export function MaskMenu({ mask, renaming, onRenaming, onTakeBack, onSeveral }: MaskMenuProps) {
  const { document, id, uses, bands } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const own = useOwnFile(named.mask(mask.id));
  const [open, setOpen] = useState<"delete" | "layers" | "text" | "out" | null>(null);
  const at = document.masks.findIndex((item) => item.id === mask.id);
  const move = (to: number) => void edit([{ op: "move_mask", mask: mask.id, to }]);
  const copy = async () => {
    const fresh = newId("mask");
    const name = freeName(
      document.masks.map((item) => item.name),
      `${mask.name} copy`,
    );
    if (await edit([{ op: "copy_mask", mask: mask.id, id: fresh, name }]))
      set({ selectedMask: fresh, selectedLine: null });
  };
  const remove = () => {
    if (usersOf(uses, named.mask(mask.id)).length > 0) setOpen("delete");
    else void edit([{ op: "delete_mask", mask: mask.id, uses: "refuse" }]);
  };
  const out = `/api/projects/${id}/send-out/${mask.id}`;
  return (
    <>
      <MoreMenu
        label={`More for ${mask.name}`}
        actions={[
          { label: "Rename…", act: () => onRenaming(true) },
          { label: "Copy", act: () => void copy() },
          { label: "Move earlier", act: () => move(at - 1), off: at === 0 },
          { label: "Move later", act: () => move(at + 1), off: at === document.masks.length - 1 },
          { label: "Choose several lines", act: onSeveral, off: mask.lines.length < 2 },
          { label: "Recipe as text…", act: () => setOpen("text") },
          own.action,
          { label: "Send out as PNG, 16 bits", act: { href: `${out}?form=png16` } },
          { label: "Send out in another form…", act: () => setOpen("out") },
          {
            label: bands[mask.id] ? "Make layers of its bands…" : "Make a layer of it…",
            act: () => setOpen("layers"),
          },
          { label: "Take the edited one back…", act: onTakeBack },
          { label: "Delete", act: remove, danger: true },
        ]}
      />
      <NameDialog
        open={renaming}
        title={`Rename ${mask.name}`}
        suggestion={mask.name}
        action="Rename"
        onClose={() => onRenaming(false)}
        onName={(name) => void edit([{ op: "rename_mask", mask: mask.id, name }])}
      />
      <LayersOfDialog open={open === "layers"} chosen={keysOf(mask.id, bands[mask.id])} onClose={() => setOpen(null)} />
      <SendOutDialog open={open === "out"} mask={mask} onClose={() => setOpen(null)} />
      <TextDialog open={open === "text"} mask={mask} onClose={() => setOpen(null)} />
      <DeleteMaskDialog open={open === "delete"} mask={mask} onClose={() => setOpen(null)} />
    </>
  );
}
