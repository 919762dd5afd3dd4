import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { ask, client, sentence } from "../../api/client";
import type { Mask } from "../../api/types";
import { settled, useDocument, useProject } from "../../document/document";
import { MONO } from "../../kit/theme";

interface TextDialogProps {
  open: boolean;
  mask: Mask;
  onClose: () => void;
}

/** A recipe as sentences of plain text: to read, to edit, to carry to another mask or project. */
export function TextDialog({ open, mask, onClose }: TextDialogProps) {
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="md">
      {open && <TextForm mask={mask} onClose={onClose} />}
    </Dialog>
  );
}

function TextForm({ mask, onClose }: Omit<TextDialogProps, "open">) {
  const { id } = useProject();
  const edit = useDocument((store) => store.edit);
  const [text, setText] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const path = { project_id: id, mask_id: mask.id };

  useEffect(() => {
    let current = true;
    settled()
      .then(() =>
        ask(
          client.GET("/api/projects/{project_id}/masks/{mask_id}/text", {
            params: { path: { project_id: id, mask_id: mask.id } },
          }),
        ),
      )
      .then(
        (found) => current && setText(found.text),
        (error: unknown) => current && setTrouble(sentence(error)),
      );
    return () => {
      current = false;
    };
  }, [id, mask.id]);

  const take = async () => {
    setBusy(true);
    setTrouble(null);
    try {
      const { lines } = await ask(
        client.POST("/api/projects/{project_id}/masks/{mask_id}/text", {
          params: { path },
          body: { text: text ?? "" },
        }),
      );
      const what = "recipe as text";
      if (await edit([{ op: "set_lines", mask: mask.id, lines, what }], { what })) onClose();
    } catch (error) {
      setTrouble(sentence(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <DialogTitle>{mask.name} as text</DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
          A sentence a line, as the recipe reads. Masks, readings and drawn lines stand in double quotes by their names;
          “(muted)” begins a line that is left out, and what follows a # is its note.
        </Typography>
        <TextField
          multiline
          fullWidth
          minRows={8}
          maxRows={20}
          value={text ?? ""}
          disabled={text === null}
          onChange={(event) => setText(event.target.value)}
          slotProps={{ htmlInput: { "aria-label": "Recipe as text", style: { fontFamily: MONO, fontSize: 13 } } }}
        />
        {trouble && (
          <Alert severity="error" sx={{ mt: 1 }}>
            {trouble}
          </Alert>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Cancel
        </Button>
        <Button variant="contained" disabled={busy || text === null} onClick={() => void take()}>
          Take it over
        </Button>
      </DialogActions>
    </>
  );
}
