import { named } from "../api/mapNames";
import { Box, IconButton, Typography } from "@mui/material";
import CloseIcon from "@mui/icons-material/Close";
import { memo, useState } from "react";
import { useProfile, useReadings } from "../document/queries";
import { NumberToken } from "../kit/NumberToken";
import { useProject } from "../document/document";
import { type ProfileLine, useViewParts } from "./view";
import { onMap, roles } from "../kit/theme";
import { trim } from "../kit/numbers";
import { inset } from "./places";

const WIDTH = 700;
const HEIGHT = 96;

type Values = (number | null)[];

function span(values: Values): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (const v of values) {
    if (v === null) continue;
    low = Math.min(low, v);
    high = Math.max(high, v);
  }
  return low < high ? [low, high] : low === high ? [low - 0.5, low + 0.5] : [0, 1];
}

/** Points of the pieces of a line between its gaps. */
export function pieces(along: number[], values: Values, low: number, high: number): string[] {
  const longest = along.at(-1) || 1;
  const found: string[] = [];
  let piece: string[] = [];
  values.forEach((v, i) => {
    if (v === null) {
      if (piece.length > 1) found.push(piece.join(" "));
      piece = [];
      return;
    }
    const x = ((along[i] ?? 0) / longest) * WIDTH;
    const y = HEIGHT - 6 - ((v - low) / (high - low)) * (HEIGHT - 14);
    piece.push(`${x.toFixed(1)},${y.toFixed(1)}`);
  });
  if (piece.length > 1) found.push(piece.join(" "));
  return found;
}

/** Height and the current reading along the profile line; its ends are on the plan, and here as numbers. */
export const ProfilePanel = memo(function ProfilePanel() {
  const { home } = useProject();
  const readings = useReadings();
  const { profile, subject, set } = useViewParts("profile", "subject", "set");
  const name = subject.kind === "reading" ? subject.name : "height";
  const reading = readings.find((item) => item.name === name);
  const found = useProfile(named.reading(name), profile);
  const [at, setAt] = useState<number | null>(null);
  if (!profile) return null;
  const line = found.data;
  const place = (label: string, key: keyof ProfileLine, spacing: number, most: number, turned: boolean) => (
    <NumberToken
      label={label}
      value={((turned ? most - profile[key] : profile[key]) + inset(home)) * spacing}
      unit="m"
      min={inset(home) * spacing}
      max={(most + inset(home)) * spacing}
      step={spacing}
      decimals={0}
      onCommit={(value) => {
        const samples = value / spacing - inset(home);
        set({ profile: { ...profile, [key]: turned ? most - samples : samples } });
        return Promise.resolve(true);
      }}
    />
  );
  const heights = line ? span(line.heights) : ([0, 1] as const);
  const values = line ? span(line.values) : ([0, 1] as const);
  const longest = line?.along.at(-1) ?? 0;
  const unit = reading?.unit === "°" ? "°" : ` ${reading?.unit ?? ""}`;
  const index = at === null || !line ? null : Math.round(at * (line.along.length - 1));
  const shown = (v: number | null | undefined, decimals: number, u: string) =>
    v === null || v === undefined ? "no value" : `${trim(v, decimals)}${u}`;
  return (
    <Box
      sx={{ bgcolor: "background.paper", borderTop: 1, borderColor: "divider", px: 1.5, py: 0.8 }}
      data-testid="profile"
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, fontSize: 12.5 }}>
        <Typography variant="h3">Profile</Typography>
        <span>
          from {place("East of the line\u2019s start", "col0", home.spacing_x, home.cols - 1, false)} east,{" "}
          {place("North of the line\u2019s start", "row0", home.spacing_y, home.rows - 1, true)} north to{" "}
          {place("East of the line\u2019s end", "col1", home.spacing_x, home.cols - 1, false)} east,{" "}
          {place("North of the line\u2019s end", "row1", home.spacing_y, home.rows - 1, true)} north
        </span>
        <Box sx={{ flex: 1, color: "text.secondary" }}>
          {index !== null && line
            ? `at ${trim(line.along[index] ?? 0, 0)} m: ${shown(line.heights[index], 1, " m")}${name === "height" ? "" : `, ${reading?.title.toLowerCase()} ${shown(line.values[index], reading?.decimals ?? 1, unit)}`}`
            : `${trim(longest, 0)} m long · height ${trim(heights[0], 0)} to ${trim(heights[1], 0)} m${name === "height" ? "" : ` · ${reading?.title.toLowerCase()} ${trim(values[0], 2)} to ${trim(values[1], 2)}${unit}`}`}
        </Box>
        <IconButton size="small" aria-label="Take the profile line off" onClick={() => set({ profile: null })}>
          <CloseIcon sx={{ fontSize: 16 }} />
        </IconButton>
      </Box>
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        width="100%"
        height={HEIGHT}
        preserveAspectRatio="none"
        role="img"
        aria-label={`Height and ${reading?.title.toLowerCase() ?? name} along the line`}
        onPointerMove={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          setAt(Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1));
        }}
        onPointerLeave={() => setAt(null)}
      >
        {line &&
          pieces(line.along, line.heights, heights[0], heights[1]).map((points, i) => (
            <g key={i}>
              <polygon
                points={`${points.split(" ")[0]?.split(",")[0] ?? 0},${HEIGHT} ${points} ${points.split(" ").at(-1)?.split(",")[0] ?? 0},${HEIGHT}`}
                fill={onMap.ground}
                fillOpacity="0.35"
              />
              <polyline points={points} fill="none" stroke={onMap.groundLine} vectorEffect="non-scaling-stroke" />
            </g>
          ))}
        {line &&
          name !== "height" &&
          pieces(line.along, line.values, values[0], values[1]).map((points, i) => (
            <polyline
              key={i}
              points={points}
              fill="none"
              stroke={roles.gentian}
              strokeWidth="1.4"
              vectorEffect="non-scaling-stroke"
            />
          ))}
        {at !== null && (
          <line
            x1={at * WIDTH}
            x2={at * WIDTH}
            y1="0"
            y2={HEIGHT}
            stroke={roles.gentian}
            vectorEffect="non-scaling-stroke"
          />
        )}
      </svg>
    </Box>
  );
});
