import { named } from "../api/mapNames";
import { Box } from "@mui/material";
import { useEffect, useRef } from "react";
import { fetchMap } from "../api/maps";
import type { ProjectCard } from "../api/types";
import { RAMPS } from "../viewport/ramps";
import { SURROUND } from "../kit/theme";

/** The ground of a project at a glance: heights in colour over hill shade. */
export function ShelfPicture({ card }: { card: ProjectCard }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const stop = new AbortController();
    const options = { size: 320, rank: "small" as const, signal: stop.signal };
    Promise.all([
      fetchMap(card.id, named.reading("height"), options),
      fetchMap(card.id, named.reading("shade"), options),
    ]).then(
      ([height, shade]) => {
        const element = canvas.current;
        const pen = element?.getContext("2d");
        const ramp = RAMPS.height;
        if (!element || !pen || !ramp) return;
        element.width = height.cols;
        element.height = height.rows;
        const image = new ImageData(height.cols, height.rows);
        let low = Infinity;
        let high = -Infinity;
        for (const v of height.values) {
          low = Math.min(low, v);
          high = Math.max(high, v);
        }
        for (let i = 0; i < height.values.length; i++) {
          const k = Math.round((((height.values[i] ?? 0) - low) / (high - low || 1)) * 255) * 3;
          const light = 0.42 + (shade.values[i] ?? 0) / 300;
          for (let c = 0; c < 3; c++) image.data[i * 4 + c] = (ramp[k + c] ?? 0) * light;
          image.data[i * 4 + 3] = 255;
        }
        pen.putImageData(image, 0, 0);
      },
      // A picture that cannot be made leaves the neutral ground; opening the project says why.
      () => undefined,
    );
    return () => stop.abort();
  }, [card.id, card.revision]);
  return (
    <Box sx={{ height: 168, bgcolor: SURROUND }}>
      <canvas
        ref={canvas}
        aria-hidden
        style={{ width: "100%", height: "100%", objectFit: "cover", display: "block" }}
      />
    </Box>
  );
}
