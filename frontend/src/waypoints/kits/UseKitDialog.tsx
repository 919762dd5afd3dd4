import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Radio,
  RadioGroup,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useGet } from "../../document/useGet";
import type { Kit } from "../../api/types";
import { useDocument, useProject } from "../../document/document";
import { MONO } from "../../kit/theme";
import { trim } from "../../kit/numbers";

/** A kit onto this ground: its ranges in metres as they are, or moved to this ground's own heights. */
export function UseKitDialog({ kit, onClose }: { kit: Kit; onClose: () => void }) {
  const { revision } = useProject();
  const apply = useDocument((store) => store.useKit);
  const [way, setWay] = useState<"move" | "keep">("move");
  const [trouble, setTrouble] = useState<string | null>(null);
  const plan = useGet("/api/projects/{project_id}/kits/{kit_id}/plan", {
    path: { kit_id: kit.id },
    stamp: [revision],
  });
  const changes = plan.data?.changes ?? [];
  const use = async () => {
    const said = await apply(kit.id, way === "move" && changes.length > 0);
    if (said) setTrouble(said);
    else onClose();
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Use the kit {kit.name}</DialogTitle>
      <DialogContent>
        <Typography>
          Brings in {[...kit.masks, ...kit.pieces].join(", ")}. Readings are measured anew on this ground.
        </Typography>
        {changes.length > 0 && plan.data && (
          <>
            <RadioGroup
              value={way}
              onChange={(_, value) => setWay(value as "move" | "keep")}
              aria-label="Ranges in metres"
              sx={{ mt: 1 }}
            >
              <FormControlLabel
                value="move"
                control={<Radio size="small" />}
                label={`Move ranges from ${trim(kit.low, 0)} – ${trim(kit.high, 0)} m to this ground's ${trim(plan.data.low, 0)} – ${trim(plan.data.high, 0)} m`}
              />
              <FormControlLabel value="keep" control={<Radio size="small" />} label="Keep the numbers as they are" />
            </RadioGroup>
            <Box component="ul" aria-label="Ranges that move" sx={{ fontSize: 13, fontFamily: MONO, pl: 2.5 }}>
              {changes.map((change) => (
                <li key={`${change.mask}${change.line}${change.before}`}>
                  {change.mask}, line {change.line}: {change.before} → {change.after}
                </li>
              ))}
            </Box>
          </>
        )}
        {trouble && <Alert severity="error">{trouble}</Alert>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Cancel
        </Button>
        <Button variant="contained" disabled={plan.isLoading} onClick={() => void use()}>
          Use it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
