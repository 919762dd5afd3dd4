import {
  Alert,
  Box,
  Button,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  TextField,
  Typography,
} from "@mui/material";
import UploadIcon from "@mui/icons-material/FileUploadOutlined";
import { useEffect, useEffectEvent, useState } from "react";
import { Problem, sentence, upload, uploadAll } from "../../api/client";
import type { Inspection } from "../../api/types";
import { titlesFor, useFormats } from "../../document/formats";
import { Segments } from "../../kit/Segments";

type Sample = NonNullable<Inspection["sample"]>;

/** What a headerless file does not say. */
interface RawForm {
  file: File;
  rows: string;
  columns: string;
  header: string;
  sample: Sample;
}

const SAMPLES: { value: Sample; label: string }[] = [
  { value: "u8", label: "8 bits" },
  { value: "u16", label: "16 bits" },
  { value: "i16", label: "16, signed" },
  { value: "f32", label: "32-bit float" },
];

interface ChooseProps {
  title: string;
  more?: React.ReactNode;
  /** Files that came already, dropped somewhere else. */
  first?: File[] | undefined;
  onFound: (found: Inspection) => void;
  onClose: () => void;
}

/** Choose or drop a heightmap file, or a set of tiles; it is read and looked at. */
export function ChooseHeightmap({ title, more, first, onFound, onClose }: ChooseProps) {
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [raw, setRaw] = useState<RawForm | null>(null);
  const [coloured, setColoured] = useState<File | null>(null);
  const take = async (files: File[], told: Record<string, string> = {}) => {
    const file = files[0];
    if (!file) return;
    setBusy(true);
    setTrouble(null);
    try {
      const query = new URLSearchParams(told).toString();
      onFound(
        files.length > 1
          ? await uploadAll<Inspection>("/api/heightmaps/tiles", [...files])
          : await upload<Inspection>(`/api/heightmaps?${query}`, file),
      );
    } catch (error) {
      setTrouble(sentence(error));
      // A headerless file whose length is no square: the artist knows its size.
      const field = error instanceof Problem ? error.field : null;
      setRaw((before) =>
        field !== "rows" && field !== "header"
          ? null
          : before?.file === file
            ? before
            : { file, rows: "", columns: "", header: "0", sample: "u16" },
      );
      // A picture in colours: perhaps one of its channels holds the heights, or its three bytes do.
      setColoured(field === "channel" ? file : null);
    } finally {
      setBusy(false);
    }
  };
  const begin = useEffectEvent(() => {
    if (first) void take(first);
  });
  useEffect(() => {
    // After the effect, so that a mount that is undone at once sends nothing.
    const soon = setTimeout(() => begin());
    return () => clearTimeout(soon);
  }, []);
  return (
    <>
      <DialogTitle>{title}</DialogTitle>
      <DialogContent>
        <Box
          component="label"
          onDragOver={(event: React.DragEvent) => event.preventDefault()}
          onDrop={(event: React.DragEvent) => {
            event.preventDefault();
            void take([...event.dataTransfer.files]);
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
            {titlesFor(useFormats(), "heightmap")}; several files make a set of tiles, raw heights with their .hdr file
            one ground
          </Typography>
          <input
            type="file"
            multiple
            data-testid="heightmap"
            style={{ position: "absolute", opacity: 0, width: 1, height: 1 }}
            onChange={(event) => {
              const files = [...(event.target.files ?? [])];
              event.target.value = "";
              void take(files);
            }}
          />
        </Box>
        {more}
        {busy && <LinearProgress aria-label="Reading the file" sx={{ mt: 2 }} />}
        {trouble && (
          <Alert severity="error" sx={{ mt: 2 }}>
            {trouble}
          </Alert>
        )}
        {raw && <RawSize raw={raw} onChange={setRaw} onRead={(told) => void take([raw.file], told)} />}
        {coloured && <HeightsIn onRead={(told) => void take([coloured], told)} />}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Cancel
        </Button>
      </DialogActions>
    </>
  );
}

/** The size of a headerless file, as the artist knows it. */
function RawSize({
  raw,
  onChange,
  onRead,
}: {
  raw: RawForm;
  onChange: (raw: RawForm) => void;
  onRead: (told: Record<string, string>) => void;
}) {
  return (
    <Box sx={{ display: "flex", gap: 1.5, mt: 2, alignItems: "center", flexWrap: "wrap" }}>
      <Segments
        label="Samples have"
        options={SAMPLES}
        value={raw.sample}
        onChange={(sample) => onChange({ ...raw, sample })}
      />
      <TextField
        label="Bytes to skip"
        value={raw.header}
        sx={{ width: 120 }}
        onChange={(event) => onChange({ ...raw, header: event.target.value })}
      />
      <TextField
        sx={{ width: 120 }}
        label="Columns"
        value={raw.columns}
        onChange={(event) => onChange({ ...raw, columns: event.target.value })}
      />
      <TextField
        sx={{ width: 120 }}
        label="Rows"
        value={raw.rows}
        onChange={(event) => onChange({ ...raw, rows: event.target.value })}
      />
      <Button
        variant="contained"
        disabled={!(Number(raw.rows) > 0 && Number(raw.columns) > 0)}
        onClick={() =>
          onRead({
            rows: String(Math.round(Number(raw.rows))),
            columns: String(Math.round(Number(raw.columns))),
            header: String(Math.round(Number(raw.header)) || 0),
            sample: raw.sample,
          })
        }
      >
        Read it so
      </Button>
    </Box>
  );
}

/** Where a picture in colours holds the heights. */
function HeightsIn({ onRead }: { onRead: (told: Record<string, string>) => void }) {
  return (
    <Box sx={{ display: "flex", gap: 1, mt: 2, alignItems: "center", flexWrap: "wrap" }}>
      <Typography variant="body2">Heights are in</Typography>
      {["R", "G", "B"].map((channel, at) => (
        <Button key={channel} variant="outlined" color="inherit" onClick={() => onRead({ channel })}>
          {["red", "green", "blue"][at]} alone
        </Button>
      ))}
      <Typography variant="body2">or all three bytes together, in</Typography>
      <Button variant="outlined" color="inherit" onClick={() => onRead({ code: "tenths" })}>
        tenths of a metre
      </Button>
      <Button variant="outlined" color="inherit" onClick={() => onRead({ code: "metres256" })}>
        metres and 256ths
      </Button>
    </Box>
  );
}
