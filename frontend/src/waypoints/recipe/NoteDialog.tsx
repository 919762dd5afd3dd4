import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from "@mui/material";
import { useState } from "react";

interface NoteDialogProps {
  open: boolean;
  note: string;
  onClose: () => void;
  onNote: (note: string) => void;
}

/** A few words on why a line is there. */
export function NoteDialog(props: NoteDialogProps) {
  return (
    <Dialog open={props.open} onClose={props.onClose} fullWidth maxWidth="xs">
      {props.open && <NoteForm {...props} />}
    </Dialog>
  );
}

function NoteForm({ note, onClose, onNote }: NoteDialogProps) {
  const [text, setText] = useState(note);
  return (
    <>
      <DialogTitle>Note on this line</DialogTitle>
      <DialogContent>
        <TextField
          autoFocus
          multiline
          fullWidth
          minRows={2}
          label="Note"
          value={text}
          onChange={(event) => setText(event.target.value.slice(0, 400))}
          sx={{ mt: 1 }}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Cancel
        </Button>
        <Button
          variant="contained"
          onClick={() => {
            onNote(text.trim());
            onClose();
          }}
        >
          Keep the note
        </Button>
      </DialogActions>
    </>
  );
}
