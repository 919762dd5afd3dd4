import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  TextField,
  Typography,
} from "@mui/material";
import UploadIcon from "@mui/icons-material/FileUploadOutlined";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, sentence, upload } from "../api/client";
import type { Inspection } from "../api/types";
import { ChoiceToken } from "../parts/ChoiceToken";
import { Segments } from "../parts/Segments";
import { MONO } from "../theme";
import { trim } from "../viewport/subjects";

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
  return found ? (
    <Measures found={found} onFound={setFound} onClose={onClose} onBack={() => setFound(null)} />
  ) : (
    <Choose onFound={setFound} onClose={onClose} />
  );
}

function Choose({ onFound, onClose }: { onFound: (found: Inspection) => void; onClose: () => void }) {
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [raw, setRaw] = useState<{ file: File; rows: string; columns: string } | null>(null);
  const take = async (file: File, size?: { rows: number; columns: number }) => {
    setBusy(true);
    setTrouble(null);
    try {
      const query = size ? `?rows=${size.rows}&columns=${size.columns}` : "";
      onFound(await upload<Inspection>(`/api/heightmaps${query}`, file));
    } catch (error) {
      setTrouble(sentence(error));
      // A headerless file whose length is no square: the artist knows its size.
      const needsSize = error instanceof Error && "field" in error && error.field === "rows";
      setRaw(needsSize ? { file, rows: "", columns: "" } : null);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <DialogTitle>New from a heightmap</DialogTitle>
      <DialogContent>
        <Box
          component="label"
          onDragOver={(event: React.DragEvent) => event.preventDefault()}
          onDrop={(event: React.DragEvent) => {
            event.preventDefault();
            const file = event.dataTransfer.files[0];
            if (file) void take(file);
          }}
          sx={{
            display: "block",
            border: "1px dashed",
            borderColor: "text.secondary",
            borderRadius: 2,
            p: 4,
            textAlign: "center",
            cursor: "pointer",
            "&:focus-within": { outline: "2px solid", outlineColor: "secondary.main" },
          }}
        >
          <UploadIcon />
          <Typography sx={{ fontWeight: 650 }}>Choose a file, or drop it here</Typography>
          <Typography variant="body2" color="textSecondary">
            PNG 8 or 16 grey, TIFF 16 or 32-bit float, raw 16 of any extension
          </Typography>
          <input
            type="file"
            data-testid="heightmap"
            style={{ position: "absolute", opacity: 0, width: 1, height: 1 }}
            onChange={(event) => {
              const file = event.target.files?.[0];
              event.target.value = "";
              if (file) void take(file);
            }}
          />
        </Box>
        {busy && <LinearProgress aria-label="Reading the file" sx={{ mt: 2 }} />}
        {trouble && (
          <Alert severity="error" sx={{ mt: 2 }}>
            {trouble}
          </Alert>
        )}
        {raw && (
          <Box sx={{ display: "flex", gap: 1.5, mt: 2, alignItems: "center" }}>
            <TextField
              label="Columns"
              value={raw.columns}
              onChange={(event) => setRaw({ ...raw, columns: event.target.value })}
            />
            <TextField
              label="Rows"
              value={raw.rows}
              onChange={(event) => setRaw({ ...raw, rows: event.target.value })}
            />
            <Button
              variant="contained"
              disabled={!(Number(raw.rows) > 0 && Number(raw.columns) > 0)}
              onClick={() =>
                void take(raw.file, {
                  rows: Math.round(Number(raw.rows)),
                  columns: Math.round(Number(raw.columns)),
                })
              }
            >
              Read it so
            </Button>
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Cancel
        </Button>
      </DialogActions>
    </>
  );
}

/** A typed number; a comma is as good as a point. */
function value(text: string): number {
  return Number(text.replace(",", "."));
}

interface MeasuresProps {
  found: Inspection;
  onFound: (found: Inspection) => void;
  onClose: () => void;
  onBack: () => void;
}

function Measures({ found, onFound, onClose, onBack }: MeasuresProps) {
  const go = useNavigate();
  const float = found.depth === "32f";
  const [name, setName] = useState(
    found.name
      .replace(/\.[^.]*$/, "")
      .replace(/[_-]+/g, " ")
      .trim() || "New ground",
  );
  const [heights, setHeights] = useState<"stored" | "range">(float ? "stored" : "range");
  const [low, setLow] = useState(float ? trimPlain(found.low) : "0");
  const [high, setHigh] = useState(float ? trimPlain(found.high) : "500");
  const [x, setX] = useState("4");
  const [y, setY] = useState("4");
  const [water, setWater] = useState("");
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const source = {
    asset: found.asset,
    name: found.name,
    rows: found.rows,
    columns: found.columns,
    byte_order: found.byte_order,
  };

  const readAgain = async (part: Partial<typeof source>) => {
    try {
      onFound(await ask(client.POST("/api/heightmaps/again", { body: { ...source, ...part } })));
    } catch (error) {
      setTrouble(sentence(error));
    }
  };
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
            low: value(low),
            high: value(high),
            spacing_x: value(x),
            spacing_y: value(y),
            water: water.trim() === "" ? null : value(water),
          },
        }),
      );
      await go(`/project/${made.id}/ground`);
    } catch (error) {
      setTrouble(sentence(error));
      setBusy(false);
    }
  };
  const numbers = [x, y, ...(heights === "range" ? [low, high] : [])];
  const good =
    name.trim() !== "" &&
    numbers.every((text) => text.trim() !== "" && Number.isFinite(value(text))) &&
    (water.trim() === "" || Number.isFinite(value(water)));
  const width = (found.columns - 1) * value(x);
  const length = (found.rows - 1) * value(y);
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
        <Typography variant="body2" sx={{ mb: 1 }} data-testid="inspection">
          <b>{found.name}</b> · {found.format === "raw16" ? "raw" : found.format.toUpperCase()} {found.depth} ·{" "}
          {trim(found.columns)} × {trim(found.rows)} · {trim(found.low)} to {trim(found.high)} stored ·{" "}
          {trim(found.levels)} levels
        </Typography>
        {found.findings.map((item) => (
          <Alert key={item.code} severity={item.severity === "attention" ? "warning" : "info"} sx={{ mb: 1, py: 0 }}>
            {item.message}
          </Alert>
        ))}
        {found.byte_order && (
          <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 2 }}>
            <Typography variant="body2">Byte order</Typography>
            <Segments
              label="Byte order"
              options={[
                { value: "little", label: "little endian" },
                { value: "big", label: "big endian" },
              ]}
              value={found.byte_order}
              onChange={(order) => void readAgain({ byte_order: order })}
            />
          </Box>
        )}
        {found.sizes.length > 1 && (
          <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 2 }}>
            <Typography variant="body2">Columns × rows</Typography>
            <ChoiceToken
              label="Columns and rows"
              value={`${found.columns}x${found.rows}`}
              choices={found.sizes.map((size) => ({
                value: `${size.columns}x${size.rows}`,
                label: `${size.columns} × ${size.rows}`,
              }))}
              onChange={(text) => {
                const [columns = 0, rows = 0] = text.split("x").map(Number);
                void readAgain({ rows, columns });
              }}
            />
          </Box>
        )}
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
                { value: "range", label: "from low to high" },
                { value: "stored", label: "as stored, in metres" },
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
          {field("Spacing east–west, m", x, setX, Number.isFinite(width) ? `${trim(width)} m wide` : " ")}
          {field("Spacing north–south, m", y, setY, Number.isFinite(length) ? `${trim(length)} m long` : " ")}
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

function trimPlain(value: number): string {
  return String(Number(value.toFixed(3)));
}
