import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Slider,
  Typography,
} from "@mui/material";
import { useRef, useState } from "react";
import { ask, client, sentence, upload } from "../../api/client";
import type { Aligned } from "../../api/types";
import { FileButton } from "../../kit/FileButton";
import { LongAskShown } from "../../kit/LongAsk";
import { Segments } from "../../kit/Segments";
import { newId, useDocument, useProject } from "../../document/document";
import { MONO } from "../../kit/theme";

/** Any map with this ground or any other height: how it lies, and bringing it onto the ground. */
export function ForeignDialog({ onClose, onLaid }: { onClose: () => void; onLaid: (reading: string) => void }) {
  const { id, document } = useProject();
  const edit = useDocument((store) => store.edit);
  const [height, setHeight] = useState<File | null>(null);
  const [map, setMap] = useState<File | null>(null);
  const [found, setFound] = useState<Aligned | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState<string | null>(null);
  const stop = useRef<AbortController | null>(null);

  const look = async (nextMap: File, nextHeight: File | null) => {
    stop.current?.abort();
    const mine = (stop.current = new AbortController());
    setMap(nextMap);
    setHeight(nextHeight);
    setFound(null);
    setTrouble(null);
    setBusy("Looking how they lie: eight orientations, every scale and shift");
    try {
      const more: Record<string, File> = nextHeight ? { height: nextHeight } : {};
      setFound(await upload<Aligned>(`/api/projects/${id}/align`, nextMap, more, mine.signal));
    } catch (error) {
      if (!mine.signal.aborted) setTrouble(sentence(error));
    } finally {
      if (stop.current === mine) setBusy(null);
    }
  };
  const close = () => {
    stop.current?.abort();
    onClose();
  };
  const lay = async (made: Aligned) => {
    const mine = (stop.current = new AbortController());
    setBusy("Laying it over the ground");
    try {
      const { asset, name: file, orientation, top, left, down, across } = made;
      const laid = await ask(
        client.POST("/api/projects/{project_id}/align/lay", {
          params: { path: { project_id: id } },
          body: { asset, name: file, orientation, top, left, down, across },
          signal: mine.signal,
        }),
      );
      const own = newId("picture");
      const name = laid.name.replace(/\.[^.]*$/, "").slice(0, 60) || "Picture";
      const setting = { id: own, kind: laid.kind, name, numbers: { asset: laid.asset, samples: laid.samples } };
      // Who closed the dialog, or chose another map meanwhile, wants none of it.
      if (!mine.signal.aborted && (await edit([{ op: "add_reading", setting }]))) onLaid(own);
    } catch (error) {
      if (!mine.signal.aborted) setTrouble(sentence(error));
    } finally {
      if (stop.current === mine) setBusy(null);
    }
  };
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth aria-labelledby="foreign-title">
      <DialogTitle id="foreign-title">How does it lie?</DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1.2 }}>
          A mask, splat map, aerial picture, flow map, colour map or another height, of any size. It is held against the
          height in every orientation, scale and place.
        </Typography>
        <Box sx={{ display: "flex", gap: 1, alignItems: "center", flexWrap: "wrap" }}>
          <FileButton id="foreign-map" what="picture" onFiles={([file]) => file && void look(file, height)}>
            {map ? map.name : "Choose a map…"}
          </FileButton>
          <Typography variant="body2">on</Typography>
          <FileButton id="foreign-height" onFiles={([file]) => file && (map ? void look(map, file) : setHeight(file))}>
            {height ? height.name : `the ground of ${document.name}`}
          </FileButton>
          {height && (
            <Button size="small" color="inherit" onClick={() => (map ? void look(map, null) : setHeight(null))}>
              Use this ground
            </Button>
          )}
        </Box>
        <LongAskShown
          busy={busy !== null}
          says={busy ?? ""}
          onStop={() => {
            stop.current?.abort();
            setBusy(null);
          }}
        />
        {trouble && (
          <Alert severity="error" sx={{ mt: 2 }}>
            {trouble}
          </Alert>
        )}
        {found && <Result found={found} />}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          Close
        </Button>
        {found?.belong && found.own && (
          <Button variant="contained" disabled={busy !== null} onClick={() => void lay(found)}>
            Lay it over the ground
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}

function Result({ found }: { found: Aligned }) {
  const [how, setHow] = useState<"wipe" | "checker" | "map">("wipe");
  const [at, setAt] = useState(50);
  const clip =
    how === "wipe"
      ? { clipPath: `inset(0 0 0 ${at}%)` }
      : how === "checker"
        ? {
            maskImage: "conic-gradient(#000 25%, transparent 0 50%, #000 0 75%, transparent 0)",
            maskSize: "16.667% 16.667%",
          }
        : {};
  const image = { width: "100%", display: "block", imageRendering: "auto" as const };
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "360px 1fr" }, gap: 2, mt: 2 }}>
      <Box>
        <Box sx={{ position: "relative", bgcolor: "#6f7371", borderRadius: 1, overflow: "hidden" }}>
          <img src={found.ground} alt={`The height of ${found.height}, lit`} style={image} />
          <img
            src={found.laid}
            alt={`${found.name} as it lies on it`}
            style={{ ...image, position: "absolute", inset: 0, height: "100%", ...clip }}
          />
        </Box>
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mt: 1 }}>
          <Segments
            label="Show as"
            options={[
              { value: "wipe", label: "Wipe" },
              { value: "checker", label: "Checker" },
              { value: "map", label: "Map" },
            ]}
            value={how}
            onChange={setHow}
          />
          {how === "wipe" && (
            <Slider
              size="small"
              aria-label="Height left, map right"
              value={at}
              onChange={(_, value) => setAt(value as number)}
            />
          )}
        </Box>
      </Box>
      <Box role="status" data-testid="aligned">
        <Typography variant="h3" color={found.belong ? "primary" : "warning"} sx={{ mb: 0.6 }}>
          {found.belong ? sureness(found.confidence) : "These do not belong together"}
        </Typography>
        <Typography variant="body2">{found.says}</Typography>
        {found.belong && (
          <Box component="dl" sx={{ fontSize: 12.5, mt: 1.2, "& dt": { fontWeight: 650 }, "& dd": { m: 0, mb: 0.6 } }}>
            <dt>To put it right</dt>
            <dd>{found.orientation === "plain" ? "leave its orientation" : found.cure}</dd>
            <dt>It covers</dt>
            <Box component="dd" sx={{ fontFamily: MONO }}>
              {percent(found.across)} × {percent(found.down)}, from {percent(found.left)} east, {percent(found.top)}{" "}
              south
            </Box>
            <dt>Samples of the height to one of the map</dt>
            <Box component="dd" sx={{ fontFamily: MONO }}>
              {found.scale[1].toFixed(4)} × {found.scale[0].toFixed(4)}
            </Box>
            {found.same_kind && (
              <>
                <dt>Both are heights</dt>
                <Box component="dd" sx={{ fontFamily: MONO }}>
                  {Number(found.same_kind[0].toPrecision(6))} × stored + {Number(found.same_kind[1].toPrecision(6))}
                </Box>
              </>
            )}
          </Box>
        )}
        <Typography variant="caption" color="textSecondary">
          {found.name}: {found.columns} × {found.rows}, {found.channels} {found.channels === 1 ? "channel" : "channels"}
        </Typography>
      </Box>
    </Box>
  );
}

function sureness(confidence: number): string {
  return confidence > 0.9 ? "They belong together" : confidence > 0.7 ? "Very likely like this" : "Likely like this";
}

function percent(value: number): string {
  return `${(value * 100).toFixed(2)} %`;
}
