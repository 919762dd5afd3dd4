import {
  Alert,
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { ask, client } from "../../api/client";
import { LongAskShown, useLongAsk } from "../../kit/LongAsk";
import { useDocument, useProject } from "../../document/document";

interface LayersOfDialogProps {
  open: boolean;
  /** What is chosen at first: ``MASK:`` or ``MASK:BAND``. */
  chosen?: string[];
  onClose: () => void;
}

/** Layers of several masks, or of the bands of one, in one go. */
export function LayersOfDialog(props: LayersOfDialogProps) {
  return (
    <Dialog open={props.open} onClose={props.onClose} fullWidth maxWidth="sm">
      {props.open && <Form {...props} />}
    </Dialog>
  );
}

interface Option {
  key: string;
  label: string;
  mask: string;
  band: number | null;
}

function Form({ chosen, onClose }: LayersOfDialogProps) {
  const { id, document, bands } = useProject();
  const edit = useDocument((store) => store.edit);
  const used = new Set(document.layers.map((layer) => `${layer.mask ?? ""}:${layer.band ?? ""}`));
  const options: Option[] = document.masks.flatMap((mask) => [
    { key: `${mask.id}:`, label: mask.name, mask: mask.id, band: null },
    ...Array.from({ length: bands[mask.id] ?? 0 }, (_, band) => ({
      key: `${mask.id}:${band}`,
      label: `${mask.name}, band ${band + 1}`,
      mask: mask.id,
      band,
    })),
  ]);
  const [picked, setPicked] = useState<Set<string>>(() => new Set(chosen ?? []));
  const long = useLongAsk();
  const wanted = options.filter((option) => picked.has(option.key));
  const toggle = (keys: string[], on: boolean) =>
    setPicked((now) => {
      const next = new Set(now);
      for (const key of keys)
        if (on) next.add(key);
        else next.delete(key);
      return next;
    });
  const make = async () => {
    const found = await long.run((signal) =>
      ask(
        client.POST("/api/projects/{project_id}/layers/propose", {
          params: { path: { project_id: id } },
          body: { masks: wanted.map(({ mask, band }) => ({ kind: "mask" as const, mask, band })) },
          signal,
        }),
      ),
    );
    if (!found) return;
    const sharing = found.adds_up ? ("by_strength" as const) : null;
    if (await edit([{ op: "add_layers", layers: found.layers, sharing }])) onClose();
  };
  return (
    <>
      <DialogTitle>Make layers of these</DialogTitle>
      <DialogContent>
        <Typography color="textSecondary" variant="body2" sx={{ mb: 1 }}>
          Each becomes a layer of its name, on top of those there are, with a look of its name where there is one. Masks
          that add up to 1 already are taken as finished weights, and shared by strength.
        </Typography>
        {document.masks.map((mask) => {
          const own = options.filter((option) => option.mask === mask.id);
          const cut = own.slice(1);
          return (
            <Box key={mask.id} sx={{ display: "flex", alignItems: "center", flexWrap: "wrap" }}>
              {own.map((option) => (
                <FormControlLabel
                  key={option.key}
                  sx={{ mr: 1, ml: option.band === null ? -1 : 1 }}
                  control={
                    <Checkbox
                      size="small"
                      checked={picked.has(option.key)}
                      onChange={(event) => toggle([option.key], event.target.checked)}
                    />
                  }
                  label={
                    <>
                      {option.band === null ? option.label : `band ${option.band + 1}`}
                      {used.has(option.key) && (
                        <Typography component="span" variant="caption" color="textSecondary">
                          {" "}
                          already a layer
                        </Typography>
                      )}
                    </>
                  }
                />
              ))}
              {cut.length > 0 && (
                <Button
                  size="small"
                  onClick={() =>
                    toggle(
                      cut.map((option) => option.key),
                      true,
                    )
                  }
                >
                  All bands of {mask.name}
                </Button>
              )}
            </Box>
          );
        })}
        {document.masks.length === 0 && (
          <Typography>There are no masks yet. Make some, or bring finished ones in.</Typography>
        )}
        <LongAskShown busy={long.busy} says="Looking whether these masks add up" onStop={long.stop} />
        {long.trouble && <Alert severity="error">{long.trouble}</Alert>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Cancel
        </Button>
        <Button variant="contained" disabled={long.busy || wanted.length === 0} onClick={() => void make()}>
          {wanted.length === 1 ? "Make 1 layer" : `Make ${wanted.length} layers`}
        </Button>
      </DialogActions>
    </>
  );
}
