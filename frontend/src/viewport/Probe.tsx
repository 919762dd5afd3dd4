import { Box } from "@mui/material";
import { useEffect, useState } from "react";
import { ask, client } from "../api/client";
import { useReadings } from "../api/queries";
import type { ProjectState, Reading } from "../api/types";
import { sourceTitle } from "../packing/sources";
import { useProject } from "../state/document";
import type { Subject } from "../state/view";
import { MONO } from "../theme";
import { trim } from "./subjects";

export interface ProbePoint {
  row: number;
  col: number;
  panel: number;
}

interface Row {
  title: string;
  name: string;
  unit: string;
  decimals: number;
}

function reading(name: string, readings: Reading[]): Row {
  const found = readings.find((item) => item.name === name);
  return {
    title: found?.title ?? name,
    name: `reading:${name}`,
    unit: found?.unit ?? "",
    decimals: found?.decimals ?? 1,
  };
}

/** What is worth reading off under the pointer, for each subject. */
function rowsOf(subject: Subject, state: ProjectState, readings: Reading[]): Row[] {
  const rows = [reading("height", readings), reading("slope", readings)];
  const { document } = state;
  const weights = () =>
    [{ id: "base", name: document.base.name }, ...document.layers].map((layer) => ({
      title: layer.name,
      name: `weight:${layer.id}`,
      unit: "",
      decimals: 2,
    }));
  switch (subject.kind) {
    case "ground":
      return rows;
    case "reading":
      if (subject.name !== "height" && subject.name !== "slope") rows.push(reading(subject.name, readings));
      return rows;
    case "mask": {
      const mask = document.masks.find((item) => item.id === subject.id);
      rows.push({ title: mask?.name ?? "Mask", name: `mask:${subject.id}`, unit: "", decimals: 2 });
      if (document.layers.some((layer) => layer.mask === subject.id)) rows.push(...weights());
      return rows;
    }
    case "layers":
      return [...rows, ...weights()];
    case "sheet":
    case "channel": {
      const id = subject.kind === "sheet" ? subject.id : subject.sheet;
      const sheet = document.sheets.find((item) => item.id === id);
      const letters = sheet?.layout === "grey" ? "r" : sheet?.layout === "rgb" ? "rgb" : "rgba";
      return [...letters].map((letter) => {
        const source = sheet?.[letter as "r" | "g" | "b" | "a"];
        const title = `${letter.toUpperCase()} ${source ? sourceTitle(source, document) : "empty"}`;
        return { title, name: `channel:${id}:${letter}`, unit: "", decimals: 0 };
      });
    }
    case "fit":
      return [reading("height", readings)];
  }
}

export function Probe({ point, subject }: { point: ProbePoint | null; subject: Subject }) {
  const state = useProject();
  const readings = useReadings();
  const [values, setValues] = useState<Record<string, number>>({});
  const rows = rowsOf(subject, state, readings);
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

  if (!point) return null;
  const water = state.document.ground.water;
  const height = values["reading:height"];
  const lines: [string, string][] = [
    ["East", `${trim(col * home.spacing_x, 1)} m`],
    ["North", `${trim((home.rows - 1 - row) * home.spacing_y, 1)} m`],
    ...rows.map((item): [string, string] => {
      const value = values[item.name];
      return [
        item.title,
        value === undefined
          ? "…"
          : `${trim(value, item.decimals)}${item.unit === "°" ? "°" : ` ${item.unit}`}`,
      ];
    }),
  ];
  if (subject.kind === "ground" && typeof water === "number" && height !== undefined)
    lines.push(["Over water", `${height >= water ? "+" : "−"}${trim(Math.abs(height - water), 1)} m`]);
  return (
    <Box
      data-testid="probe"
      sx={{
        position: "absolute",
        right: 12,
        bottom: 12,
        minWidth: 180,
        maxWidth: 260,
        bgcolor: "background.paper",
        borderRadius: 1.5,
        px: 1.4,
        py: 1,
        pointerEvents: "none",
      }}
    >
      {lines.map(([title, value]) => (
        <Box
          key={title}
          sx={{ display: "flex", justifyContent: "space-between", gap: 2, fontSize: 12.5, lineHeight: 1.6 }}
        >
          <span>{title}</span>
          <Box component="span" sx={{ fontFamily: MONO, whiteSpace: "nowrap" }}>
            {value.trim()}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
