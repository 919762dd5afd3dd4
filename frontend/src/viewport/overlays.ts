import type { RawMap } from "../api/maps";
import { named, type MapText } from "../api/mapNames";
import type { ProjectState, Reading } from "../api/types";
import { blank, single, together, type Legend } from "./imaging";
import { AMBER, GENTIAN, RAMPS, rgb, ROWAN, WATER, type Palette, type Rgb } from "./ramps";

export const SHADE = named.reading("shade");
export const HEIGHT = named.reading("height");

export interface PaintOptions {
  tint: number;
  /** The colour of masks laid over the ground. */
  colour?: string;
  water: boolean;
  palette?: Palette;
  /** In a small picture thin lines are faint: lift them so that they can be seen. */
  lift?: boolean;
  /** The water level instead of the saved one. */
  shore?: number | null;
  /** A picture (by its reading) that overlays are laid on; none: hill shade. */
  backdrop?: string | null;
  /** Where a ramp's ends are measured, when not on the map itself: a part must be coloured like the whole. */
  whole?: (name: MapText) => RawMap | null;
}

export type Maps = (name: MapText) => RawMap;

/** What a picture is painted with: its maps, the project, and how it is to look. */
export interface Canvas {
  maps: Maps;
  state: ProjectState;
  readings: Reading[];
  options: PaintOptions;
}

/** The colour that masks are laid over the ground in. */
export const tintOf = (options: PaintOptions): Rgb => (options.colour ? rgb(options.colour) : GENTIAN);

/** Hill shade with the water over it: what overlays are laid on. */
export function shadeBase(maps: Maps, state: ProjectState, water: boolean): ImageData {
  const shade = maps(SHADE);
  const image = blank(shade);
  const out = image.data;
  for (let i = 0, o = 0; i < shade.values.length; i++, o += 4) {
    const v = 40 + (shade.values[i] ?? 0) * 0.84;
    out[o] = v;
    out[o + 1] = v;
    out[o + 2] = v;
  }
  if (water) drown(out, maps(HEIGHT).values, state.document.ground.water);
  return image;
}

export function drown(out: Uint8ClampedArray, heights: RawMap["values"], level: number | null | undefined): void {
  if (level === null || level === undefined) return;
  for (let i = 0, o = 0; i < heights.length; i++, o += 4) {
    const depth = level - (heights[i] ?? 0);
    if (depth > 0) {
      const a = Math.min(0.45 + depth / 40, 0.8);
      out[o] = (out[o] ?? 0) * (1 - a) + WATER[0] * a;
      out[o + 1] = (out[o + 1] ?? 0) * (1 - a) + WATER[1] * a;
      out[o + 2] = (out[o + 2] ?? 0) * (1 - a) + WATER[2] * a;
    }
  }
}

/** A picture in true colour over another, as strongly as `strength` says; where it has nothing, the other stays. */
export function pictured(base: ImageData, map: RawMap, strength: number): ImageData {
  const image = new ImageData(new Uint8ClampedArray(base.data), base.width, base.height);
  const out = image.data;
  for (let o = 0; o < out.length; o += 4) {
    const a = ((map.values[o + 3] ?? 0) / 255) * strength;
    for (let c = 0; c < 3; c++) out[o + c] = (out[o + c] ?? 0) * (1 - a) + (map.values[o + c] ?? 0) * a;
  }
  return image;
}

let lastBase: { key: string; image: ImageData } | null = null;

/** What overlays are laid on stays the same while a slider moves: keep the last one. */
export function cachedBase(maps: Maps, state: ProjectState, { water, backdrop }: PaintOptions): ImageData {
  const shade = maps(SHADE);
  const laid = backdrop ? maps(named.picture(backdrop)) : null;
  const key = `${shade.key}|${shade.rows}|${laid?.key ?? ""}|${water ? state.document.ground.water : "dry"}`;
  if (lastBase?.key === key) return lastBase.image;
  // The water of a picture is in the picture.
  const image = laid ? pictured(shadeBase(maps, state, false), laid, 1) : shadeBase(maps, state, water);
  lastBase = { key, image };
  return image;
}

