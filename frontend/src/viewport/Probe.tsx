import type { MapText } from "../api/mapNames";
import { HEIGHT } from "./overlays";
import { fitName } from "./subjects/fit";
import type { Probed } from "./subjects/kind";
import { kindOf, probed } from "./subjects/register";
import { Box } from "@mui/material";
import { useEffect, useState } from "react";
import { ask, client } from "../api/client";
import { useReadings } from "../document/queries";
import type { ProjectState } from "../api/types";
import { useProject } from "../document/document";
import type { Subject } from "./subjects/subject";
import { mapStore } from "./pictures";
import { MONO } from "../kit/theme";
import { trim } from "../kit/numbers";
import { northOf, placeOf, sampleOn } from "./places";

export interface ProbePoint {
  row: number;
  col: number;
  panel: number;
}

const GROUND: Subject = { kind: "ground", style: "heights" };

/** What the last fit check read at a place, from its own arrays. */
function useFitValues(subject: Subject, state: ProjectState, row: number, col: number) {
  const [found, setFound] = useState<{ title: string; value: string }[] | null>(null);
  const fit = subject.kind === "fit" ? subject : null;
  useEffect(() => {
    if (!fit || row < 0) return;
    let current = true;
    const wanted = { state, subject: fit, readings: [], options: { tint: 0, water: false } };
    const parts = ["meant", "rebuilt", "difference"] as const;
    Promise.all(parts.map((part) => mapStore.load(wanted, fitName(fit, part)))).then(
      (maps) => {
        const told = maps.map((map) => {
          const { row: r, col: c } = sampleOn(map.grid, state.home, row, col);
          const at = (r * map.cols + c) * map.channels;
          const every = [...map.values.slice(at, at + map.channels)];
          return fit.channel === null ? every : every.slice(fit.channel, fit.channel + 1);
        });
        const digits = fit.metres ? 4 : fit.full > 1 ? 0 : 4;
        const words = (values: number[] | undefined) =>
          (values ?? []).map((v) => trim(v, digits)).join(" ") + (fit.metres ? " m" : "");
        if (!current) return;
        setFound([
          { title: "Meant", value: words(told[0]) },
          { title: "Rebuilt", value: words(told[1]) },
          {
            title: "Difference",
            value: fit.metres ? `${((told[2]?.[0] ?? 0) * 1000).toFixed(2)} mm` : words(told[2]),
          },
        ]);
      },
      // Without pictures of the check there is nothing to add.
      () => undefined,
    );
    return () => {
      current = false;
    };
  }, [fit, state, row, col]);
  return fit ? found : null;
}

function shown(value: number | null | undefined, row: Probed): string {
  if (value === undefined) return "…";
  if (value === null) return "none";
  if (row.unit === "") return value.toFixed(row.decimals);
  if (row.unit === "1/m") return `${value.toFixed(4)} /m`;
  return row.unit === "°" ? `${value.toFixed(row.decimals)}°` : `${trim(value, row.decimals)} ${row.unit}`;
}

/** The bytes of a painted map at a place, from its array: as a colour code, or as a number. */
function colourAt(state: ProjectState, name: MapText, row: number, col: number): string | null {
  const wanted = { state, subject: GROUND, readings: [], options: { tint: 0, water: false } };
  const map = mapStore.get(wanted, name);
  if (!map) return null;
  const { row: r, col: c } = sampleOn(map.grid, state.home, row, col);
  const at = (r * map.cols + c) * map.channels;
  // How much of a picture is there is no part of its colour.
  const parts = [...map.values.slice(at, at + Math.min(map.channels, 3))];
  if (parts.length === 1) return String(parts[0]);
  return `#${parts.map((part) => part.toString(16).padStart(2, "0")).join("")}`;
}

/** `placed` false: whoever shows it says where. */
export function Probe({
  point,
  subjects,
  placed = true,
}: {
  point: ProbePoint | null;
  subjects: Subject[];
  placed?: boolean;
}) {
  const state = useProject();
  const readings = useReadings();
  const [values, setValues] = useState<Record<string, number | null>>({});
  const subject = subjects[0] ?? GROUND;
  const every = subjects.flatMap((one) => probed(one, state, readings));
  const rows = every.filter((item, i) => every.findIndex((other) => other.name === item.name) === i);
  const names = rows.map((row) => row.name).join(",");
  const { id, revision, home } = state;
  const { row, col } = point ?? { row: -1, col: -1 };

  useEffect(() => {
    if (row < 0) return;
    const stop = new AbortController();
    const timer = setTimeout(() => {
      ask(
        client.GET("/api/projects/{project_id}/probe", {
          params: { path: { project_id: id }, query: { row, col, names } },
          signal: stop.signal,
        }),
      ).then(
        (found) => setValues(found.values),
        // The probe is a convenience: the next movement asks again.
        () => undefined,
      );
    }, 25);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [id, revision, row, col, names]);

  const fitted = useFitValues(subject, state, row, col);
  if (!point) return null;
  const water = state.document.ground.water;
  const height = values[HEIGHT];
  const lines: { title: string; value: string; group?: string | undefined }[] = [
    { title: "East", value: `${trim(placeOf(home, row, col).east, 1)} m` },
    { title: "North", value: `${trim(northOf(home, row), 1)} m` },
    ...rows.map((item) => ({ title: item.title, group: item.group, value: shown(values[item.name], item) })),
  ];
  if (fitted) lines.push(...fitted);
  const painted = kindOf(subject).colourAt?.(subject);
  const colour = painted && colourAt(state, painted.name, row, col);
  if (colour) lines.push({ title: painted.title, value: colour });
  if (subject.kind === "ground" && typeof water === "number" && typeof height === "number")
    lines.push({
      title: "Over water",
      value: `${height >= water ? "+" : "−"}${trim(Math.abs(height - water), 1)} m`,
    });
  return (
    <Box
      data-testid="probe"
      sx={{
        ...(placed ? { position: "absolute", right: 12, bottom: 12 } : {}),
        minWidth: 180,
        maxWidth: 260,
        bgcolor: "background.paper",
        borderRadius: 1.5,
        px: 1.4,
        py: 1,
        pointerEvents: "none",
      }}
    >
      {lines.map((line, i) => (
        <Box key={`${line.group ?? ""}${line.title}`}>
          {line.group && line.group !== lines[i - 1]?.group && (
            <Box
              sx={{
                fontSize: 11.5,
                color: "text.secondary",
                borderTop: 1,
                borderColor: "divider",
                mt: 0.5,
                pt: 0.4,
              }}
            >
              {line.group}
            </Box>
          )}
          <Box sx={{ display: "flex", justifyContent: "space-between", gap: 2, fontSize: 12.5, lineHeight: 1.6 }}>
            <span>{line.title}</span>
            <Box component="span" sx={{ fontFamily: MONO, whiteSpace: "nowrap" }}>
              {line.value}
            </Box>
          </Box>
        </Box>
      ))}
    </Box>
  );
}
