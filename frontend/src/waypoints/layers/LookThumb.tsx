import { Box } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { fetchLook } from "../../api/maps";
import { useProject } from "../../document/document";

interface LookThumbProps {
  look: string;
  part?: "albedo" | "normal";
  size?: number;
  /** How many times it is repeated across: a seam or a pattern shows where tiles meet. */
  times?: number;
}

/** A look's texture as a small picture. */
export function LookThumb({ look, part = "albedo", size = 46, times = 1 }: LookThumbProps) {
  const { id } = useProject();
  const canvas = useRef<HTMLCanvasElement>(null);
  const [failed, setFailed] = useState(false);
  useEffect(() => {
    const stop = new AbortController();
    fetchLook(id, look, part, 128, stop.signal).then(
      (map) => {
        const element = canvas.current;
        if (!element) return;
        const tile = new ImageData(map.cols, map.rows);
        for (let i = 0, o = 0; i < map.values.length; i += 3, o += 4) {
          tile.data.set([map.values[i] ?? 0, map.values[i + 1] ?? 0, map.values[i + 2] ?? 0, 255], o);
        }
        element.width = map.cols * times;
        element.height = map.rows * times;
        const pen = element.getContext("2d");
        for (let r = 0; r < times; r++)
          for (let c = 0; c < times; c++) pen?.putImageData(tile, c * map.cols, r * map.rows);
        setFailed(false);
      },
      () => !stop.signal.aborted && setFailed(true),
    );
    return () => stop.abort();
  }, [id, look, part, times]);
  return (
    <Box
      aria-hidden
      sx={{
        width: size,
        height: size,
        borderRadius: 1,
        overflow: "hidden",
        bgcolor: "divider",
        flexShrink: 0,
        display: "grid",
        placeItems: "center",
        fontSize: 18,
      }}
    >
      {failed ? "?" : <canvas ref={canvas} style={{ width: "100%", height: "100%", display: "block" }} />}
    </Box>
  );
}