export function overlay(base: ImageData, mask: RawMap, colour: Rgb, strength: number): ImageData {
  const image = new ImageData(new Uint8ClampedArray(base.data), base.width, base.height);
  const out = image.data;
  const values = mask.values;
  const [r, g, b] = colour;
  const k = strength / 255;
  for (let i = 0, o = 0; i < values.length; i++, o += 4) {
    const m = values[i] ?? 0;
    if (m === 0) continue;
    const a = m * k;
    out[o] = (out[o] ?? 0) + (r - (out[o] ?? 0)) * a;
    out[o + 1] = (out[o + 1] ?? 0) + (g - (out[o + 1] ?? 0)) * a;
    out[o + 2] = (out[o + 2] ?? 0) + (b - (out[o + 2] ?? 0)) * a;
  }
  return image;
}

/** How many bands a mask is shown in: those it is cut into, else five. */
export function bandsOf(state: ProjectState, id: string): { count: number; cut: boolean } {
  const count = state.bands[id];
  return { count: count ?? 5, cut: count !== undefined };
}

/** A mask in as many plain colours as it has bands, dark to bright. */
export function banded(map: RawMap, { count, cut }: { count: number; cut: boolean }): ImageData {
  const image = blank(map);
  const out = image.data;
  const ramp = RAMPS["safe"] ?? new Uint8Array(768);
  for (let i = 0, o = 0; i < map.values.length; i++, o += 4) {
    const v = (map.values[i] ?? 0) / 255;
    // What is cut goes evenly from 0 to 1 already; anything else falls into even bands.
    const band = cut ? Math.round(v * (count - 1)) : Math.min(Math.floor(v * count), count - 1);
    const at = Math.round((band / (count - 1)) * 255) * 3;
    out[o] = ramp[at] ?? 0;
    out[o + 1] = ramp[at + 1] ?? 0;
    out[o + 2] = ramp[at + 2] ?? 0;
  }
  return image;
}

/** Gaps and overlaps over the shade: amber where no mask is strong, red where more than one is. */
export function counted(base: ImageData, count: RawMap): ImageData {
  const image = new ImageData(new Uint8ClampedArray(base.data), base.width, base.height);
  const out = image.data;
  for (let i = 0, o = 0; i < count.values.length; i++, o += 4) {
    const n = count.values[i] ?? 0;
    if (n === 1) continue;
    const colour = n === 0 ? AMBER : ROWAN;
    for (let c = 0; c < 3; c++) out[o + c] = (out[o + c] ?? 0) * 0.4 + (colour[c] ?? 0) * 0.6;
  }
  return image;
}

/** Three bytes a sample (or one, as grey), lit by hill shade where there is any. */
export function coloured(map: RawMap, shade: RawMap["values"] | null): ImageData {
  const image = together(map);
  if (!shade) return image;
  const out = image.data;
  for (let i = 0, o = 0; o < out.length; i++, o += 4) {
    const light = 0.45 + (shade[i] ?? 0) / 290;
    out[o] = (out[o] ?? 0) * light;
    out[o + 1] = (out[o + 1] ?? 0) * light;
    out[o + 2] = (out[o + 2] ?? 0) * light;
  }
  return image;
}

/** Every place in the colour of the layer that has most of it. */
export function byIndex(map: RawMap, colours: Rgb[], shade: RawMap["values"]): ImageData {
  const image = blank(map);
  const out = image.data;
  for (let i = 0, o = 0; i < map.values.length; i++, o += 4) {
    const [r, g, b] = colours[map.values[i] ?? 0] ?? [0, 0, 0];
    const light = 0.45 + (shade[i] ?? 0) / 290;
    out[o] = r * light;
    out[o + 1] = g * light;
    out[o + 2] = b * light;
  }
  return image;
}

/** What is laid over the ground as it looks: the light is in the shade, but not in a picture. */
export function laid(image: ImageData, legend: Legend | null, options: PaintOptions, before: ImageData | null = null) {
  return single(image, legend, !options.backdrop, before);
}
