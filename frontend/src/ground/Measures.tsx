import { Box, Button } from "@mui/material";
import { useState } from "react";
import { ask, client } from "../api/client";
import type { Diagnosis } from "../api/types";
import { ChoiceToken } from "../parts/ChoiceToken";
import { Heading, Piece } from "../parts/Card";
import { NumberToken } from "../parts/NumberToken";
import { useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { MONO } from "../theme";
import { fileEnds, trim } from "../viewport/subjects";

/** What the ground measures: heights, spacing or width and length, water. */
export function Measures({ diagnosis }: { diagnosis: Diagnosis | undefined }) {
  const { document, home } = useProject();
  const { ground } = document;
  const [low, high] = diagnosis ? [diagnosis.low, diagnosis.high] : fileEnds(ground);
  const levels = ground.depth === "8" ? 255 : ground.depth === "16" ? ground.stored_high - ground.stored_low : null;
  const [fileLow, fileHigh] = fileEnds(ground);
  return (
    <>
      <Heading aside="every length is in metres">What it measures</Heading>
      <Box
        data-testid="measures"
        sx={{
          display: "grid",
          gridTemplateColumns: "auto 1fr auto 1fr",
          gap: "5px 10px",
          alignItems: "center",
          fontSize: 13.5,
          "& > :nth-of-type(odd)": { color: "text.secondary" },
        }}
      >
        <span>Lowest</span>
        <Value text={`${trim(low)} m`} />
        <span>Samples</span>
        <Value text={`${trim(home.cols)} × ${trim(home.rows)}`} />
        <span>Highest</span>
        <Value text={`${trim(high)} m`} />
        <span>Width</span>
        <Value text={`${trim(home.width)} m`} />
        <span>Range</span>
        <Value text={`${trim(high - low)} m`} />
        <span>Length</span>
        <Value text={`${trim(home.length)} m`} />
        <span>Spacing</span>
        <Value
          text={
            home.spacing_x === home.spacing_y
              ? `${trim(home.spacing_x, 3)} m`
              : `${trim(home.spacing_x, 3)} × ${trim(home.spacing_y, 3)} m`
          }
        />
        <span>One step</span>
        <Value text={levels ? `${trim(((fileHigh - fileLow) / levels) * 1000, 1)} mm` : "float"} />
      </Box>
      <Box sx={{ mt: 1 }}>
        <Piece>
          <Sentences />
        </Piece>
      </Box>
    </>
  );
}

function Sentences() {
  const { document, id, home } = useProject();
  const edit = useDocument((store) => store.edit);
  const { ground } = document;
  const [by, setBy] = useState<"spacing" | "extent">("spacing");
  const set = (part: Record<string, unknown>, key: boolean, field: string) =>
    edit([{ op: "set_ground", no_water: false, ...part }], {
      merge: key ? `ground:${field}` : "",
      what: "a measure of the ground",
    });
  const look = useView((view) => view.set);
  const metres = (
    label: string,
    value: number,
    onCommit: (v: number, key: boolean) => Promise<boolean>,
    onPreview: (v: number | null) => void = () => undefined,
  ) => (
    <NumberToken
      label={label}
      value={value}
      unit="m"
      min={-20000}
      max={20000}
      step={1}
      decimals={2}
      onPreview={onPreview}
      onCommit={onCommit}
    />
  );
  const locked = ground.ratio_locked !== false;
  const along = (axis: "x" | "y", spacing: number, key: boolean) => {
    const own = axis === "x" ? "spacing_x" : "spacing_y";
    const other = axis === "x" ? "spacing_y" : "spacing_x";
    const ratio = (ground[other] ?? 1) / (ground[own] ?? 1);
    return set({ [own]: spacing, ...(locked ? { [other]: spacing * ratio } : {}) }, key, own);
  };
  const length = (label: string, axis: "x" | "y") => {
    const spacing = (axis === "x" ? ground.spacing_x : ground.spacing_y) ?? 1;
    const spans = (axis === "x" ? ground.cols : ground.rows) - 1;
    const k = by === "spacing" ? 1 : spans;
    return (
      <NumberToken
        label={label}
        value={spacing * k}
        unit="m"
        min={0.001 * k}
        max={10000 * k}
        step={by === "spacing" ? 0.1 : 10}
        decimals={by === "spacing" ? 4 : 2}
        onCommit={(value, key) => along(axis, value / k, key)}
      />
    );
  };
  const read = async (row: number, col: number) => {
    const found = await ask(
      client.GET("/api/projects/{project_id}/probe", {
        params: { path: { project_id: id }, query: { row, col, names: "at:0:height" } },
      }),
    );
    const [low, high] = fileEnds(ground);
    const height = found.values["at:0:height"] ?? low;
    const per = (ground.stored_high - ground.stored_low) / (high - low || 1);
    return { row, col, metres: height, stored: ground.stored_low + (height - low) * per };
  };
  /** Heights at two corners as they are now: a pair of points to begin with. */
  const takePoints = async () => {
    const far = [Math.min(home.rows, ground.rows) - 1, Math.min(home.cols, ground.cols) - 1] as const;
    const [first, second] = await Promise.all([read(0, 0), read(far[0], far[1])]);
    await set({ heights: "points", points: { first, second } }, false, "heights");
  };
  const points = ground.points;
  const place = (which: "first" | "second", axis: "row" | "col", label: string, count: number) =>
    points && (
      <NumberToken
        label={label}
        value={points[which][axis] + 1}
        unit=""
        min={1}
        max={count}
        step={1}
        decimals={0}
        onCommit={async (v, key) => {
          const at = { ...points[which], [axis]: Math.round(v) - 1 };
          const found = await read(at.row, at.col);
          return set({ points: { ...points, [which]: found } }, key, `points-${which}-${axis}`);
        }}
      />
    );
  const point = (which: "first" | "second", label: string) =>
    points && (
      <>
        {metres(label, points[which].metres, (v, key) =>
          set({ points: { ...points, [which]: { ...points[which], metres: v } } }, key, `points-${which}`),
        )}{" "}
        at row {place(which, "row", `Row of ${label.slice(10)}`, ground.rows)}, column{" "}
        {place(which, "col", `Column of ${label.slice(10)}`, ground.cols)}
      </>
    );
  return (
    <Box sx={{ fontSize: 13.5, "& > div": { lineHeight: 2 } }}>
      <div>
        Heights{" "}
        <ChoiceToken
          label="How heights are taken"
          value={ground.heights ?? "range"}
          choices={[
            { value: "range", label: "from low to high" },
            { value: "stored", label: "as stored, in metres" },
            { value: "points", label: "from two known points" },
          ]}
          onChange={(v) => (v === "points" ? void takePoints() : void set({ heights: v }, false, "heights"))}
        />
        {ground.heights === "range" && (
          <>
            : {metres("Low", ground.low ?? 0, (v, key) => set({ low: v }, key, "low"))} to{" "}
            {metres("High", ground.high ?? 0, (v, key) => set({ high: v }, key, "high"))}
          </>
        )}
        {ground.heights === "points" && (
          <>
            : {point("first", "Height of the first point")} and {point("second", "Height of the second point")}
          </>
        )}
      </div>
      <div>
        <ChoiceToken
          label="What is typed of the size"
          value={by}
          choices={[
            { value: "spacing", label: "Samples lie" },
            { value: "extent", label: "The file spans" },
          ]}
          onChange={(v) => setBy(v as typeof by)}
        />{" "}
        {length(by === "spacing" ? "Spacing east–west" : "Width", "x")}{" "}
        {by === "spacing" ? "apart east–west and" : "east–west and"}{" "}
        {length(by === "spacing" ? "Spacing north–south" : "Length", "y")} north–south,{" "}
        <ChoiceToken
          label="Ratio of both"
          value={locked ? "locked" : "free"}
          choices={[
            { value: "locked", label: "changed together" },
            { value: "free", label: "each alone" },
          ]}
          onChange={(v) => void set({ ratio_locked: v === "locked" }, false, "ratio")}
        />
      </div>
      <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between" }}>
        {typeof ground.water === "number" ? (
          <>
            <span>
              Water stands at{" "}
              {metres(
                "Water level",
                ground.water,
                async (v, key) => {
                  const done = await set({ water: v }, key, "water");
                  look({ shore: null });
                  return done;
                },
                (v) => look({ shore: v }),
              )}
            </span>
            <Button size="small" color="inherit" onClick={() => void edit([{ op: "set_ground", no_water: true }])}>
              No water
            </Button>
          </>
        ) : (
          <>
            <span>No water here.</span>
            <Button
              size="small"
              variant="outlined"
              color="inherit"
              onClick={() => {
                const [low, high] = fileEnds(ground);
                void set({ water: Math.round(low + (high - low) * 0.05) }, false, "water");
              }}
            >
              Set a level
            </Button>
          </>
        )}
      </Box>
    </Box>
  );
}

function Value({ text }: { text: string }) {
  return (
    <Box
      component="span"
      sx={{ fontFamily: MONO, fontSize: 12.5, textAlign: "right", color: "text.primary", whiteSpace: "nowrap" }}
    >
      {text}
    </Box>
  );
}
