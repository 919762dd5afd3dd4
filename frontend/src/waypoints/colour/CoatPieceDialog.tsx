import { Dialog } from "@mui/material";
import { usePainting } from "../../document/queries";
import { freeName } from "../recipe/lines";
import { PieceForm } from "../../kit/PieceForm";
import { newId, useDocument, useProject } from "../../document/document";
import { useView } from "../../viewport/view";

interface CoatPieceDialogProps {
  open: boolean;
  first: number;
  onClose: () => void;
}

/** A run of coats under a name: how far up it goes, and which of its numbers its users may set. */
export function CoatPieceDialog(props: CoatPieceDialogProps) {
  return (
    <Dialog open={props.open} onClose={props.onClose} fullWidth maxWidth="sm">
      {props.open && <Form {...props} />}
    </Dialog>
  );
}

function Form({ first, onClose }: CoatPieceDialogProps) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const kinds = usePainting()?.coats ?? [];
  const coats = document.coats ?? [];
  const stop = coats.findIndex((coat, i) => i >= first && coat.kind === "piece");
  const kindOf = (name: string) => kinds.find((item) => item.kind === name);
  const titleOf = (name: string) => kindOf(name)?.title ?? name;
  const taken = (document.coat_pieces ?? []).map((piece) => piece.name);
  return (
    <PieceForm
      title="Make a piece of coats"
      suggestion={freeName(taken, "Coats")}
      from={`From ${first + 1} (${titleOf(coats[first]?.kind ?? "").toLowerCase()}) up to`}
      then="In their place lies one coat that uses the piece."
      lastLabel="Up to"
      parts={coats
        .map((coat, i) => ({ value: i, label: `${i + 1} (${titleOf(coat.kind).toLowerCase()})` }))
        .slice(first, stop < 0 ? undefined : stop)}
      numbers={(last) =>
        coats.slice(first, last + 1).flatMap((coat) =>
          (kindOf(coat.kind)?.slots ?? [])
            .filter((slot) => slot.kind === "number")
            .map((slot) => ({
              line: coat.id,
              field: slot.name,
              title: `${titleOf(coat.kind)}: ${slot.title.toLowerCase()}`,
            })),
        )
      }
      onMake={(name, last, exposed) => {
        const use = newId("coat");
        const piece = { id: newId("coats"), name, note: "", coats: coats.slice(first, last + 1), exposed };
        void edit([{ op: "make_coat_piece", first, last, coat: use, piece }]).then((made) => {
          if (!made) return;
          onClose();
          set({ selectedCoat: use });
        });
      }}
      onClose={onClose}
    />
  );
}
