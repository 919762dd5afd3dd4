import { Box, Button, LinearProgress, Link, MenuItem, TextField, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { sentence } from "../api/client";
import { isGoing, outdatedFiles, useDeliveries, useJobActions, usePlan, useTargets } from "../api/queries";
import type { Delivery } from "../api/types";
import { Card, Heading, Piece } from "../parts/Card";
import { ChoiceToken } from "../parts/ChoiceToken";
import { settled, useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { MONO } from "../theme";
import { trim } from "../viewport/subjects";

export function DeliveryCard() {
  const { document, cautions } = useProject();
  const edit = useDocument((store) => store.edit);
  const tell = useDocument((store) => store.tell);
  const show = useView((view) => view.show);
  const plan = usePlan();
  const deliveries = useDeliveries();
  const jobs = useJobActions();
  const [starting, setStarting] = useState(false);
  const { delivery } = document;
  useEffect(() => show({ kind: "layers", over: true }), [show]);

  const going = deliveries.data?.find(isGoing);
  const start = async () => {
    setStarting(true);
    try {
      await settled();
      await jobs.deliver();
    } catch (error) {
      tell(sentence(error));
    } finally {
      setStarting(false);
    }
  };
  const refused = plan.data?.refused ?? null;
  const waits = cautions.filter((item) => item.waypoint !== "delivery");
  return (
    <Card
      title="Delivery"
      sub="Files, resampled onto a legal size with the right registration, and a note of what to type in."
      foot={
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
          <Button
            variant="contained"
            disabled={starting || going !== undefined || refused !== null}
            onClick={() => void start()}
          >
            Deliver {plan.data ? `${plan.data.items.length} files` : ""}
          </Button>
          <Typography variant="caption" color="textSecondary">
            {refused ?? (going ? "one is running" : "plus import note and manifest")}
          </Typography>
        </Box>
      }
    >
      <SizeAndTarget />
      <Heading>What will be written</Heading>
      {refused && (
        <Piece>
          <Typography color="error" variant="body2">
            {refused}
          </Typography>
        </Piece>
      )}
      {plan.data?.items.map((item) => (
        <Box
          key={item.file}
          sx={{
            display: "flex",
            gap: 1,
            py: 0.5,
            borderBottom: "1px dashed",
            borderColor: "divider",
            alignItems: "center",
            fontSize: 12.5,
          }}
        >
          <Box sx={{ flex: 1, minWidth: 0, fontFamily: MONO, overflow: "hidden", textOverflow: "ellipsis" }}>
            {item.file}
          </Box>
          {item.kind === "height" ? (
            <ChoiceToken
              label="Format of the height file"
              value={delivery.height_format}
              choices={[
                { value: "png16", label: "PNG 16" },
                { value: "raw16", label: "raw 16" },
              ]}
              onChange={(v) =>
                void edit([{ op: "set_delivery", delivery: { ...delivery, height_format: v as "png16" | "raw16" } }])
              }
            />
          ) : (
            <Box component="span" sx={{ color: "text.secondary" }}>
              {formatWords(item)}
            </Box>
          )}
        </Box>
      ))}
      <NamePattern />
      {plan.data && !refused && (
        <>
          <Heading aside="on the import note">To type in there</Heading>
          <Numbers
            rows={[
              [
                "Blocks",
                `${plan.data.blocks_x} × ${plan.data.blocks_y} of ${plan.data.patches_per_block_side}² patches of ${plan.data.patch_cells}² cells`,
              ],
              ["Vertical scale", trim(plan.data.vertical_scale ?? 0, 8)],
              ["Vertical position", `${trim(plan.data.vertical_position ?? 0, 4)} m`],
              ["One step", `${trim((plan.data.step ?? 0) * 1000, 3)} mm`],
            ]}
          />
        </>
      )}
      {waits.length > 0 && <Heading>To look at first</Heading>}
      {waits.map((item) => (
        <Typography key={item.message} variant="body2" color="warning" sx={{ fontWeight: 600 }}>
          ! {item.message}
        </Typography>
      ))}
      <Heading>Deliveries</Heading>
      {deliveries.data?.length === 0 && (
        <Typography variant="body2" color="textSecondary">
          None yet. Files go into a folder and a zip; then the fit check can read them back.
        </Typography>
      )}
      {deliveries.data?.map((item) => (
        <DeliveryPiece key={item.number} delivery={item} />
      ))}
    </Card>
  );
}

export function Numbers({ rows }: { rows: [string, string][] }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "auto 1fr", gap: "4px 14px", fontSize: 12.5 }}>
      {rows.map(([title, value]) => (
        <Box key={title} sx={{ display: "contents" }}>
          <Box component="span" sx={{ color: "text.secondary" }}>
            {title}
          </Box>
          <Box component="span" sx={{ fontFamily: MONO, textAlign: "right", userSelect: "all" }}>
            {value}
          </Box>
        </Box>
      ))}
    </Box>
  );
}

