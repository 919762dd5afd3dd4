import { useState } from "react";
import { useLineKinds } from "../api/queries";
import type { Line, Mask } from "../api/types";
import { MoreMenu, type MenuAction } from "../parts/MoreMenu";
import { newId, useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { fields, slotOf } from "./lines";
import { NoteDialog } from "./NoteDialog";
import { CopyLineDialog } from "./CopyLineDialog";
import { PieceDialog } from "./PieceDialog";

/** What else can be done with a line. */
export function LineMenu({ mask, line, index }: { mask: Mask; line: Line; index: number }) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const { show, set } = useView();
  const [open, setOpen] = useState<"note" | "copy" | "piece" | null>(null);
  const close = () => setOpen(null);
  const move = (to: number) => void edit([{ op: "move_line", mask: mask.id, line: line.id, to }]);
  const kind = useLineKinds().find((item) => item.verb === line.verb);
  const uses = slotOf(kind, "piece");
  const piece = uses && document.pieces?.find((item) => item.id === fields(line)[uses.name]);
  const apart = () => {
    const ids = (piece?.lines ?? []).map(() => newId("line"));
    void edit([{ op: "take_apart", mask: mask.id, line: line.id, ids }]);
  };
  const own: MenuAction[] = uses
    ? [{ label: "Take the piece apart", act: apart, off: fields(line)["how"] !== "follow" }]
    : [{ label: "Make a piece from here…", act: () => setOpen("piece"), off: kind?.in_piece === false }];
  return (
    <>
      <MoreMenu
        label={`More for line ${index + 1}`}
        actions={[
          {
            label: "Before | after this line",
            act: () => {
              set({ selectedLine: line.id });
              show({ kind: "mask", id: mask.id, style: "wipe", lines: index });
            },
          },
          { label: line.note ? "Change the note…" : "Add a note…", act: () => setOpen("note") },
          { label: "Move up", act: () => move(index - 1), off: index === 0 },
          { label: "Move down", act: () => move(index + 1), off: index === mask.lines.length - 1 },
          {
            label: "Copy below",
            act: () =>
              void edit([{ op: "add_line", mask: mask.id, line: { ...line, id: newId("line") }, at: index + 1 }]),
          },
          { label: "Copy to another mask…", act: () => setOpen("copy"), off: document.masks.length < 2 },
          ...own,
          {
            label: "Delete",
            act: () => void edit([{ op: "delete_line", mask: mask.id, line: line.id }]),
            danger: true,
          },
        ]}
      />
      <NoteDialog
        open={open === "note"}
        note={line.note ?? ""}
        onClose={close}
        onNote={(note) => void edit([{ op: "set_line", mask: mask.id, line: { ...line, note } }])}
      />
      <CopyLineDialog open={open === "copy"} mask={mask} line={line} onClose={close} />
      <PieceDialog open={open === "piece"} mask={mask} first={index} onClose={close} />
    </>
  );
}
