import { useEffect, useRef, useSyncExternalStore } from "react";
import { useScatterPoints } from "../document/queries";
import type { GridInfo } from "../api/types";
import { useProject } from "../document/document";
import { pointPreviews } from "./pointPreview";
import type { Camera } from "./view";
import type { Subject } from "./subjects/subject";
import { scale, type Rect } from "./plan";
import { rgb } from "./ramps";
import { SCATTERED } from "../kit/theme";

interface ScatterDotsProps {
  subject: Subject;
  rect: Rect;
  view: GridInfo;
  camera: Camera;
}

/** Every scattered thing as a dot of its size; hundreds of thousands are written straight into pixels. */
export function ScatterDots({ subject, rect, view, camera }: ScatterDotsProps) {
  const { document } = useProject();
  const canvas = useRef<HTMLCanvasElement>(null);
  const id = subject.kind === "scatter" ? subject.id : null;
  const saved = useScatterPoints(id).data;
  const moving = useSyncExternalStore(pointPreviews.listen, pointPreviews.snapshot);
  const points = moving && moving.scatter === id ? moving.points : saved;
  const colour = document.scatters?.find((item) => item.id === id)?.colour ?? SCATTERED;

  useEffect(() => {
    const element = canvas.current;
    const pen = element?.getContext("2d");
    if (!element || !pen) return;
    const ratio = window.devicePixelRatio || 1;
    element.width = Math.max(1, Math.round(rect.width * ratio));
    element.height = Math.max(1, Math.round(rect.height * ratio));
    if (!id || !points) return;
    const image = pen.createImageData(element.width, element.height);
    paintDots(image, points.values, colour, view, camera, scale(rect, view, camera) * ratio);
    pen.putImageData(image, 0, 0);
    element.dataset.dots = String(points.count);
  }, [id, points, colour, rect, view, camera]);

  if (!id) return null;
  return (
    <canvas
      ref={canvas}
      data-testid="scatter-dots"
      style={{
        position: "absolute",
        left: rect.x,
        top: rect.y,
        width: rect.width,
        height: rect.height,
        pointerEvents: "none",
      }}
    />
  );
}

/** Discs of each thing's size, at least two pixels wide, with a dark rim where there is room for one. */
export function paintDots(
  image: ImageData,
  values: Float32Array,
  colour: string,
  view: GridInfo,
  camera: Camera,
  perMetre: number,
): void {
  const [r, g, b] = rgb(colour);
  const full = (255 << 24) | (b << 16) | (g << 8) | r;
  const rim = (255 << 24) | ((b >> 2) << 16) | ((g >> 2) << 8) | (r >> 2);
  const out = new Uint32Array(image.data.buffer);
  const { width, height } = image;
  const left = width / 2 - camera.x * view.width * perMetre;
  const top = height / 2 - camera.y * view.length * perMetre;
  for (let i = 0; i < values.length; i += 5) {
    const x = left + (values[i] ?? 0) * perMetre;
    const y = top + (values[i + 1] ?? 0) * perMetre;
    const radius = Math.max(((values[i + 3] ?? 1) * perMetre) / 2, 1);
    if (x < -radius || y < -radius || x > width + radius || y > height + radius) continue;
    const reach = Math.ceil(radius);
    const [x0, y0] = [Math.floor(x), Math.floor(y)];
    for (let dy = -reach; dy <= reach; dy++) {
      const row = y0 + dy;
      if (row < 0 || row >= height) continue;
      for (let dx = -reach; dx <= reach; dx++) {
        const col = x0 + dx;
        if (col < 0 || col >= width) continue;
        const d = dx * dx + dy * dy;
        if (d <= radius * radius) out[row * width + col] = radius > 3 && d > (radius - 1.4) ** 2 ? rim : full;
      }
    }
  }
}
