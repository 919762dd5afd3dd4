import {
  Button,
  Checkbox,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  TextField,
  Typography,
} from "@mui/material";
import { useState, type ReactNode } from "react";
import type { Schemas } from "../api/client";
import { ChoiceToken } from "./ChoiceToken";

const MOST_EXPOSED = 16;

/** A number that whoever uses the piece may set: `field` of the part with the id `line`. */
export interface PieceNumber {
  line: string;
  field: string;
  title: string;
}

interface PieceFormProps {
  title: string;
  suggestion: string;
  /** What comes before and after the choice of the last part. */
  from: ReactNode;
  then: string;
  /** What the choice of the last part is called, and the parts it may be. */
  lastLabel: string;
  parts: { value: number; label: string }[];
  numbers: (last: number) => PieceNumber[];
  onMake: (name: string, last: number, exposed: Schemas["Exposed"][]) => void;
  onClose: () => void;
}

/** A run of parts under a name: how far it goes, and which of its numbers its users may set. */
export function PieceForm(props: PieceFormProps) {
  const { title, suggestion, from, then, lastLabel, parts, onMake, onClose } = props;
  const [last, setLast] = useState(parts.at(-1)?.value ?? -1);
  const [name, setName] = useState(suggestion);
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const keyOf = (item: PieceNumber) => `${item.line}|${item.field}`;
  const numbers = props.numbers(last);
  const exposed = numbers.filter((item) => chosen.has(keyOf(item)));
  const toggle = (key: string) => {
    const next = new Set(chosen);
    if (!next.delete(key)) next.add(key);
    setChosen(next);
  };
  const make = () => {
    const told = exposed.map(({ line, field, title: of }, i) => ({
      id: `n${i}`,
      title: of.slice(0, 60).replace(/[:/\\]/g, ","),
      line,
      field,
    }));
    onMake(name.trim(), last, told);
  };
  return (
    <>
      <DialogTitle>{title}</DialogTitle>
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
          {from}{" "}
          <ChoiceToken
            label={lastLabel}
            value={String(last)}
            choices={parts.map((part) => ({ value: String(part.value), label: part.label }))}
            onChange={(value) => setLast(Number(value))}
          />
          . {then}
        </Typography>
        <Typography variant="h3" sx={{ mt: 2, mb: 0.5 }}>
          Numbers that can be set where it is used
        </Typography>
        {numbers.map((item) => (
          <FormControlLabel
            key={keyOf(item)}
            control={
              <Checkbox
                size="small"
                checked={chosen.has(keyOf(item))}
                disabled={!chosen.has(keyOf(item)) && exposed.length >= MOST_EXPOSED}
                onChange={() => toggle(keyOf(item))}
              />
            }
            label={item.title}
            sx={{ display: "flex" }}
          />
        ))}
        {numbers.length === 0 && <Typography color="textSecondary">There are no numbers here.</Typography>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Cancel
        </Button>
        <Button
          variant="contained"
          disabled={name.trim() === "" || /[/\\:]/.test(name) || parts.length === 0}
          onClick={make}
        >
          Make the piece
        </Button>
      </DialogActions>
    </>
  );
}
