import type { GridInfo } from "../api/types";
import type { Seen } from "./preview";
import type { Camera, Mode } from "./view";
import type { Panel, Picture } from "./imaging";
import { onMap } from "../kit/theme";
import { inset } from "./places";

export interface Rect {
  x: number;
  y: number;
  width: number;
  height: number;
}

const MARGIN = 18;
const GAP = 12;

/** Where each panel lies on a view of this size, in CSS pixels. */
export function panelRects(count: number, width: number, height: number): Rect[] {
  if (count === 1) return [{ x: 0, y: 0, width, height }];
  const cols = 2;
  const rows = Math.ceil(count / cols);
  const w = (width - GAP * (cols + 1)) / cols;
  const h = (height - GAP * (rows + 1)) / rows;
  return Array.from({ length: count }, (_, i) => ({
    x: GAP + (i % cols) * (w + GAP),
    y: GAP + Math.floor(i / cols) * (h + GAP),
    width: w,
    height: h,
  }));
}

/** Pixels a metre in a panel. */
export function scale(rect: Rect, grid: GridInfo, camera: Camera): number {
  const fit = Math.min((rect.width - 2 * MARGIN) / grid.width, (rect.height - 2 * MARGIN) / grid.length);
  return Math.max(fit, 1e-6) * camera.zoom;
}

/** How many samples a panel shows of the ground's longer side, and which part of it; the relief beside it needs all. */
export function seenOf(rect: Rect, grid: GridInfo, camera: Camera, mode: Mode): Seen {
  const s = scale(rect, grid, camera);
  const most = Math.max(grid.rows, grid.cols);
  const pixels = Math.max(grid.width, grid.length) * s * (globalThis.devicePixelRatio || 1);
  // In steps, so that a little larger window finds what is held already.
  const shown = Math.min(Math.ceil(pixels / 32) * 32 + 1, most);
  const half = [rect.width / 2 / s / grid.width, rect.height / 2 / s / grid.length] as const;
  const part = [camera.x - half[0], camera.y - half[1], camera.x + half[0], camera.y + half[1]].map((v) =>
    Math.min(Math.max(v, 0), 1),
  );
  const [west = 0, north = 0, east = 1, south = 1] = part;
  const share = (east - west) * (south - north);
  return mode === "plan" && share > 0 && share < 0.7 ? { shown, part } : { shown };
}

/** Metres east and south of the north-west corner at a point of the view, and the panel it is in. */
export function groundAt(
  x: number,
  y: number,
  rects: Rect[],
  grid: GridInfo,
  camera: Camera,
): { east: number; south: number; panel: number } | null {
  const panel = rects.findIndex((r) => x >= r.x && x < r.x + r.width && y >= r.y && y < r.y + r.height);
  const rect = rects[panel];
  if (!rect) return null;
  return { ...placeIn(x, y, rect, grid, camera), panel };
}

/** Metres east and south of the north-west corner at a point of the view, as a panel shows the ground. */
export function placeIn(x: number, y: number, rect: Rect, grid: GridInfo, camera: Camera) {
  const s = scale(rect, grid, camera);
  return {
    east: camera.x * grid.width + (x - rect.x - rect.width / 2) / s,
    south: camera.y * grid.length + (y - rect.y - rect.height / 2) / s,
  };
}

/** Canvases with the panels' pixels; kept between draws, refilled when the picture changes. */
export class PlanPainter {
  private sheets: HTMLCanvasElement[] = [];
  private before: HTMLCanvasElement | null = null;
  private moving: HTMLCanvasElement | null = null;
  private painted: Picture | null = null;
  /** What is on each canvas: a part that moves leaves the whole as it is. */
  private filled = new WeakMap<HTMLCanvasElement, ImageData>();

