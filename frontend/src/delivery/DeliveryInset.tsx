import { Box, Button, LinearProgress, Link, Typography } from "@mui/material";
import { isGoing, outdatedFiles, useJobActions } from "../api/queries";
import type { Delivery } from "../api/types";
import { Inset } from "../parts/Card";
import { useProject } from "../state/document";

/** A delivery: how far it is, or its files. */
export function DeliveryInset({ delivery }: { delivery: Delivery }) {
  const state = useProject();
  const { id } = state;
  const jobs = useJobActions();
  const outdated = outdatedFiles(delivery, state);
  const base = `/api/projects/${id}/deliveries/${delivery.number}`;
  const { job } = delivery;
  const bytes = delivery.files.reduce((sum, file) => sum + file.bytes, 0);
  return (
    <Inset aria-label={`Delivery ${delivery.number}`} role="group">
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
        <Typography sx={{ fontWeight: 650 }}>Delivery {delivery.number}</Typography>
        <Typography variant="caption" color={job.state === "failed" ? "error" : "textSecondary"} sx={{ ml: "auto" }}>
          {stateWords(delivery)}
        </Typography>
      </Box>
      {isGoing(delivery) && (
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mt: 0.5 }}>
          <Box sx={{ flex: 1 }}>
            <LinearProgress
              variant="determinate"
              value={job.progress * 100}
              aria-label={`Progress of delivery ${delivery.number}`}
            />
            <Typography variant="caption" color="textSecondary" noWrap sx={{ display: "block" }}>
              {job.message}
            </Typography>
          </Box>
          <Button color="inherit" variant="outlined" disabled={job.cancel} onClick={() => void jobs.cancel(job.id)}>
            {job.cancel ? "Stopping" : "Stop"}
          </Button>
        </Box>
      )}
      {job.state === "failed" && (
        <Typography variant="body2" color="error">
          {job.message}
        </Typography>
      )}
      {job.state === "done" && (
        <>
          {outdated.length > 0 && (
            <Typography variant="body2" color="warning" sx={{ fontWeight: 600 }}>
              ! The project has changed since: {outdated.join(", ")}
            </Typography>
          )}
          <Box sx={{ display: "flex", gap: 2, mt: 0.5, fontSize: 13 }}>
            <Link href={`${base}/zip`} download>
              Zip, {(bytes / 1e6).toFixed(1)} MB
            </Link>
            <Link href={`${base}/files/import_note.html`} target="_blank" rel="noreferrer">
              Import note
            </Link>
            <Link href={`${base}/files/import_note.txt`} target="_blank" rel="noreferrer">
              as text
            </Link>
            <Link href={`${base}/files/import_note.json`} target="_blank" rel="noreferrer">
              as JSON
            </Link>
          </Box>
          <Typography
            variant="caption"
            color="textSecondary"
            sx={{ display: "block", mt: 0.5, overflowWrap: "anywhere", userSelect: "all" }}
          >
            {delivery.folder}
          </Typography>
        </>
      )}
    </Inset>
  );
}

function stateWords(delivery: Delivery): string {
  const { job } = delivery;
  switch (job.state) {
    case "waiting":
      return "waiting for the worker";
    case "running":
      return `${(job.progress * 100).toFixed(0)} %`;
    case "done":
      return `${delivery.files.length} files, revision ${delivery.revision}`;
    case "failed":
      return "failed";
    case "cancelled":
      return "stopped, nothing kept";
  }
}
