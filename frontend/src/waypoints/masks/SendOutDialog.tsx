import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import type { Mask } from "../../api/types";
import { useProject } from "../../document/document";
import { useFormats } from "../../document/formats";
import { ChoiceToken } from "../../kit/ChoiceToken";

/** A mask as a file to paint in: its form and its size. Every form that is offered comes back as it is. */
export function SendOutDialog({ open, mask, onClose }: { open: boolean; mask: Mask; onClose: () => void }) {
  const { id, home, final } = useProject();
  const { mask_forms: forms } = useFormats();
  const [form, setForm] = useState("png16");
  const [size, setSize] = useState<"home" | "final">("home");
  return (
    <Dialog open={open} onClose={onClose}>
      <DialogTitle>Send out {mask.name}</DialogTitle>
      <DialogContent>
        <Typography component="div" sx={{ lineHeight: 2.1 }}>
          As <ChoiceToken label="Form of the file" value={form} choices={forms} onChange={setForm} />, of{" "}
          <ChoiceToken
            label="Size of the file"
            value={size}
            choices={[
              { value: "home", label: `the ground, ${home.cols} × ${home.rows}` },
              { value: "final", label: `the delivery, ${final.cols} × ${final.rows}` },
            ]}
            onChange={(next) => setSize(next as typeof size)}
          />
          .
        </Typography>
        <Typography variant="body2" color="textSecondary">
          Keep its size and its name: by them it is known when it comes back.
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Close
        </Button>
        <Button
          variant="contained"
          href={`/api/projects/${id}/send-out/${mask.id}?form=${form}&size=${size}`}
          onClick={onClose}
        >
          Send out
        </Button>
      </DialogActions>
    </Dialog>
  );
}
