import { named } from "../api/mapNames";
import { Box, IconButton, LinearProgress } from "@mui/material";
import CloseIcon from "@mui/icons-material/Close";
import { memo, useEffect, useRef, useState, useSyncExternalStore } from "react";
import { useReadings, useStats } from "../document/queries";
import { percent } from "../kit/percent";
import { showImage } from "../kit/showImage";
import { useProject } from "../document/document";
import { pins } from "./preview";
import { useViewParts } from "./view";
import { onMap, SURROUND } from "../kit/theme";
import { PictureMaker } from "./pictures";
import { exists, needs, title } from "./subjects/register";
import { useLook } from "./useLook";

const SIDE = 244;

/** A second view that is painted anew with every movement of the hand: what the change does further down. */
export const PinnedInset = memo(function PinnedInset() {
  const state = useProject();
  const readings = useReadings();
  const { pinned, set } = useViewParts("pinned", "set");
  const look = useLook();
  const [maker] = useState(() => new PictureMaker(pins));
  const { picture, updating, version } = useSyncExternalStore(maker.subscribe, maker.snapshot);
  const canvas = useRef<HTMLCanvasElement>(null);
  const there = pinned !== null && exists(pinned, state);

  useEffect(() => {
    pins.follow(there ? (needs(pinned)[0] ?? null) : null);
    if (there) maker.want({ state, subject: pinned, readings, options: look });
    return () => pins.follow(null);
  }, [maker, state, pinned, there, readings, look]);

  useEffect(() => pins.seenThrough(() => ({ shown: Math.ceil(SIDE * (window.devicePixelRatio || 1)) })), []);

  useEffect(() => {
    const image = picture?.panels[0]?.image;
    const element = canvas.current;
    if (!image || !element) return;
    showImage(element, image);
    element.dataset.painted = String(version);
  }, [picture, version]);

  const name = pinned?.kind === "mask" && there ? named.mask(pinned.id) : null;
  const stats = useStats(name);
  const live = useSyncExternalStore(
    (changed) => pins.listen(changed),
    () => (pins.current?.name === name ? (pins.current?.mean ?? null) : null),
  );
  if (!pinned || !there) return null;
  const [first, rest] = title(pinned, state, readings, look.backdrop);
  const mean = live ?? stats.data?.mean ?? null;
  const share = picture?.panels[0] ? picture.panels[0].image.height / picture.panels[0].image.width : 1;
  return (
    <Box
      component="section"
      aria-label={`Pinned: ${first}`}
      sx={{
        position: "absolute",
        top: 10,
        right: 52,
        width: SIDE,
        bgcolor: SURROUND,
        border: `2px solid ${onMap.light}`,
        borderRadius: 1.2,
        overflow: "hidden",
      }}
    >
      <canvas
        ref={canvas}
        data-testid="pinned"
        style={{ display: "block", width: "100%", height: Math.min(SIDE * share, SIDE) }}
      />
      {updating && <LinearProgress color="secondary" sx={{ position: "absolute", top: 0, left: 0, right: 0 }} />}
      <Box
        sx={{
          position: "absolute",
          left: 0,
          right: 0,
          bottom: 0,
          px: 1,
          py: 0.3,
          pr: 4,
          bgcolor: onMap.veil,
          color: onMap.light,
          fontSize: 12,
          lineHeight: 1.35,
        }}
      >
        <b>{first}</b> · {rest}
        {name && mean !== null && ` · covers ${percent(mean, 1)}`}
      </Box>
      <IconButton
        size="small"
        aria-label={`Unpin ${first}`}
        onClick={() => set({ pinned: null })}
        sx={{ position: "absolute", right: 2, bottom: 0, width: 26, height: 26, color: onMap.light }}
      >
        <CloseIcon sx={{ fontSize: 16 }} />
      </IconButton>
    </Box>
  );
});
