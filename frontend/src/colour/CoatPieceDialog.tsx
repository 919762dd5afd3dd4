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
import { usePainting } from "../api/queries";
import { ChoiceToken } from "../parts/ChoiceToken";
import { freeName } from "../masks/lines";
import { newId, useDocument, useProject } from "../state/document";

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

const MOST_EXPOSED = 16;

function Form({ first, onClose }: CoatPieceDialogProps) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const kinds = usePainting()?.coats ?? [];
  const coats = document.coats ?? [];
  const stop = coats.findIndex((coat, i) => i >= first && coat.kind === "piece");
  const [last, setLast] = useState(stop < 0 ? coats.length - 1 : stop - 1);
  const taken = (document.coat_pieces ?? []).map((piece) => piece.name);
  const [name, setName] = useState(() => freeName(taken, "Coats"));
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const titleOf = (kind: string) => kinds.find((item) => item.kind === kind)?.title ?? kind;
  const numbers = coats.slice(first, last + 1).flatMap((coat) =>
    (kinds.find((item) => item.kind === coat.kind)?.slots ?? [])
      .filter((slot) => slot.kind === "number")
      .map((slot) => ({
        key: `${coat.id}|${slot.name}`,
        line: coat.id,
        field: slot.name,
        title: `${titleOf(coat.kind)}: ${slot.title.toLowerCase()}`.slice(0, 60).replace(/[/\\:]/g, ","),
      })),
  );
  const make = async () => {
    const id = newId("coats");
    const exposed = numbers
      .filter((item) => chosen.has(item.key))
      .map(({ line, field, title }, i) => ({ id: `n${i}`, title, line, field }));
    const piece = { id, name: name.trim(), note: "", coats: coats.slice(first, last + 1), exposed };
    if (await edit([{ op: "make_coat_piece", first, last, coat: newId("coat"), piece }])) onClose();
  };
  return (
    <>
      <DialogTitle>Make a piece of coats</DialogTitle>
      <DialogContent>
        <TextField
          autoFocus
          fullWidth
          label="Name"
          value={name}
          onChange={(event) => setName(event.target.value.slice(0, 60))}
          sx={{ mt: 1, mb: 1.5 }}
        />
        <Typography sx={{ lineHeight: 2 }}>
          From {titleOf(coats[first]?.kind ?? "")} up to{" "}
          <ChoiceToken
            label="Up to"
            value={String(last)}
            choices={coats
              .map((coat, i) => ({ value: String(i), label: `${i + 1} ${titleOf(coat.kind)}` }))
              .slice(first, stop < 0 ? undefined : stop)}
            onChange={(value) => setLast(Number(value))}
          />
          , letting its users set:
        </Typography>
        {numbers.map((item) => (
          <FormControlLabel
            key={item.key}
            sx={{ display: "block" }}
            control={
              <Checkbox
                size="small"
                checked={chosen.has(item.key)}
                disabled={!chosen.has(item.key) && chosen.size >= MOST_EXPOSED}
                onChange={(event) => {
                  const next = new Set(chosen);
                  if (event.target.checked) next.add(item.key);
                  else next.delete(item.key);
                  setChosen(next);
                }}
              />
            }
            label={item.title}
          />
        ))}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Cancel
        </Button>
        <Button
          variant="contained"
          disabled={name.trim() === "" || /[/\\:]/.test(name) || last < first}
          onClick={() => void make()}
        >
          Make the piece
        </Button>
      </DialogActions>
    </>
  );
}
