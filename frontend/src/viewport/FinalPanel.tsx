import { Box, Button, LinearProgress, Typography } from "@mui/material";
import { useState, type ReactNode } from "react";
import { useAskAgain } from "../document/askAgain";
import { patiently } from "../document/patiently";
import { ask, client, sentence } from "../api/client";
import { useFinals } from "../document/queries";
import { NumberToken } from "../kit/NumberToken";
import { percent } from "../kit/percent";
import { settled, useProject } from "../document/document";
import { closeTo, PlaceRow } from "./PlaceRow";
import { useViewParts } from "./view";
import { trim } from "../kit/numbers";

/** Beside the final: which masks differ from the draft, where, and by how much; each place is one click away. */
export function FinalPanel({ near }: { near: boolean }) {
  const { id, document, final, home, view } = useProject();
  const same = final.rows === view.rows && final.cols === view.cols;
  const { show, set } = useViewParts("show", "set");
  const finals = useFinals();
  const [least, setLeast] = useState(0.1);
  const [trouble, setTrouble] = useState<string | null>(null);
  const job = finals.data?.job ?? null;
  const again = useAskAgain();
  const told = async (work: () => Promise<unknown>) => {
    setTrouble(null);
    try {
      await work();
    } catch (error) {
      setTrouble(sentence(error));
    }
    await again("/api/projects/{project_id}/finals");
  };
  const run = () =>
    told(async () => {
      await settled();
      const params = { path: { project_id: id } };
      await ask(client.POST("/api/projects/{project_id}/finals", { params, body: { least } }));
    });
  const stop = (which: string) =>
    told(() => patiently(() => client.POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id: which } } })));
  if (same)
    return (
      <Panel>
        <Typography variant="body2">
          The ground is delivered with as many samples as it is worked at: what is in view is what is delivered. Choose
          another size at <b>Delivery</b> to compare.
        </Typography>
      </Panel>
    );
  const goTo = (mask: string, east: number, south: number) => {
    show({ kind: "mask", id: mask, style: "over", lines: null });
    set({ mode: "plan", selectedMask: mask, camera: closeTo(home, east, south) });
  };
  return (
    <Panel>
      <Typography variant="body2">
        {near ? (
          <>
            The view is made at the delivered size,{" "}
            <b>
              {trim(final.cols)} × {trim(final.rows)}
            </b>
            .
          </>
        ) : (
          <>
            <b>Come nearer</b> to see single samples of the {trim(final.cols)} × {trim(final.rows)} that are delivered:
            from here the draft is shown.
          </>
        )}
      </Typography>
      <Box sx={{ mt: 0.8, lineHeight: 1.9 }}>
        Masks that differ by more than{" "}
        <NumberToken
          label="Least difference"
          value={least}
          unit=""
          min={0.01}
          max={1}
          step={0.01}
          onCommit={(value) => {
            setLeast(value);
            return Promise.resolve(true);
          }}
        />
        {job ? (
          <Button size="small" color="inherit" onClick={() => void stop(job.id)}>
            Stop
          </Button>
        ) : (
          <Button size="small" variant="outlined" color="inherit" onClick={() => void run()}>
            Compare all
          </Button>
        )}
      </Box>
      {job && (
        <Box sx={{ my: 0.8 }}>
          <LinearProgress variant="determinate" value={job.progress * 100} aria-label="Comparing draft and final" />
          <Typography variant="caption" color="textSecondary">
            {job.message}
          </Typography>
        </Box>
      )}
      {trouble && <Typography color="error">{trouble}</Typography>}
      {finals.data?.masks.map((entry) => (
        <FoundMask
          key={entry.mask}
          name={document.masks.find((mask) => mask.id === entry.mask)?.name ?? "?"}
          entry={entry}
          onGo={goTo}
        />
      ))}
    </Panel>
  );
}

function Panel({ children }: { children: ReactNode }) {
  return (
    <Box
      component="section"
      aria-label="Draft and final"
      sx={{
        position: "absolute",
        left: 12,
        top: 48,
        width: 262,
        maxHeight: "56%",
        overflowY: "auto",
        bgcolor: "background.paper",
        borderRadius: 1.5,
        p: 1.2,
        fontSize: 13,
      }}
    >
      {children}
    </Box>
  );
}

interface FoundMaskProps {
  name: string;
  entry: NonNullable<ReturnType<typeof useFinals>["data"]>["masks"][number];
  onGo: (mask: string, east: number, south: number) => void;
}

function FoundMask({ name, entry, onGo }: FoundMaskProps) {
  const { mask_keys: keys } = useProject();
  const fresh = keys[entry.mask] === entry.key;
  return (
    <Box sx={{ mt: 0.8, opacity: fresh ? 1 : 0.6 }}>
      <b>{name}</b>{" "}
      <Box component="span" sx={{ color: "text.secondary" }}>
        {!fresh
          ? "changed since; compare again"
          : entry.places.length === 0
            ? "looks the same"
            : `differs by up to ${entry.worst.toFixed(2)}`}
      </Box>
      {fresh && entry.reason && entry.places.length > 0 && (
        <Typography variant="caption" color="textSecondary" component="div">
          {entry.line === null ? "" : `From line ${entry.line}: `}
          {entry.reason}
        </Typography>
      )}
      {fresh && entry.places.length > 0 && (
        <Box sx={{ display: "flex", justifyContent: "space-between", px: 0.6, fontSize: 12, color: "text.secondary" }}>
          <span>where</span>
          <span>by · of the ground</span>
        </Box>
      )}
      {fresh &&
        entry.places.map((place, i) => (
          <PlaceRow
            key={i}
            {...place}
            by={`${place.by.toFixed(2)} · ${percent(place.share, 2)}`}
            onGo={() => onGo(entry.mask, place.east, place.south)}
          />
        ))}
    </Box>
  );
}
