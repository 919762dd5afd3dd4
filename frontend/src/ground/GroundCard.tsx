import { Box, Button, Typography } from "@mui/material";
import { useStats } from "../api/queries";
import { useEffect } from "react";
import { ChoiceToken } from "../parts/ChoiceToken";
import { Card, Heading, Piece, WhereItGoes } from "../parts/Card";
import { NumberToken } from "../parts/NumberToken";
import { useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { MONO } from "../theme";
import { trim } from "../viewport/subjects";

export function GroundCard() {
  const { document, home } = useProject();
  const edit = useDocument((store) => store.edit);
  const show = useView((view) => view.show);
  const stats = useStats("reading:height");
  const { ground } = document;

  useEffect(() => show({ kind: "ground", style: "heights" }), [show]);

  const set = (part: Record<string, unknown>, key: boolean, field: string) =>
    edit([{ op: "set_ground", no_water: false, ...part }], {
      merge: key ? `ground:${field}` : "",
      what: "a measure of the ground",
    });
  const metres = (label: string, field: "low" | "high" | "water", value: number) => (
    <NumberToken
      label={label}
      value={value}
      unit="m"
      min={-20000}
      max={20000}
      step={1}
      decimals={2}
      onCommit={(v, key) => set({ [field]: v }, key, field)}
    />
  );
  const spacing = (label: string, field: "spacing_x" | "spacing_y", value: number) => (
    <NumberToken
      label={label}
      value={value}
      unit="m"
      min={0.001}
      max={10000}
      step={0.1}
      decimals={4}
      onCommit={(v, key) => set({ [field]: v }, key, field)}
    />
  );
  const stored = ground.heights === "stored";
  const low = stored ? ground.stored_low : ground.low;
  const high = stored ? ground.stored_high : ground.high;
  const levels = ground.depth === "8" ? 255 : ground.depth === "16" ? ground.stored_high - ground.stored_low : null;
  const order = ground.byte_order ? ` · ${ground.byte_order} endian` : "";
  const format = { png: "PNG", tiff: "TIFF", raw16: "raw" }[ground.file_format];
  return (
    <Card
      title="Ground"
      sub={`${ground.file_name} · ${format} ${ground.depth}${order} · ${trim(home.cols)} × ${trim(home.rows)} · north up`}
      foot={<WhereItGoes steps={["Ground", "readings", "masks", "height file"]} />}
    >
      <Heading aside="every length is in metres">What it measures</Heading>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: "auto 1fr auto 1fr",
          gap: "7px 10px",
          alignItems: "center",
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
        <span>Mean</span>
        <Value text={stats.data ? `${trim(stats.data.mean, 1)} m` : "…"} />
        <span>One step</span>
        <Value text={levels ? `${trim(((high - low) / levels) * 1000, 1)} mm` : "float"} />
      </Box>

      <Heading>Heights</Heading>
      <Piece>
        <Box sx={{ lineHeight: 2.1, fontSize: 13.5 }}>
          Take heights{" "}
          <ChoiceToken
            label="How heights are taken"
            value={ground.heights}
            choices={[
              { value: "range", label: "from low to high" },
              { value: "stored", label: "as stored, in metres" },
            ]}
            onChange={(v) => void set({ heights: v }, false, "heights")}
          />
          {stored ? (
            <> : the file's numbers are metres.</>
          ) : (
            <>
              : its lowest sample is {metres("Low", "low", ground.low)} and its highest{" "}
              {metres("High", "high", ground.high)}
            </>
          )}
        </Box>
      </Piece>

      <Heading>Spacing</Heading>
      <Piece>
        <Box sx={{ lineHeight: 2.1, fontSize: 13.5 }}>
          Neighbouring samples lie {spacing("Spacing east–west", "spacing_x", ground.spacing_x)} apart east–west and{" "}
          {spacing("Spacing north–south", "spacing_y", ground.spacing_y)} north–south.
        </Box>
        <Typography variant="caption" color="textSecondary">
          The edge samples lie on the border: {trim(home.cols)} samples at {trim(ground.spacing_x, 4)} m span{" "}
          {trim(home.width)} m.
        </Typography>
      </Piece>

      <Heading>Water</Heading>
      <Piece>
        <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between", fontSize: 13.5 }}>
          {typeof ground.water === "number" ? (
            <>
              <span>Water stands at {metres("Water level", "water", ground.water)}</span>
              <Button color="inherit" onClick={() => void edit([{ op: "set_ground", no_water: true }])}>
                No water
              </Button>
            </>
          ) : (
            <>
              <span>No water here.</span>
              <Button
                variant="outlined"
                color="inherit"
                onClick={() => void set({ water: Math.round(low + (high - low) * 0.05) }, false, "water")}
              >
                Set a level
              </Button>
            </>
          )}
        </Box>
      </Piece>
      <Typography variant="caption" color="textSecondary">
        This version reads the heightmap as it is: preparation steps (fill, crop, soften…) and replacing the file come
        later. A new heightmap makes a new project, from the shelf.
      </Typography>
    </Card>
  );
}

function Value({ text }: { text: string }) {
  return (
    <Box
      component="span"
      sx={{
        fontFamily: MONO,
        fontSize: 12.5,
        textAlign: "right",
        color: "text.primary",
        whiteSpace: "nowrap",
      }}
    >
      {text}
    </Box>
  );
}
