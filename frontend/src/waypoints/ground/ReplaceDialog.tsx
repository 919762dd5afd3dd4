import { Alert, Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useAskAgain } from "../../document/askAgain";
import { ask, client, sentence } from "../../api/client";
import type { Inspection } from "../../api/types";
import { LongAskShown } from "../../kit/LongAsk";
import { percent } from "../../kit/percent";
import { Segments } from "../../kit/Segments";
import { ChooseHeightmap } from "../files/ChooseHeightmap";
import { FileReading, InspectionLine, layoutOf } from "../files/FileReading";
import { useDocument, useProject } from "../../document/document";
import { useReplacing, type Coming } from "../../document/replacing";
import { trim } from "../../kit/numbers";
import { fileLies, samplesMore } from "../../viewport/places";

/** Another heightmap under the project, or the same file read again; what is downstream follows. */
export function ReplaceDialog() {
  const { coming, end } = useReplacing();
  return (
    <Dialog open={coming !== null} onClose={end} fullWidth maxWidth="sm">
      {coming && <Steps coming={coming} onClose={end} />}
    </Dialog>
  );
}

function Steps({ coming, onClose }: { coming: Coming; onClose: () => void }) {
  const [found, setFound] = useState<Inspection | null>(coming.kind === "watched" ? coming.found : null);
  const more = (
    <Typography variant="body2" color="textSecondary" sx={{ mt: 1.5 }}>
      Did the file change on disk? Choose it again: masks, layers and sheets stay, and are made anew from it.
    </Typography>
  );
  if (!found)
    return (
      <ChooseHeightmap
        title="Replace the heightmap"
        more={more}
        first={coming.kind === "files" ? coming.files : undefined}
        onFound={setFound}
        onClose={onClose}
      />
    );
  return <Compare found={found} watched={coming.kind === "watched"} onFound={setFound} onClose={onClose} />;
}

type Hold = "codes" | "ends";

interface CompareProps {
  found: Inspection;
  /** It is the watched file: what is taken or left is known from then on. */
  watched: boolean;
  onFound: (found: Inspection) => void;
  onClose: () => void;
}

function Compare({ found, watched, onFound, onClose }: CompareProps) {
  const { document, id } = useProject();
  const again = useAskAgain();
  const replace = useDocument((store) => store.replaceHeightmap);
  const [keep, setKeep] = useState<"extent" | "spacing">("extent");
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const { ground } = document;
  const sized = found.rows !== ground.rows || found.columns !== ground.cols;
  const ranged = found.low !== ground.stored_low || found.high !== ground.stored_high;
  const spacing = ground.spacing_x ?? 1;
  const less = samplesMore(fileLies(ground));
  const width = (ground.cols - less) * spacing;
  const coded = ground.heights === "step" || ground.heights === "ends";
  const [hold, setHold] = useState<Hold>(coded ? "codes" : (ground.on_replace ?? "codes"));
  const take = async () => {
    setBusy(true);
    const problem = await replace(layoutOf(found), keep, hold);
    setBusy(false);
    if (problem) setTrouble(problem);
    else {
      if (watched) await client.POST("/api/projects/{project_id}/watch/seen", { params: { path: { project_id: id } } });
      await again("/api/projects/{project_id}/watch");
      onClose();
    }
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
            {trim(ground.stored_high)}.
          </Alert>
        )}
        {ranged && ground.heights !== "stored" && (
          <Box sx={{ mb: 1 }}>
            <Segments
              label="What keeps its metres"
              options={[
                { value: "codes", label: "stored numbers keep their metres" },
                { value: "ends", label: "lowest and highest keep theirs" },
              ]}
              value={hold}
              onChange={setHold}
            />
          </Box>
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
                ? `Samples will lie ${trim(width / (found.columns - less), 4)} m apart.`
                : `The ground will be ${trim((found.columns - less) * spacing, 1)} m wide.`}{" "}
              The delivery keeps its size.
            </Typography>
          </>
        )}
        <WhatChanges found={found} keep={keep} hold={hold} />
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

/** How much of the ground another heightmap changes, by how much, and where most. */
function WhatChanges({ found, keep, hold }: { found: Inspection; keep: "extent" | "spacing"; hold: Hold }) {
  const { id, revision } = useProject();
  const source = layoutOf(found);
  const queries = useQueryClient();
  const key = ["height-change", id, revision, JSON.stringify(source), keep, hold];
  const [stopped, setStopped] = useState("");
  const going = stopped !== key.join();
  const change = useQuery({
    queryKey: key,
    enabled: going,
    queryFn: ({ signal }) =>
      ask(
        client.POST("/api/projects/{project_id}/height-change", {
          params: { path: { project_id: id } },
          body: { source, keep, hold },
          signal,
        }),
      ),
    retry: false,
  });
  const stop = () => {
    setStopped(key.join());
    void queries.cancelQueries({ queryKey: key });
  };
  const told = change.data;
  return (
    <Typography variant="body2" component="div" role="status" sx={{ mt: 1 }} data-testid="what-changes">
      <LongAskShown busy={going && change.isPending} says="Comparing the heights" onStop={stop} />
      {!going && !told && (
        <>
          Not compared.{" "}
          <Button size="small" onClick={() => setStopped("")}>
            Compare the heights
          </Button>
        </>
      )}
      {change.error && sentence(change.error)}
      {told && <Box sx={{ mb: 0.6 }}>{told.says}</Box>}
      {told &&
        (told.share === 0 ? (
          "Its heights are the same everywhere."
        ) : (
          <>
            <b>{percent(told.share, told.share < 0.1 ? 1 : 0)}</b> of the ground changes, by {trim(told.mean, 2)} m in
            the mean and at most <b>{trim(told.largest, 1)} m</b>, {trim(told.east, 0)} m east and {trim(told.south, 0)}{" "}
            m south of the north-west corner. It will reach from {trim(told.low, 1)} to {trim(told.high, 1)} m.
          </>
        ))}
    </Typography>
  );
}
