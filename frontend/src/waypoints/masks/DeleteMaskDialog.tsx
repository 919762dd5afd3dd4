import { named } from "../../api/mapNames";
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import type { Mask } from "../../api/types";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { useDocument, useProject } from "../../document/document";
import { usersOf } from "../recipe/lines";

interface DeleteMaskDialogProps {
  open: boolean;
  mask: Mask;
  onClose: () => void;
}

/** A mask that is used is not simply gone: who uses it, and what shall become of that. */
export function DeleteMaskDialog({ open, mask, onClose }: DeleteMaskDialogProps) {
  const { document, uses } = useProject();
  const edit = useDocument((store) => store.edit);
  const others = document.masks.filter((item) => item.id !== mask.id);
  const [other, setOther] = useState<string | null>(null);
  const chosen = other ?? others[0]?.id ?? null;
  const remove = (what: "take_out" | "replace") => {
    onClose();
    void edit([{ op: "delete_mask", mask: mask.id, uses: what, other: what === "replace" ? chosen : null }]);
  };
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="xs">
      <DialogTitle>{mask.name} is used</DialogTitle>
      <DialogContent>
        <Typography>by {usersOf(uses, named.mask(mask.id)).join(", ")}.</Typography>
        {others.length > 0 && (
          <Typography component="div" sx={{ mt: 1.5 }}>
            In its place:{" "}
            <ChoiceToken
              label="The mask in its place"
              value={chosen ?? ""}
              choices={others.map((item) => ({ value: item.id, label: item.name }))}
              onChange={setOther}
            />
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Keep it
        </Button>
        {chosen && (
          <Button onClick={() => remove("replace")} color="inherit" variant="outlined">
            Delete and replace
          </Button>
        )}
        <Button onClick={() => remove("take_out")} color="error" variant="outlined">
          Delete and take it out there
        </Button>
      </DialogActions>
    </Dialog>
  );
}
