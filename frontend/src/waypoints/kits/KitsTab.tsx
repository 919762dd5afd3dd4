import {
  Alert,
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  TextField,
  Typography,
} from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain } from "../../document/askAgain";
import { ask, client, sentence, upload, type Schemas } from "../../api/client";
import { useKits } from "../../document/queries";
import type { Kit } from "../../api/types";
import { Heading } from "../../kit/Card";
import { MoreMenu } from "../../kit/MoreMenu";
import { useProject } from "../../document/document";
import { trim } from "../../kit/numbers";
import { UseKitDialog } from "./UseKitDialog";
import { Coming } from "../../kit/Coming";
import { FileButton } from "../../kit/FileButton";

/** What a kit holds, in words. */
function contents(kit: Kit): string {
  const counted = (many: number, one: string) => (many === 0 ? [] : [`${many} ${one}${many === 1 ? "" : "s"}`]);
  return [
    ...kit.masks,
    ...kit.pieces.map((piece) => `${piece} (piece)`),
    ...counted(kit.layers.length, "layer"),
    ...counted(kit.coats.length, "coat"),
    ...counted(kit.sheets.length, "sheet"),
  ].join(", ");
}

/** Kits to take from and to save into. */
export function KitsTab() {
  const kits = useKits();
  const cache = useQueryClient();
  const [using, setUsing] = useState<Kit | null>(null);
  const [saving, setSaving] = useState(false);
  const [said, setSaid] = useState<{ severity: "error" | "info"; text: string } | null>(null);
  const look = () => askAgain(cache, ["kits"]);
  const bring = async (file: File) => {
    try {
      const kit = await upload<Kit>("/api/kits/bring-in", file);
      setSaid({ severity: "info", text: `${kit.name} is among the kits now.` });
      await look();
    } catch (error) {
      setSaid({ severity: "error", text: sentence(error) });
    }
  };
  const remove = async (kit: Kit) => {
    try {
      await ask(client.DELETE("/api/kits/{kit_id}", { params: { path: { kit_id: kit.id } } }));
      await look();
    } catch (error) {
      setSaid({ severity: "error", text: sentence(error) });
    }
  };
  return (
    <>
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button size="small" variant="outlined" color="inherit" onClick={() => setSaving(true)}>
          Save a kit…
        </Button>
        <FileButton id="kit-file" what="kit" plain onFiles={([file]) => file && void bring(file)}>
          Bring a kit in…
        </FileButton>
      </Box>
      {said && (
        <Alert severity={said.severity} sx={{ mt: 1 }} onClose={() => setSaid(null)}>
          {said.text}
        </Alert>
      )}
      <Heading>Kits</Heading>
      <Coming asked={kits} what="Kits are coming…" />
      <Box component="ul" aria-label="Kits" sx={{ p: 0, m: 0, listStyle: "none" }}>
        {(kits.data ?? []).map((kit) => (
          <Box
            component="li"
            key={kit.id}
            sx={{ border: 1, borderColor: "divider", borderRadius: 1.3, p: "10px", mb: 1 }}
          >
            <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
              <Box sx={{ flex: 1 }}>
                <b>{kit.name}</b>{" "}
                <Typography variant="caption" color="textSecondary">
                  made on {trim(kit.low, 0)} to {trim(kit.high, 0)} m
                </Typography>
              </Box>
              <Button size="small" variant="outlined" color="inherit" onClick={() => setUsing(kit)}>
                Use
              </Button>
              <MoreMenu
                label={`More for the kit ${kit.name}`}
                actions={[
                  { label: "Send out as a file", act: { href: `/api/kits/${kit.id}/file` } },
                  { label: "Delete", act: () => void remove(kit), danger: true, off: kit.own },
                ]}
              />
            </Box>
            <Typography variant="body2" color="textSecondary">
              {kit.note}
            </Typography>
            <Typography variant="caption">{contents(kit)}</Typography>
          </Box>
        ))}
      </Box>
      {using && <UseKitDialog kit={using} onClose={() => setUsing(null)} />}
      <SaveDialog
        open={saving}
        onClose={() => setSaving(false)}
        onSaved={(text) => {
          setSaid({ severity: "info", text });
          void look();
        }}
      />
    </>
  );
}

