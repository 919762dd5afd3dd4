import { named } from "../../api/mapNames";
import { Box, Typography } from "@mui/material";
import { useEffect, useMemo, useState, useSyncExternalStore } from "react";
import type { RawMap } from "../../api/maps";
import { Heading } from "../../kit/Card";
import { useProject } from "../../document/document";
import { previews } from "../../viewport/preview";
import { mapStore } from "../../viewport/pictures";

const BINS = 64;
const PARTS = [
  { title: "red", colour: "#b0493a" },
  { title: "green", colour: "#4c8a53" },
  { title: "blue", colour: "#4a64a8" },
] as const;

/** How many samples of each part of a colour map fall into each of a few bins, the fullest of all being 1. */
export function histogram(map: RawMap): number[][] {
  const counts = PARTS.map(() => new Array<number>(BINS).fill(0));
  for (let i = 0; i < map.values.length; i += map.channels)
    for (let k = 0; k < 3; k++) {
      const bin = Math.floor((map.values[i + k] ?? 0) / (256 / BINS));
      const row = counts[k];
      if (row) row[bin] = (row[bin] ?? 0) + 1;
    }
  const most = Math.max(...counts.flat(), 1);
  return counts.map((row) => row.map((count) => Math.sqrt(count / most)));
}

/** The histogram of the colour map that is shown, also while a number is dragged. */
export function WhatCameOut() {
  const state = useProject();
  const [saved, setSaved] = useState<RawMap | null>(null);
  const live = useSyncExternalStore(
    (changed) => previews.listen(changed),
    () => (previews.current?.name === named.colour() ? previews.current : null),
  );
  useEffect(() => {
    let current = true;
    const wanted = {
      state,
      subject: { kind: "colour", map: "colour", style: "flat", coats: 0 } as const,
      readings: [],
      options: { tint: 0, water: false },
    };
    mapStore.load(wanted, named.colour()).then(
      (map) => current && setSaved(map),
      // The view says what went wrong.
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [state]);
  const map = live ?? saved;
  const bars = useMemo(() => map && histogram(map), [map]);
  return (
    <>
      <Heading aside="sRGB values 0 to 255, counts on a root">What came out</Heading>
      <Box sx={{ height: 62 }} data-testid="colour-histogram">
        {bars && (
          <svg viewBox={`0 0 ${BINS} 40`} preserveAspectRatio="none" width="100%" height="62" role="img">
            <title>How often each value of red, green and blue occurs</title>
            {bars.map((row, k) => (
              <path
                key={k}
                d={`M0,40${row.map((height, i) => `L${i + 0.5},${(40 - height * 39).toFixed(1)}`).join("")}L${BINS},40Z`}
                fill={PARTS[k]?.colour}
                opacity="0.45"
              />
            ))}
          </svg>
        )}
      </Box>
      {!bars && <Typography variant="caption">Counting…</Typography>}
    </>
  );
}
