import { Box, Button, Typography } from "@mui/material";
import type { Plan } from "../../api/types";
import { Inset } from "../../kit/Card";
import { useDocument, useProject } from "../../document/document";
import { useViewParts } from "../../viewport/view";
import { NumberToken } from "../../kit/NumberToken";
import { trim } from "../../kit/numbers";

/** Where a stretch begins and how long it is, without what hangs over the ground. */
function within(from: number, long: number, ground: number, least: number): [number, number] {
  const start = Math.min(Math.max(from, 0), ground - least);
  return [start, Math.max(Math.min(from + long, ground) - start, least)];
}

/** Only a part of the ground, for a quick trial: drawn on the plan, moved onto a size that is taken. */
export function Trial({ trial }: { trial: Plan["trial"] }) {
  const { document, home } = useProject();
  const edit = useDocument((store) => store.edit);
  const { cropping, set } = useViewParts("cropping", "set");
  const put = async (region: NonNullable<typeof document.delivery.region> | null) => {
    const kept = await edit([{ op: "set_delivery", delivery: { ...document.delivery, region } }]);
    if (kept) set({ cropping: null });
    return kept;
  };
  const region = document.delivery.region;
  if (cropping)
    return (
      <Inset chosen>
        <Typography variant="body2">
          Drag the corners on the plan: {trim(cropping.width, 0)} × {trim(cropping.length, 0)} m.
        </Typography>
        <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
          <Button
            variant="contained"
            size="small"
            onClick={() => {
              const [east, width] = within(cropping.west, cropping.width, home.width, home.spacing_x);
              const [south, length] = within(cropping.north, cropping.length, home.length, home.spacing_y);
              void put({ east, south, width, length, into: document.delivery.region?.into ?? 1 });
            }}
          >
            Deliver only this
          </Button>
          <Button size="small" color="inherit" onClick={() => set({ cropping: null })}>
            Leave it
          </Button>
        </Box>
      </Inset>
    );
  if (trial)
    return (
      <Inset>
        <Typography variant="body2">
          Only a part, to try: {trial.cols} × {trial.rows} samples, {trim(trial.width, 1)} × {trim(trial.length, 1)} m,
          from {trim(trial.east, 1)} m east and {trim(trial.south, 1)} m south of the north-west corner. Moved onto
          samples and a size that is taken.
        </Typography>
        {region && (
          <Typography variant="body2" component="div" sx={{ mt: 0.5 }}>
            Cut into{" "}
            <NumberToken
              label="Regions a side"
              value={region.into}
              unit=""
              min={1}
              max={8}
              step={1}
              decimals={0}
              onCommit={(into) => put({ ...region, into: Math.round(into) })}
            />{" "}
            {region.into === 1 ? "region: one file a map." : `× ${region.into} regions, each a file of its own.`}
          </Typography>
        )}
        <Button size="small" color="inherit" onClick={() => void put(null)}>
          Deliver all of the ground
        </Button>
      </Inset>
    );
  const begin = () =>
    set({
      mode: "plan",
      cropping: {
        west: home.width * 0.35,
        north: home.length * 0.35,
        width: home.width * 0.3,
        length: home.length * 0.3,
      },
    });
  return (
    <Button size="small" color="inherit" onClick={begin}>
      Only a part, to try…
    </Button>
  );
}
