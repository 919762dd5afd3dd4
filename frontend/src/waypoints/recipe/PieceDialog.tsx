import { Dialog } from "@mui/material";
import { useLineKinds } from "../../document/queries";
import type { Line, Mask } from "../../api/types";
import { PieceForm } from "../../kit/PieceForm";
import { newId, useDocument, useProject } from "../../document/document";
import { useView } from "../../viewport/view";
import { freeName, numbersOf } from "./lines";

interface PieceDialogProps {
  open: boolean;
  mask: Mask;
  first: number;
  onClose: () => void;
}

/** A few lines under a name, to be used again: which lines, and which of their numbers its users may set. */
export function PieceDialog(props: PieceDialogProps) {
  return (
    <Dialog open={props.open} onClose={props.onClose} fullWidth maxWidth="sm">
      {props.open && <Form {...props} />}
    </Dialog>
  );
}

function Form({ mask, first, onClose }: PieceDialogProps) {
  const { document } = useProject();
  const kinds = useLineKinds();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const outside = new Set(kinds.filter((kind) => !kind.in_piece).map((kind) => kind.verb));
  const stop = mask.lines.findIndex((line, i) => i >= first && outside.has(line.verb));
  const title = (line: Line) => kinds.find((item) => item.verb === line.verb)?.title ?? line.verb;
  const taken = (document.pieces ?? []).map((item) => item.name);
  return (
    <PieceForm
      title="Make a piece"
      suggestion={freeName(taken, `${mask.name} piece`)}
      from={`Lines ${first + 1} to`}
      then="In their place stands one line that uses the piece."
      lastLabel="Last line of the piece"
      parts={mask.lines
        .map((line, i) => ({ value: i, label: `${i + 1} (${title(line).toLowerCase()})` }))
        .slice(first, stop < 0 ? undefined : stop)}
      numbers={(last) =>
        mask.lines.slice(first, last + 1).flatMap((line) =>
          numbersOf(line, kinds).map((item) => ({
            line: line.id,
            field: item.field,
            title: `${title(line)}: ${item.title.toLowerCase()}`,
          })),
        )
      }
      onMake={(name, last, exposed) => {
        const use = newId("line");
        const piece = { id: newId("piece"), name, note: "", lines: mask.lines.slice(first, last + 1), exposed };
        void edit([{ op: "make_piece", mask: mask.id, first, last, line: use, piece }]).then((made) => {
          if (!made) return;
          onClose();
          set({ selectedLine: use });
        });
      }}
      onClose={onClose}
    />
  );
}