  private fill(canvas: HTMLCanvasElement | undefined, image: ImageData): HTMLCanvasElement {
    const sheet = canvas ?? document.createElement("canvas");
    if (this.filled.get(sheet) === image) return sheet;
    this.filled.set(sheet, image);
    if (sheet.width !== image.width || sheet.height !== image.height) {
      sheet.width = image.width;
      sheet.height = image.height;
    }
    sheet.getContext("2d")?.putImageData(image, 0, 0);
    return sheet;
  }

  take(picture: Picture): void {
    if (this.painted === picture) return;
    this.painted = picture;
    this.sheets = picture.panels.map((panel: Panel, i) => this.fill(this.sheets[i], panel.image));
    this.moving = picture.moving ? this.fill(this.moving ?? undefined, picture.moving.image) : null;
    this.before = picture.before ? this.fill(this.before ?? undefined, picture.before) : null;
  }

  draw(
    canvas: HTMLCanvasElement,
    grid: GridInfo,
    camera: Camera,
    wipe: number,
    surround: string,
    detail: { painter: PlanPainter; rect: { row0: number; row1: number; col0: number; col1: number } } | null,
    home: GridInfo,
  ): void {
    const ratio = window.devicePixelRatio || 1;
    const width = canvas.clientWidth;
    const height = canvas.clientHeight;
    if (canvas.width !== Math.round(width * ratio) || canvas.height !== Math.round(height * ratio)) {
      canvas.width = Math.round(width * ratio);
      canvas.height = Math.round(height * ratio);
    }
    const pen = canvas.getContext("2d");
    if (!pen) return;
    pen.setTransform(ratio, 0, 0, ratio, 0, 0);
    pen.fillStyle = surround;
    pen.fillRect(0, 0, width, height);
    const rects = panelRects(this.sheets.length || 1, width, height);
    this.sheets.forEach((sheet, i) => {
      const rect = rects[i];
      if (!rect) return;
      pen.save();
      pen.beginPath();
      pen.rect(rect.x, rect.y, rect.width, rect.height);
      pen.clip();
      this.put(pen, sheet, rect, grid, camera, null, grid);
      const moving = i === 0 && this.painted?.moving;
      if (moving && this.moving) this.put(pen, this.moving, rect, grid, camera, moving, moving.grid);
      const fine = detail?.painter.sheets[i];
      if (fine && detail) this.put(pen, fine, rect, grid, camera, detail.rect, home);
      if (this.before && i === 0) {
        pen.beginPath();
        pen.rect(rect.x, rect.y, rect.width * wipe, rect.height);
        pen.clip();
        this.put(pen, this.before, rect, grid, camera, null, grid);
        pen.restore();
        pen.save();
        pen.fillStyle = onMap.light;
        pen.fillRect(rect.x + rect.width * wipe - 1, rect.y, 2, rect.height);
      }
      pen.restore();
    });
  }

  /** A sheet's samples are drawn as cells: those around vertices reach half a cell beyond the ground. */
  private put(
    pen: CanvasRenderingContext2D,
    sheet: HTMLCanvasElement,
    rect: Rect,
    grid: GridInfo,
    camera: Camera,
    part: { row0: number; col0: number } | null,
    cells: GridInfo,
  ): void {
    const s = scale(rect, grid, camera);
    const beyond = 0.5 - inset(cells);
    const dx = part ? cells.spacing_x : cells.width / (sheet.width - 2 * beyond);
    const dy = part ? cells.spacing_y : cells.length / (sheet.height - 2 * beyond);
    const left = ((part?.col0 ?? 0) - beyond) * dx - camera.x * grid.width;
    const top = ((part?.row0 ?? 0) - beyond) * dy - camera.y * grid.length;
    pen.imageSmoothingEnabled = dx * s < 1.5;
    pen.imageSmoothingQuality = "high";
    pen.drawImage(
      sheet,
      rect.x + rect.width / 2 + left * s,
      rect.y + rect.height / 2 + top * s,
      sheet.width * dx * s,
      sheet.height * dy * s,
    );
  }
}
