import { useState } from "react";
import { useLineKinds } from "../../document/queries";
import type { Line } from "../../api/types";
import { MoreMenu, type MenuAction } from "../../kit/MoreMenu";
import { newId, useDocument, useProject } from "../../document/document";
import { useViewParts } from "../../viewport/view";
import type { Holder } from "../../document/holder";
import { fields, slotOf } from "./lines";
import { NoteDialog } from "./NoteDialog";
import { CopyLineDialog } from "./CopyLineDialog";
import { PieceDialog } from "./PieceDialog";

/** What else can be done with a line. */
export function LineMenu({ holder, line, index }: { holder: Holder; line: Line; index: number }) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const { show, set } = useViewParts("show", "set");
  const [open, setOpen] = useState<"note" | "copy" | "piece" | null>(null);
  const close = () => setOpen(null);
  const { mask } = holder;
  const move = (to: number) => void edit([holder.move(line.id, to)]);
  const kind = useLineKinds().find((item) => item.verb === line.verb);
  const uses = slotOf(kind, "piece");
  const piece = uses && document.pieces?.find((item) => item.id === fields(line)[uses.name]);
  const apart = () => {
    const ids = (piece?.lines ?? []).map(() => newId("line"));
    if (mask) void edit([{ op: "take_apart", mask: mask.id, line: line.id, ids }]);
  };
  const own: MenuAction[] = !mask
    ? []
    : uses
      ? [{ label: "Take the piece apart", act: apart, off: fields(line)["how"] !== "follow" }]
      : [{ label: "Make a piece from here…", act: () => setOpen("piece"), off: kind?.in_piece === false }];
  return (
    <>
      <MoreMenu
        label={`More for line ${index + 1}`}
        actions={[
          ...(mask
            ? [
                {
                  label: "Before | after this line",
                  act: () => {
                    set({ selectedLine: line.id });
                    show({ kind: "mask" as const, id: mask.id, style: "wipe" as const, lines: index });
                  },
                },
              ]
            : []),
          { label: line.note ? "Change the note…" : "Add a note…", act: () => setOpen("note") },
          { label: "Move up", act: () => move(index - 1), off: index === 0 },
          { label: "Move down", act: () => move(index + 1), off: index === holder.lines.length - 1 },
          {
            label: "Copy below",
            act: () => void edit([holder.add({ ...line, id: newId("line") }, index + 1)]),
          },
          { label: "Copy to another mask…", act: () => setOpen("copy"), off: document.masks.length < (mask ? 2 : 1) },
          ...own,
          {
            label: "Delete",
            act: () => void edit([holder.remove(line.id)]),
            danger: true,
          },
        ]}
      />
      <NoteDialog
        open={open === "note"}
        note={line.note ?? ""}
        onClose={close}
        onNote={(note) => void edit([holder.set({ ...line, note })])}
      />
      <CopyLineDialog open={open === "copy"} mask={mask} line={line} onClose={close} />
      {mask && <PieceDialog open={open === "piece"} mask={mask} first={index} onClose={close} />}
    </>
  );
}
