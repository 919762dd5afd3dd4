import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  Link,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { ask, client, sentence } from "../../api/client";
import { isGoing, outdatedFiles, useJobActions } from "../../document/queries";
import type { Delivery } from "../../api/types";
import { Inset } from "../../kit/Card";
import { MoreMenu } from "../../kit/MoreMenu";
import { NameDialog } from "../../kit/NameDialog";
import { useDocument, useProject } from "../../document/document";

/** A delivery: how far it is, or its files. */
export function DeliveryInset({ delivery }: { delivery: Delivery }) {
  const state = useProject();
  const { id } = state;
  const tell = useDocument((store) => store.tell);
  const jobs = useJobActions();
  const outdated = outdatedFiles(delivery, state);
  const base = `/api/projects/${id}/deliveries/${delivery.number}`;
  const { job } = delivery;
  const bytes = delivery.files.reduce((sum, file) => sum + file.bytes, 0);
  return (
    <Inset aria-label={`Delivery ${delivery.number}`} role="group">
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
        <Typography sx={{ fontWeight: 650, minWidth: 0, overflowWrap: "anywhere" }}>
          Delivery {delivery.number}
          {delivery.name && `, ${delivery.name}`}
        </Typography>
        <Typography variant="caption" color={job.state === "failed" ? "error" : "textSecondary"} sx={{ ml: "auto" }}>
          {stateWords(delivery)}
        </Typography>
        {!isGoing(delivery) && <Keeping delivery={delivery} />}
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
          <Button
            color="inherit"
            variant="outlined"
            disabled={job.cancel}
            onClick={() => void jobs.cancel(job.id).catch((error: unknown) => tell(sentence(error)))}
          >
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
          <Box sx={{ display: "flex", gap: 1.5, mt: 0.5, fontSize: 13, flexWrap: "wrap" }}>
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
            <Link href={`${base}/files/shading_recipe.txt`} target="_blank" rel="noreferrer">
              Recipe
            </Link>
          </Box>
          <Placed delivery={delivery} />
          <Typography
            variant="caption"
            color="textSecondary"
            sx={{ display: "block", mt: 0.5, overflowWrap: "anywhere", userSelect: "all" }}
          >
            {delivery.folder}
          </Typography>
          {delivery.kept && (
            <Typography variant="caption" color="textSecondary" sx={{ display: "block" }}>
              Kept: {delivery.kept}.
            </Typography>
          )}
        </>
      )}
    </Inset>
  );
}

/** A name keeps a delivery; deleting one asks first, as its files cannot be had back. */
function Keeping({ delivery }: { delivery: Delivery }) {
  const jobs = useJobActions();
  const tell = useDocument((store) => store.tell);
  const [asks, setAsks] = useState<"name" | "delete" | null>(null);
  const { number, name } = delivery;
  const told = (done: Promise<void>) => void done.catch((error: unknown) => tell(sentence(error)));
  return (
    <>
      <MoreMenu
        label={`More for delivery ${number}`}
        actions={[
          { label: name ? "Rename…" : "Name it, to keep it…", act: () => setAsks("name") },
          { label: "Take the name away", act: () => told(jobs.name(number, "")), off: !name },
          { label: "Delete…", act: () => setAsks("delete"), danger: true },
        ]}
      />
      <NameDialog
        open={asks === "name"}
        title={`Name delivery ${number}`}
        suggestion={name}
        action="Name it"
        onClose={() => setAsks(null)}
        onName={(next) => told(jobs.name(number, next))}
      />
      <Dialog open={asks === "delete"} onClose={() => setAsks(null)} aria-labelledby="delete-delivery">
        <DialogTitle id="delete-delivery">Delete delivery {number}?</DialogTitle>
        <DialogContent>
          <Typography>
            Its files and its fit check go for good. What was put into a folder of this machine stays there, and the
            project can deliver again.
          </Typography>
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setAsks(null)}>
            Keep it
          </Button>
          <Button
            color="error"
            variant="contained"
            onClick={() => {
              setAsks(null);
              told(jobs.remove(number));
            }}
          >
            Delete
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

/** What came of putting the files into a folder of this machine. */
function Placed({ delivery }: { delivery: Delivery }) {
  const { id } = useProject();
  const tell = useDocument((store) => store.tell);
  const jobs = useJobActions();
  const { placed } = delivery;
  if (!placed) return null;
  const again = async (over: string[]) => {
    const path = { project_id: id, number: delivery.number };
    try {
      await ask(
        client.POST("/api/projects/{project_id}/deliveries/{number}/place", { params: { path }, body: { over } }),
      );
      await jobs.look();
    } catch (error) {
      tell(sentence(error));
    }
  };
  if (!placed.trouble)
    return (
      <Typography variant="body2" sx={{ mt: 0.5 }}>
        {placed.written} files replaced in {placed.folder}
        {placed.same > 0 && `, ${placed.same} were the same`}
      </Typography>
    );
  return (
    <Box sx={{ mt: 0.5 }}>
      <Typography variant="body2" color="error">
        Not put into {placed.folder}: {placed.trouble}
      </Typography>
      <Button size="small" color="inherit" onClick={() => void again([])}>
        Try again
      </Button>
      {placed.way.length > 0 && (
        <Button size="small" color="error" onClick={() => void again(placed.way)}>
          Replace {placed.way.join(", ")}
        </Button>
      )}
    </Box>
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
      return `${delivery.maps} ${delivery.maps === 1 ? "file" : "files"}${delivery.only.length ? ", only some" : ""}, revision ${delivery.revision}`;
    case "failed":
      return "failed";
    case "cancelled":
      return "stopped, nothing kept";
  }
}
