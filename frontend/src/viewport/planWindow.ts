import type { GridInfo } from "../api/types";
import { atPlace } from "./places";
import { scale, type Rect } from "./plan";
import type { Camera } from "./view";

const MOST_SAMPLES = 1024;
/** Pixels a sample, below which single samples cannot be seen. */
const NEAREST = 0.7;

export interface Window {
  row0: number;
  row1: number;
  col0: number;
  col1: number;
}

/** Whether single samples of a grid can be told apart. */
export function canBeSeen(rect: Rect, view: GridInfo, camera: Camera, fine: GridInfo): boolean {
  return scale(rect, view, camera) * fine.spacing_x >= NEAREST;
}

/** The samples of a grid that a panel shows; null where they are more than can be fetched for it. */
export function windowOf(rect: Rect, view: GridInfo, camera: Camera, fine: GridInfo): Window | null {
  const s = scale(rect, view, camera);
  const half = [rect.height / 2 / s / fine.spacing_y, rect.width / 2 / s / fine.spacing_x] as const;
  const { row, col } = atPlace(fine, { east: camera.x * fine.width, south: camera.y * fine.length });
  const part = {
    row0: Math.max(0, Math.floor(row - half[0])),
    row1: Math.min(fine.rows, Math.ceil(row + half[0]) + 1),
    col0: Math.max(0, Math.floor(col - half[1])),
    col1: Math.min(fine.cols, Math.ceil(col + half[1]) + 1),
  };
  return part.row1 - part.row0 > MOST_SAMPLES || part.col1 - part.col0 > MOST_SAMPLES ? null : part;
}

/** Whether so few samples of a grid are in view that each of them can be shown. */
export function isNear(rect: Rect | undefined, view: GridInfo, camera: Camera, fine: GridInfo): boolean {
  if (!rect) return false;
  const s = scale(rect, view, camera);
  const inView = (pixels: number, spacing: number, count: number) => Math.min(pixels / s / spacing, count);
  const most = Math.max(inView(rect.width, fine.spacing_x, fine.cols), inView(rect.height, fine.spacing_y, fine.rows));
  return canBeSeen(rect, view, camera, fine) && most < MOST_SAMPLES;
}
