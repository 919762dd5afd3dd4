import {
  Alert,
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useNavigate } from "react-router";
import { sentence, upload, type Schemas } from "../../api/client";
import type { Operation } from "../../api/types";
import { freeName } from "../recipe/lines";
import { titlesFor, useFormats } from "../../document/formats";
import { FileButton } from "../../kit/FileButton";
import { newId, useDocument, useProject } from "../../document/document";
import { useView } from "../../viewport/view";
import { MONO } from "../../kit/theme";

type Apart = Schemas["ApartOut"];

/** A packed image from elsewhere, channel by channel, to become masks. */
export function ApartDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="md">
      {open && <Image onClose={onClose} />}
    </Dialog>
  );
}

function Image({ onClose }: { onClose: () => void }) {
  const { id, document } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const go = useNavigate();
  const [found, setFound] = useState<Apart | null>(null);
  const [names, setNames] = useState<Record<string, string>>({});
  const [left, setLeft] = useState<Record<string, boolean>>({});
  const [trouble, setTrouble] = useState<string | null>(null);
  const bring = async (file: File) => {
    setTrouble(null);
    try {
      const answer = await upload<Apart>(`/api/projects/${id}/take-apart`, file);
      const stem = answer.name.replace(/\.[^.]*$/, "").slice(0, 50);
      const taken = document.masks.map((mask) => mask.name);
      setFound(answer);
      setNames(
        Object.fromEntries(
          answer.channels.map((c) => [c.channel, freeName(taken, `${stem} ${c.channel.toUpperCase()}`)]),
        ),
      );
      setLeft(Object.fromEntries(answer.channels.map((c) => [c.channel, c.low === c.high || c.same !== ""])));
    } catch (error) {
      setTrouble(sentence(error));
    }
  };
  const wanted = found?.channels.filter((item) => !left[item.channel] && names[item.channel]?.trim()) ?? [];
  const make = async () => {
    if (!found) return;
    const operations: Operation[] = [];
    let first: string | null = null;
    for (const { channel } of wanted) {
      const reading = newId("picture");
      const name = names[channel]?.trim() ?? channel;
      const numbers = { asset: found.asset, channel, samples: found.samples };
      const source = { kind: "reading" as const, reading, black: 0, white: 1 };
      const line = { id: newId("line"), verb: "take" as const, muted: false, note: found.name, strength: 1, source };
      const mask = newId("mask");
      first ??= mask;
      operations.push({ op: "add_reading", setting: { id: reading, kind: "picture", name, numbers } });
      operations.push({ op: "add_mask", mask: { id: mask, name, lines: [line] } });
    }
    onClose();
    if (operations.length > 0 && (await edit(operations, { what: `${found.name} taken apart` }))) {
      set({ selectedMask: first, selectedLine: null });
      await go(`/project/${id}/masks`);
    }
  };
  return (
    <>
      <DialogTitle>Take an image apart</DialogTitle>
      <DialogContent>
        <Typography color="textSecondary">
          A packed image, as {titlesFor(useFormats(), "picture")}: every channel can become a mask, to be bent,
          subtracted and packed again.
        </Typography>
        <Box sx={{ my: 1.5 }}>
          <FileButton
            id="apart-file"
            size="medium"
            what="picture"
            onFiles={(files) => {
              if (files[0]) void bring(files[0]);
            }}
          >
            Choose an image…
          </FileButton>
        </Box>
        {trouble && <Alert severity="error">{trouble}</Alert>}
        {found && (
          <>
            <Typography variant="body2">
              {found.name}: {found.cols} × {found.rows}, {found.bits} bits a channel.
            </Typography>
            {found.alpha && (
              <Alert severity="info" sx={{ my: 1 }}>
                {found.alpha}
              </Alert>
            )}
            {found.channels.map((item) => (
              <Box key={item.channel} sx={{ display: "flex", alignItems: "center", gap: 1.5, py: 0.8 }}>
                <Checkbox
                  checked={!left[item.channel]}
                  onChange={(event) => setLeft({ ...left, [item.channel]: !event.target.checked })}
                  slotProps={{ input: { "aria-label": `Take ${item.channel.toUpperCase()}` } }}
                />
                <img
                  src={item.picture}
                  alt={`Channel ${item.channel.toUpperCase()}`}
                  width={84}
                  height={84}
                  style={{ objectFit: "contain", background: "#6f7371" }}
                />
                <Box sx={{ flex: 1 }}>
                  <TextField
                    size="small"
                    fullWidth
                    label={`Name of ${item.channel.toUpperCase()}`}
                    value={names[item.channel] ?? ""}
                    onChange={(event) => setNames({ ...names, [item.channel]: event.target.value })}
                  />
                  <Typography variant="caption" color="textSecondary" sx={{ fontFamily: MONO }}>
                    {(item.low * 100).toFixed(0)} to {(item.high * 100).toFixed(0)} %, mean{" "}
                    {(item.mean * 100).toFixed(1)} %{item.same && `, the same as ${item.same.toUpperCase()}`}
                    {item.low === item.high && ", the same everywhere"}
                  </Typography>
                </Box>
              </Box>
            ))}
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Cancel
        </Button>
        <Button variant="contained" disabled={wanted.length === 0} onClick={() => void make()}>
          {wanted.length === 1 ? "Make a mask of it" : `Make ${wanted.length || ""} masks`}
        </Button>
      </DialogActions>
    </>
  );
}
