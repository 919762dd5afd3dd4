import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, sentence, type Schemas } from "../api/client";
import type { Inspection } from "../api/types";
import { Segments } from "../kit/Segments";
import { MONO } from "../kit/theme";
import { trim } from "../kit/numbers";
import { ChooseHeightmap } from "../waypoints/files/ChooseHeightmap";
import { TAB } from "../document/document";
import { SurveyDesk, type Surveyed } from "./SurveyDesk";
import { LevelGround } from "./LevelGround";
import { FileReading, InspectionLine, layoutOf } from "../waypoints/files/FileReading";

/** A heightmap becomes a project: look at the file, say what it measures. */
export function NewProjectDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm">
      {open && <Steps onClose={onClose} />}
    </Dialog>
  );
}

function Steps({ onClose }: { onClose: () => void }) {
  const [found, setFound] = useState<Inspection | null>(null);
  const [surveyed, setSurveyed] = useState<Surveyed | null>(null);
  const [atDesk, setAtDesk] = useState(false);
  const [level, setLevel] = useState(false);
  if (found)
    return (
      <FirstMeasures
        found={found}
        surveyed={surveyed}
        onFound={setFound}
        onClose={onClose}
        onBack={() => {
          setFound(null);
          setSurveyed(null);
        }}
      />
    );
  if (atDesk)
    return (
      <SurveyDesk
        onSurveyed={(square) => {
          setSurveyed(square);
          setFound(square.inspection);
        }}
        onBack={() => setAtDesk(false)}
      />
    );
  if (level) return <LevelGround onBack={() => setLevel(false)} />;
  const more = (
    <>
      <Button variant="outlined" color="inherit" sx={{ mt: 2, mr: 1 }} onClick={() => setAtDesk(true)}>
        Or take a square from the survey desk…
      </Button>
      <Button color="inherit" sx={{ mt: 2 }} onClick={() => setLevel(true)}>
        Or level ground…
      </Button>
    </>
  );
  return <ChooseHeightmap title="New from a heightmap" more={more} onFound={setFound} onClose={onClose} />;
}

/** A typed number; a comma is as good as a point. */
function value(text: string): number {
  return Number(text.replace(",", "."));
}

interface MeasuresProps {
  found: Inspection;
  /** What the survey desk said of it, if it came from there. */
  surveyed: Surveyed | null;
  onFound: (found: Inspection) => void;
  onClose: () => void;
  onBack: () => void;
}

/** What a project is called at first: its file, in words. */
const firstName = (file: string) =>
  file
    .replace(/\.[^.]*$/, "")
    .replace(/[_-]+/g, " ")
    .trim() || "New ground";

type How = Schemas["NewProject"]["heights"];
/** Metres that the highest sample stands for until somebody says. */
const HIGH = 500;

