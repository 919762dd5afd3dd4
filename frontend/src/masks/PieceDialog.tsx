import {
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useLineKinds } from "../api/queries";
import type { Line, Mask } from "../api/types";
import { ChoiceToken } from "../parts/ChoiceToken";
import { newId, useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
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
      {props.open && <PieceForm {...props} />}
    </Dialog>
  );
}

function PieceForm({ mask, first, onClose }: PieceDialogProps) {
  const { document } = useProject();
  const kinds = useLineKinds();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const outside = new Set(kinds.filter((kind) => !kind.in_piece).map((kind) => kind.verb));
  const stop = mask.lines.findIndex((line, i) => i >= first && outside.has(line.verb));
  const furthest = stop < 0 ? mask.lines.length - 1 : stop - 1;
  const [last, setLast] = useState(furthest);
  const [name, setName] = useState(() =>
    freeName(
      (document.pieces ?? []).map((item) => item.name),
      `${mask.name} piece`,
    ),
  );
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const title = (line: Line) => kinds.find((item) => item.verb === line.verb)?.title ?? line.verb;
  const numbers = mask.lines.slice(first, last + 1).flatMap((line) =>
    numbersOf(line, kinds).map((item) => ({
      key: `${line.id}|${item.field}`,
      line: line.id,
      field: item.field,
      title: `${title(line)}: ${item.title.toLowerCase()}`,
    })),
  );
  const make = async () => {
    const id = newId("piece");
    const use = newId("line");
    const exposed = numbers
      .filter((item) => chosen.has(item.key))
      .slice(0, 16)
      .map((item, i) => ({
        id: `n${i}`,
        title: item.title.slice(0, 60).replace(/[:/\\]/g, ","),
        line: item.line,
        field: item.field,
      }));
    const piece = { id, name: name.trim(), note: "", lines: mask.lines.slice(first, last + 1), exposed };
    onClose();
    if (await edit([{ op: "make_piece", mask: mask.id, first, last, line: use, piece }])) set({ selectedLine: use });
  };
  const toggle = (key: string) => {
    const next = new Set(chosen);
    if (!next.delete(key)) next.add(key);
    setChosen(next);
  };
  return (
    <>
      <DialogTitle>Make a piece</DialogTitle>
      <DialogContent>
        <TextField
          autoFocus
          fullWidth
          label="Name"
          value={name}
          onChange={(event) => setName(event.target.value.slice(0, 60))}
          sx={{ my: 1 }}
        />
        <Typography component="div" sx={{ fontSize: 13.5 }}>
          Lines {first + 1} to{" "}
          <ChoiceToken
            label="Last line of the piece"
            value={String(last)}
            choices={mask.lines
              .map((line, i) => ({ value: String(i), label: `${i + 1} (${title(line).toLowerCase()})` }))
              .slice(first, furthest + 1)}
            onChange={(value) => setLast(Number(value))}
          />
          . In their place stands one line that uses the piece.
        </Typography>
        <Typography variant="h3" sx={{ mt: 2, mb: 0.5 }}>
          Numbers that can be set where it is used
        </Typography>
        {numbers.map((item) => (
          <FormControlLabel
            key={item.key}
            control={<Checkbox size="small" checked={chosen.has(item.key)} onChange={() => toggle(item.key)} />}
            label={item.title}
            sx={{ display: "flex" }}
          />
        ))}
        {numbers.length === 0 && <Typography color="textSecondary">These lines have no numbers.</Typography>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Cancel
        </Button>
        <Button
          variant="contained"
          disabled={name.trim() === "" || /[/\\:]/.test(name) || furthest < first}
          onClick={() => void make()}
        >
          Make the piece
        </Button>
      </DialogActions>
    </>
  );
}
