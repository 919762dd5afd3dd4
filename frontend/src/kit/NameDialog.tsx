import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from "@mui/material";
import { useState } from "react";

interface NameDialogProps {
  open: boolean;
  title: string;
  suggestion: string;
  action: string;
  onClose: () => void;
  onName: (name: string) => void;
}

export function NameDialog(props: NameDialogProps) {
  return (
    <Dialog open={props.open} onClose={props.onClose} fullWidth maxWidth="xs">
      {props.open && <NameForm {...props} />}
    </Dialog>
  );
}

function NameForm({ title, suggestion, action, onClose, onName }: NameDialogProps) {
  const [name, setName] = useState(suggestion);
  const bad = /[/\\:]/.test(name);
  const good = name.trim().length > 0 && name.trim().length <= 60 && !bad;
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (!good) return;
        onName(name.trim());
        onClose();
      }}
    >
      <DialogTitle>{title}</DialogTitle>
      <DialogContent>
        <TextField
          autoFocus
          fullWidth
          label="Name"
          margin="dense"
          value={name}
          error={bad || name.trim().length > 60}
          helperText={
            bad ? "A name has no slash, backslash or colon." : name.trim().length > 60 ? "At most 60 letters." : " "
          }
          onFocus={(event) => event.target.select()}
          onChange={(event) => setName(event.target.value)}
        />
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Cancel
        </Button>
        <Button type="submit" variant="contained" disabled={!good}>
          {action}
        </Button>
      </DialogActions>
    </form>
  );
}
