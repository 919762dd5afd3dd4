import { Box, Button, Typography } from "@mui/material";
import type { BeyondOut, PlanItem } from "../../api/types";
import { useBeyond } from "../../document/queries";
import { useProject } from "../../document/document";
import { Inset } from "../../kit/Card";
import { trim } from "../../kit/numbers";
import { percent } from "../../kit/percent";
import { closeTo, PlaceRow } from "../../viewport/PlaceRow";
import { writtenOf } from "./itemSubject";
import { useViewParts } from "../../viewport/view";

const MOST = 5;

/** Heights that the file cannot hold: how many, how far, and where, each place one click away. */
export function CutOff({ item, low, high }: { item: PlanItem; low: number; high: number }) {
  const { home } = useProject();
  const { show, set } = useViewParts("show", "set");
  const found = useBeyond();
  const how = `amber: heights beyond ${metres(low)} to ${metres(high)}`;
  const look = () => show({ kind: "ground", style: "shade", beyond: [low, high] }, { ...writtenOf(item, null), how });
  const told = found.data;
  return (
    <Inset role="region" aria-label="Heights that are cut off">
      <Typography variant="body2" color="warning" sx={{ fontWeight: 600 }}>
        ! Only heights from {metres(low)} to {metres(high)} can be stored.{" "}
        {told ? counted(told) : "Counting the others…"}
      </Typography>
      {found.error && <Typography color="error">{found.error.message}</Typography>}
      <Button size="small" variant="outlined" color="inherit" sx={{ my: 0.6 }} onClick={look}>
        Show where
      </Button>
      {told?.places.slice(0, MOST).map((place, i) => (
        <PlaceRow
          key={i}
          {...place}
          by={`${metres(Math.abs(place.by))} too ${place.by < 0 ? "low" : "high"}`}
          onGo={() => {
            look();
            set({ mode: "plan", camera: closeTo(home, place.east, place.south) });
          }}
        />
      ))}
      {(told?.places.length ?? 0) > MOST && (
        <Box sx={{ fontSize: 12, color: "text.secondary", px: 0.6 }}>and smaller ones</Box>
      )}
    </Inset>
  );
}

const metres = (value: number) => `${trim(value, 2)}\u00a0m`;

function counted({ below, above, samples }: BeyondOut): string {
  const parts = [
    ...(above ? [`${trim(above)} samples of the file (${percent(above / samples, 2)}) lie higher`] : []),
    ...(below ? [`${trim(below)} (${percent(below / samples, 2)}) lie lower`] : []),
  ];
  return parts.length ? `${parts.join(", ")}: they are cut off flat.` : "No sample of the file lies beyond.";
}
