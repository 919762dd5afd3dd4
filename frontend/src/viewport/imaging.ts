import type { RawMap } from "../api/maps";
import type { GridInfo } from "../api/types";
import type { Subject } from "./subjects/subject";

export interface Legend {
  ramp: string;
  low: string;
  high: string;
  /** The value in its middle, where it is stretched towards low ones. */
  middle?: string;
}

export interface Panel {
  title: string;
  image: ImageData;
  /** What it shows, where panels show different things. */
  subject?: Subject;
}

/** What a subject looks like: one panel, or several side by side; `before` for the wipe. */
export interface Picture {
  panels: Panel[];
  before: ImageData | null;
  legend: Legend | null;
  /** Whether the light of the relief is already in the colours. */
  shaded: boolean;
  /** A part painted anew over the first panel while the hand moves: its first sample, and the grid it is of. */
  moving?: { image: ImageData; row0: number; col0: number; grid: GridInfo };
}

export function blank(map: RawMap): ImageData {
  const image = new ImageData(map.cols, map.rows);
  new Uint32Array(image.data.buffer).fill(0xff000000);
  return image;
}

export function grey(map: RawMap, channel = 0, lift = false): ImageData {
  const image = blank(map);
  const out = image.data;
  const n = map.channels;
  for (let i = channel, o = 0; o < out.length; i += n, o += 4) {
    const v = lift ? Math.sqrt((map.values[i] ?? 0) * 255) : (map.values[i] ?? 0);
    out[o] = v;
    out[o + 1] = v;
    out[o + 2] = v;
  }
  return image;
}

export function together(map: RawMap): ImageData {
  const image = blank(map);
  const out = image.data;
  const n = map.channels;
  for (let i = 0, o = 0; o < out.length; i += n, o += 4) {
    for (let c = 0; c < Math.min(n, 3); c++) out[o + c] = map.values[i + c] ?? 0;
    if (n === 1) out[o + 1] = out[o + 2] = out[o] ?? 0;
  }
  return image;
}

export function single(
  image: ImageData,
  legend: Legend | null,
  shaded: boolean,
  before: ImageData | null = null,
): Picture {
  return { panels: [{ title: "", image }], before, legend, shaded };
}