const PAINTED_PARTS = [
  { part: "layers", label: "Layers and looks" },
  { part: "coats", label: "Coats" },
  { part: "sheets", label: "Sheets" },
] as const;

interface SaveDialogProps {
  open: boolean;
  onClose: () => void;
  onSaved: (text: string) => void;
}

function SaveDialog(props: SaveDialogProps) {
  return (
    <Dialog open={props.open} onClose={props.onClose} fullWidth maxWidth="sm">
      {props.open && <SaveForm {...props} />}
    </Dialog>
  );
}

function SaveForm({ onClose, onSaved }: SaveDialogProps) {
  const { id, document } = useProject();
  const [name, setName] = useState(`${document.name} kit`.slice(0, 60));
  const [note, setNote] = useState("");
  const [masks, setMasks] = useState<Set<string>>(() => new Set(document.masks.map((mask) => mask.id)));
  const [pieces, setPieces] = useState<Set<string>>(() => new Set((document.pieces ?? []).map((piece) => piece.id)));
  const [painting, setPainting] = useState({ layers: true, coats: true, sheets: true });
  const anything = masks.size + pieces.size > 0 || Object.values(painting).some((on) => on);
  const [trouble, setTrouble] = useState<string | null>(null);
  const toggled = (set: Set<string>, item: string) => {
    const next = new Set(set);
    if (!next.delete(item)) next.add(item);
    return next;
  };
  const save = async () => {
    try {
      const answer: Schemas["SavedKitOut"] = await ask(
        client.POST("/api/kits", {
          body: {
            project: id,
            name: name.trim(),
            note: note.trim(),
            masks: [...masks],
            pieces: [...pieces],
            ...painting,
          },
        }),
      );
      const left = answer.left.length > 0 ? ` Left behind: ${answer.left.join(" ")}` : "";
      onSaved(`${answer.kit.name} is saved.${left}`);
      onClose();
    } catch (error) {
      setTrouble(sentence(error));
    }
  };
  return (
    <>
      <DialogTitle>Save a kit</DialogTitle>
      <DialogContent>
        <Typography color="textSecondary" variant="body2">
          What the chosen masks, layers and coats read comes along. Drawn lines, brush strokes, pictures and textures
          that were brought in stay here.
        </Typography>
        <TextField
          autoFocus
          fullWidth
          label="Name"
          value={name}
          onChange={(event) => setName(event.target.value.slice(0, 60))}
          sx={{ mt: 1.5 }}
        />
        <TextField
          fullWidth
          label="What it is for"
          value={note}
          onChange={(event) => setNote(event.target.value.slice(0, 400))}
          sx={{ my: 1.5 }}
        />
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr" }}>
          {document.masks.map((mask) => (
            <FormControlLabel
              key={mask.id}
              control={
                <Checkbox
                  size="small"
                  checked={masks.has(mask.id)}
                  onChange={() => setMasks(toggled(masks, mask.id))}
                />
              }
              label={mask.name}
            />
          ))}
          {(document.pieces ?? []).map((piece) => (
            <FormControlLabel
              key={piece.id}
              control={
                <Checkbox
                  size="small"
                  checked={pieces.has(piece.id)}
                  onChange={() => setPieces(toggled(pieces, piece.id))}
                />
              }
              label={`${piece.name} (piece)`}
            />
          ))}
        </Box>
        <Box sx={{ mt: 1 }}>
          {PAINTED_PARTS.map(({ part, label }) => (
            <FormControlLabel
              key={part}
              control={
                <Checkbox
                  size="small"
                  checked={painting[part]}
                  onChange={(event) => setPainting({ ...painting, [part]: event.target.checked })}
                />
              }
              label={label}
            />
          ))}
        </Box>
        {trouble && <Alert severity="error">{trouble}</Alert>}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Cancel
        </Button>
        <Button
          variant="contained"
          disabled={name.trim() === "" || /[/\\:]/.test(name) || !anything}
          onClick={() => void save()}
        >
          Save the kit
        </Button>
      </DialogActions>
    </>
  );
}