function FirstMeasures({ found, surveyed, onFound, onClose, onBack }: MeasuresProps) {
  const go = useNavigate();
  const { placement } = found;
  // Floats and signed numbers are metres already, and so is what a file with a place in the world holds.
  const float = /f$|signed|RGB/.test(found.depth) || placement?.metres === true;
  const [name, setName] = useState(firstName(found.name));
  const [heights, setHeights] = useState<How>(surveyed?.heights ?? (float ? "stored" : "range"));
  const [step, setStep] = useState(String(Number((HIGH / (found.code_ends?.[1] || 1)).toPrecision(6))));
  const [zero, setZero] = useState("0");
  const [low, setLow] = useState(surveyed ? String(surveyed.low) : float ? trimPlain(found.low) : "0");
  const [high, setHigh] = useState(surveyed ? String(surveyed.high) : float ? trimPlain(found.high) : "500");
  const [x, setX] = useState(spacing(surveyed?.spacing ?? placement?.spacing_x));
  const [y, setY] = useState(spacing(surveyed?.spacing ?? placement?.spacing_y));
  const [samples, setSamples] = useState<"border" | "cells">(placement?.registration === "area" ? "cells" : "border");
  const [water, setWater] = useState("");
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const source = layoutOf(found);
  const make = async () => {
    setBusy(true);
    setTrouble(null);
    try {
      const made = await ask(
        client.POST("/api/projects", {
          body: {
            name: name.trim(),
            source,
            heights,
            low: heights === "range" ? value(low) : 0,
            high: heights === "range" ? value(high) : HIGH,
            metres_a_step: heights === "step" ? value(step) : 1,
            at_zero: heights === "step" ? value(zero) : 0,
            at_black: heights === "ends" ? value(low) : 0,
            at_white: heights === "ends" ? value(high) : HIGH,
            spacing_x: value(x),
            spacing_y: value(y),
            samples,
            water: water.trim() === "" ? null : value(water),
          },
        }),
      );
      if (surveyed) {
        const setting = { id: "aerial", kind: "picture", name: "Aerial image", numbers: { asset: surveyed.aerial } };
        await ask(
          client.POST("/api/projects/{project_id}/edits", {
            params: { path: { project_id: made.id } },
            body: { base: made.revision, tab: TAB, merge: "", operations: [{ op: "add_reading", setting }] },
          }),
        );
      }
      await go(`/project/${made.id}/ground`);
    } catch (error) {
      setTrouble(sentence(error));
      setBusy(false);
    }
  };
  const between = heights === "range" || heights === "ends";
  const numbers = [x, y, ...(between ? [low, high] : heights === "step" ? [step, zero] : [])];
  const good =
    name.trim() !== "" &&
    numbers.every((text) => text.trim() !== "" && Number.isFinite(value(text))) &&
    (water.trim() === "" || Number.isFinite(value(water)));
  const less = samples === "cells" ? 0 : 1;
  const width = (found.columns - less) * value(x);
  const length = (found.rows - less) * value(y);
  const field = (label: string, shown: string, set: (text: string) => void, help = " ") => (
    <TextField
      label={label}
      value={shown}
      helperText={help}
      onChange={(event) => set(event.target.value)}
      slotProps={{ htmlInput: { inputMode: "decimal", style: { fontFamily: MONO } } }}
    />
  );
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (good && !busy) void make();
      }}
    >
      <DialogTitle>What it measures</DialogTitle>
      <DialogContent>
        <InspectionLine found={found} />
        {surveyed?.notes.map((note) => (
          <Alert key={note} severity="info" sx={{ mb: 1, py: 0 }}>
            {note}
          </Alert>
        ))}
        {found.findings.map((item) => (
          <Alert key={item.code} severity={item.severity === "attention" ? "warning" : "info"} sx={{ mb: 1, py: 0 }}>
            {item.message}
          </Alert>
        ))}
        <FileReading found={found} onFound={onFound} onTrouble={setTrouble} />
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.2, mt: 1 }}>
          <TextField
            label="Name"
            value={name}
            onChange={(event) => setName(event.target.value)}
            sx={{ gridColumn: "1 / -1", mb: 1 }}
          />
          <Box sx={{ gridColumn: "1 / -1", display: "flex", alignItems: "center", gap: 1.5, mb: 1 }}>
            <Typography variant="body2">Heights</Typography>
            <Segments
              label="Heights"
              options={[
                { value: "range", label: "low to high" },
                ...(found.code_ends
                  ? [
                      { value: "ends" as const, label: "black to white" },
                      { value: "step" as const, label: "metres a step" },
                    ]
                  : []),
                { value: "stored", label: "metres as stored" },
              ]}
              value={heights}
              onChange={setHeights}
            />
          </Box>
          {heights === "range" && (
            <>
              {field("Low, m", low, setLow, "height of the lowest sample")}
              {field("High, m", high, setHigh, `range ${trim(value(high) - value(low))} m`)}
            </>
          )}
          {heights === "ends" && (
            <>
              {field("Black, m", low, setLow, `height of stored ${trim(found.code_ends?.[0] ?? 0, 0)}`)}
              {field("White, m", high, setHigh, `height of stored ${trim(found.code_ends?.[1] ?? 0, 0)}`)}
            </>
          )}
          {heights === "step" && (
            <>
              {field("Metres a step", step, setStep, "from one stored number to the next")}
              {field("Stored 0, m", zero, setZero, "height of stored 0")}
            </>
          )}
          {field("Spacing east–west, m", x, setX, Number.isFinite(width) ? `${trim(width)} m wide` : " ")}
          {field("Spacing north–south, m", y, setY, Number.isFinite(length) ? `${trim(length)} m long` : " ")}
          <Box sx={{ gridColumn: "1 / -1", display: "flex", alignItems: "center", gap: 1.5, mb: 1 }}>
            <Typography variant="body2">The outermost samples lie</Typography>
            <Segments
              label="What samples stand for"
              options={[
                { value: "border", label: "on the border" },
                { value: "cells", label: "half a cell inside" },
              ]}
              value={samples}
              onChange={setSamples}
            />
          </Box>
          {field("Water level, m", water, setWater, "leave empty for none")}
        </Box>
        {trouble && <Alert severity="error">{trouble}</Alert>}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onBack}>
          Another file
        </Button>
        <Box sx={{ flex: 1 }} />
        <Button color="inherit" onClick={onClose}>
          Cancel
        </Button>
        <Button type="submit" variant="contained" disabled={!good || busy}>
          Make the project
        </Button>
      </DialogActions>
    </form>
  );
}

/** Metres between samples as typed; 4 where nobody says. */
function spacing(metres: number | undefined): string {
  return metres === undefined ? "4" : String(Number(metres.toFixed(6)));
}

function trimPlain(value: number): string {
  return String(Number(value.toFixed(3)));
}
