import { Box } from "@mui/material";
import { useEffect, useRef, useState, useSyncExternalStore } from "react";
import { useReadings } from "../document/queries";
import { useProject } from "../document/document";
import type { Subject } from "./subjects/subject";
import { PictureMaker } from "./pictures";
import { showImage } from "../kit/showImage";
import { SURROUND } from "../kit/theme";

interface MapThumbProps {
  subject: Subject;
  width?: number | string;
  height?: number;
  tint?: number;
  /** Wait until it is in sight. */
  lazy?: boolean;
}

/** A small live picture of a subject. */
export function MapThumb({ subject, width = 82, height = 56, tint = 0.8, lazy = false }: MapThumbProps) {
  const state = useProject();
  const readings = useReadings();
  const [maker] = useState(() => new PictureMaker());
  const { picture, updating } = useSyncExternalStore(maker.subscribe, maker.snapshot);
  const canvas = useRef<HTMLCanvasElement>(null);
  const text = JSON.stringify(subject);
  const [seen, setSeen] = useState(!lazy);
  const box = useRef<HTMLDivElement>(null);

  useEffect(() => {
    const element = box.current;
    if (seen || !element) return;
    const watch = new IntersectionObserver((entries) => entries.some((entry) => entry.isIntersecting) && setSeen(true));
    watch.observe(element);
    return () => watch.disconnect();
  }, [seen]);

  useEffect(() => {
    if (!seen) return;
    const stop = new AbortController();
    maker.want({
      state,
      subject: JSON.parse(text) as Subject,
      readings,
      options: { tint, water: true, lift: true },
      size: 128,
      signal: stop.signal,
    });
    return () => stop.abort();
  }, [maker, state, text, readings, tint, seen]);

  useEffect(() => {
    const image = picture?.panels[0]?.image;
    const element = canvas.current;
    if (!image || !element) return;
    showImage(element, image);
  }, [picture]);

  return (
    <Box
      ref={box}
      sx={{ width, height, borderRadius: 1, overflow: "hidden", bgcolor: SURROUND, flexShrink: 0 }}
      aria-hidden
    >
      <canvas
        ref={canvas}
        style={{
          width: "100%",
          height: "100%",
          objectFit: "cover",
          display: "block",
          opacity: updating && !picture ? 0 : 1,
        }}
      />
    </Box>
  );
}
