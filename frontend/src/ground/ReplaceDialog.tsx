import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import type { Inspection } from "../api/types";
import { Segments } from "../parts/Segments";
import { ChooseHeightmap } from "../shelf/ChooseHeightmap";
import { FileReading, InspectionLine, layoutOf } from "../shelf/FileReading";
import { useDocument, useProject } from "../state/document";
import { trim } from "../viewport/subjects";

/** Another heightmap under the project, or the same file read again; what is downstream follows. */
export function ReplaceDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm">
      {open && <Steps onClose={onClose} />}
    </Dialog>
  );
}

function Steps({ onClose }: { onClose: () => void }) {
  const [found, setFound] = useState<Inspection | null>(null);
  const more = (
    <Typography variant="body2" color="textSecondary" sx={{ mt: 1.5 }}>
      Did the file change on disk? Choose it again: masks, layers and sheets stay, and are made anew from it.
    </Typography>
  );
  if (!found) return <ChooseHeightmap title="Replace the heightmap" more={more} onFound={setFound} onClose={onClose} />;
  return <Compare found={found} onFound={setFound} onClose={onClose} />;
}

interface CompareProps {
  found: Inspection;
  onFound: (found: Inspection) => void;
  onClose: () => void;
}

function Compare({ found, onFound, onClose }: CompareProps) {
  const { document } = useProject();
  const replace = useDocument((store) => store.replaceHeightmap);
  const [keep, setKeep] = useState<"extent" | "spacing">("extent");
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const { ground } = document;
  const sized = found.rows !== ground.rows || found.columns !== ground.cols;
  const ranged = found.low !== ground.stored_low || found.high !== ground.stored_high;
  const spacing = ground.spacing_x ?? 1;
  const width = (ground.cols - 1) * spacing;
  const take = async () => {
    setBusy(true);
    const problem = await replace(layoutOf(found), keep);
    setBusy(false);
    if (problem) setTrouble(problem);
    else onClose();
  };
  return (
    <>
      <DialogTitle>Replace the heightmap</DialogTitle>
      <DialogContent>
        <InspectionLine found={found} />
        {found.findings.map((item) => (
          <Alert key={item.code} severity={item.severity === "attention" ? "warning" : "info"} sx={{ mb: 1, py: 0 }}>
            {item.message}
          </Alert>
        ))}
        <FileReading found={found} onFound={onFound} onTrouble={setTrouble} />
        {!sized && !ranged && (
          <Alert severity="success" sx={{ py: 0, mb: 1 }}>
            Same size and same stored range as before: every measure stays right.
          </Alert>
        )}
        {ranged && (
          <Alert severity="warning" sx={{ py: 0, mb: 1 }}>
            It stores {trim(found.low)} to {trim(found.high)}; before it was {trim(ground.stored_low)} to{" "}
            {trim(ground.stored_high)}.{" "}
            {ground.heights === "range"
              ? `Its lowest sample will still stand for ${trim(ground.low ?? 0)} m and its highest for ${trim(ground.high ?? 0)} m: check both.`
              : "Heights change with it."}
          </Alert>
        )}
        {sized && (
          <>
            <Alert severity="warning" sx={{ py: 0, mb: 1 }}>
              It has {found.columns} × {found.rows} samples; before there were {ground.cols} × {ground.rows}.
            </Alert>
            <Segments
              label="What stays"
              options={[
                { value: "extent", label: `stays ${trim(width, 0)} m wide` },
                { value: "spacing", label: `stays ${trim(spacing, 3)} m apart` },
              ]}
              value={keep}
              onChange={setKeep}
            />
            <Typography variant="body2" color="textSecondary" sx={{ mt: 0.8 }}>
              {keep === "extent"
                ? `Samples will lie ${trim(width / (found.columns - 1), 4)} m apart.`
                : `The ground will be ${trim((found.columns - 1) * spacing, 1)} m wide.`}{" "}
              The delivery keeps its size.
            </Typography>
          </>
        )}
        {trouble && <Alert severity="error">{trouble}</Alert>}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Cancel
        </Button>
        <Button variant="contained" disabled={busy} onClick={() => void take()}>
          Replace
        </Button>
      </DialogActions>
    </>
  );
}
