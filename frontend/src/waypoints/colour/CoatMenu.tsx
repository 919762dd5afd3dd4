import { named } from "../../api/mapNames";
import { useState } from "react";
import type { Coat } from "../../api/types";
import { MoreMenu, type MenuAction } from "../../kit/MoreMenu";
import { NoteDialog } from "../recipe/NoteDialog";
import { newId, useDocument, useProject } from "../../document/document";
import { useViewParts } from "../../viewport/view";
import { useOwnFile } from "../files/useOwnFile";
import { SEEN } from "./seen";
import { CoatPieceDialog } from "./CoatPieceDialog";
import { withFields } from "./useCoatEdit";

/** What else can be done with a coat. */
export function CoatMenu({ coat, index, title }: { coat: Coat; index: number; title: string }) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const { show } = useViewParts("show");
  const [open, setOpen] = useState<"note" | "piece" | null>(null);
  const own = useOwnFile(named.coat(coat.id));
  const coats = document.coats ?? [];
  const move = (to: number) => void edit([{ op: "move_coat", coat: coat.id, to }]);
  const piece = coat.kind === "piece" ? document.coat_pieces?.find((item) => item.id === coat.piece) : undefined;
  const apart = () => {
    const ids = (piece?.coats ?? []).map(() => newId("coat"));
    void edit([{ op: "take_coat_apart", coat: coat.id, ids }]);
  };
  const pieces: MenuAction[] =
    coat.kind === "piece"
      ? [{ label: "Take the piece apart", act: apart, off: !piece }]
      : [{ label: "Make a piece from here up…", act: () => setOpen("piece") }];
  return (
    <>
      <MoreMenu
        label={`More for ${title}`}
        actions={[
          {
            label: "Before | after from here up",
            act: () => show({ kind: "colour", map: "colour", style: "wipe", coats: index }),
          },
          { label: "Where it lies", act: () => show({ kind: "coat", id: coat.id }) },
          ...SEEN.filter((item) => item.value !== coat.seen).map((item) => ({
            label: item.label,
            act: () => void edit([{ op: "set_coat", coat: withFields(coat, { seen: item.value }) }]),
          })),
          own.action,
          { label: coat.note ? "Change the note…" : "Add a note…", act: () => setOpen("note") },
          { label: "Move up", act: () => move(index + 1), off: index === coats.length - 1 },
          { label: "Move down", act: () => move(index - 1), off: index === 0 },
          {
            label: "Copy above",
            act: () => void edit([{ op: "add_coat", coat: { ...coat, id: newId("coat") }, at: index + 1 }]),
          },
          ...pieces,
          { label: "Delete", act: () => void edit([{ op: "delete_coat", coat: coat.id }]), danger: true },
        ]}
      />
      <NoteDialog
        open={open === "note"}
        note={coat.note ?? ""}
        onClose={() => setOpen(null)}
        onNote={(note) => void edit([{ op: "set_coat", coat: withFields(coat, { note }) }])}
      />
      <CoatPieceDialog open={open === "piece"} first={index} onClose={() => setOpen(null)} />
    </>
  );
}