function SizeAndTarget() {
  const { document, home } = useProject();
  const edit = useDocument((store) => store.edit);
  const targets = useTargets();
  const { delivery } = document;
  const chosen = targets.data?.find((item) => item.id === delivery.target);
  const sizes = chosen?.sizes.map(({ rows, columns }) => ({ rows, cols: columns })) ?? [];
  const now = `${delivery.cols}x${delivery.rows}`;
  const known = sizes.some((size) => `${size.cols}x${size.rows}` === now);
  const choose = (text: string) => {
    const [cols, rows] = text.split("x").map(Number);
    if (cols && rows) void edit([{ op: "set_delivery", delivery: { ...delivery, rows, cols } }]);
  };
  return (
    <>
      <Heading>{chosen?.title ?? "Target"}</Heading>
      <Typography variant="caption" color="textSecondary" component="p" sx={{ mt: 0 }}>
        {chosen?.sentence}
      </Typography>
      <TextField
        select
        fullWidth
        label="Size, columns × rows"
        value={now}
        onChange={(event) => choose(event.target.value)}
        slotProps={{ select: { MenuProps: { slotProps: { paper: { sx: { maxHeight: 340 } } } } } }}
        sx={{ mt: 1.5 }}
      >
        {!known && <MenuItem value={now}>{`${delivery.cols} × ${delivery.rows}`} · not legal here</MenuItem>}
        {sizes.map((size) => (
          <MenuItem key={`${size.cols}x${size.rows}`} value={`${size.cols}x${size.rows}`}>
            {size.cols} × {size.rows}
            <Typography component="span" variant="caption" color="textSecondary" sx={{ ml: 1 }}>
              {size.cols === home.cols && size.rows === home.rows
                ? "the ground's own"
                : `${trim(home.width / (size.cols - 1), 3)} m apart`}
            </Typography>
          </MenuItem>
        ))}
      </TextField>
    </>
  );
}

function NamePattern() {
  const { delivery } = useProject().document;
  const edit = useDocument((store) => store.edit);
  const [text, setText] = useState<string | null>(null);
  const keep = () => {
    if (text !== null && text !== delivery.pattern)
      void edit([{ op: "set_delivery", delivery: { ...delivery, pattern: text } }]);
    setText(null);
  };
  return (
    <TextField
      fullWidth
      label="Names of files"
      value={text ?? delivery.pattern}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === "Enter") keep();
        if (event.key === "Escape") setText(null);
      }}
      helperText="{project}, {map} and {size} stand for what they say"
      sx={{ mt: 1.5 }}
      slotProps={{ htmlInput: { style: { fontFamily: MONO, fontSize: 12.5 } } }}
    />
  );
}

function DeliveryPiece({ delivery }: { delivery: Delivery }) {
  const state = useProject();
  const { id } = state;
  const jobs = useJobActions();
  const outdated = outdatedFiles(delivery, state);
  const base = `/api/projects/${id}/deliveries/${delivery.number}`;
  const { job } = delivery;
  const bytes = delivery.files.reduce((sum, file) => sum + file.bytes, 0);
  return (
    <Piece aria-label={`Delivery ${delivery.number}`} role="group">
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
    </Piece>
  );
}

/** How a file is written: "PNG 8, RGBA", "CSV, points". */
function formatWords(item: { kind: string; format: string; bits: number; channels: number }): string {
  if (item.kind === "points") return `${item.format === "geojson" ? "GeoJSON" : item.format.toUpperCase()}, points`;
  const colours = item.channels === 1 ? "grey" : item.channels === 3 ? "RGB" : "RGBA";
  return `${item.format.toUpperCase()} ${item.bits}, ${colours}`;
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
