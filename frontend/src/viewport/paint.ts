import type { RawMap } from "../api/maps";
import type { ProjectState, Reading } from "../api/types";
import type { Subject } from "../state/view";
import { AMBER, GENTIAN, rampOf, RAMPS, rgb, ROWAN, WATER, type Palette, type Rgb } from "./ramps";
import { bendOf, ends, middleOf, ramped, readingEnds } from "./ramped";
import { blank, grey, number, single, together, type Legend, type Panel, type Picture } from "./imaging";
import { fitPicture } from "./paintFit";
import { beforeName, paintedName, takingPart } from "./subjects";
import { SCATTERED } from "../theme";

export type { Legend, Panel, Picture };

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
  whole?: (name: string) => RawMap | null;
}

type Maps = (name: string) => RawMap;

/** Hill shade with the water over it: what overlays are laid on. */
function shadeBase(maps: Maps, state: ProjectState, water: boolean): ImageData {
  const shade = maps("reading:shade");
  const image = blank(shade);
  const out = image.data;
  for (let i = 0, o = 0; i < shade.values.length; i++, o += 4) {
    const v = 40 + (shade.values[i] ?? 0) * 0.84;
    out[o] = v;
    out[o + 1] = v;
    out[o + 2] = v;
  }
  if (water) drown(out, maps("reading:height").values, state.document.ground.water);
  return image;
}

function drown(out: Uint8ClampedArray, heights: RawMap["values"], level: number | null | undefined): void {
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
function pictured(base: ImageData, map: RawMap, strength: number): ImageData {
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
function cachedBase(maps: Maps, state: ProjectState, { water, backdrop }: PaintOptions): ImageData {
  const shade = maps("reading:shade");
  const laid = backdrop ? maps(`picture:${backdrop}`) : null;
  const key = `${shade.key}|${shade.rows}|${laid?.key ?? ""}|${water ? state.document.ground.water : "dry"}`;
  if (lastBase?.key === key) return lastBase.image;
  // The water of a picture is in the picture.
  const image = laid ? pictured(shadeBase(maps, state, false), laid, 1) : shadeBase(maps, state, water);
  lastBase = { key, image };
  return image;
}

function overlay(base: ImageData, mask: RawMap, colour: Rgb, strength: number): ImageData {
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
function bandsOf(state: ProjectState, id: string): { count: number; cut: boolean } {
  const count = state.bands[id];
  return { count: count ?? 5, cut: count !== undefined };
}

/** A mask in as many plain colours as it has bands, dark to bright. */
function banded(map: RawMap, { count, cut }: { count: number; cut: boolean }): ImageData {
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
function counted(base: ImageData, count: RawMap): ImageData {
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
function coloured(map: RawMap, shade: RawMap["values"] | null): ImageData {
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
function byIndex(map: RawMap, colours: Rgb[], shade: RawMap["values"]): ImageData {
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
function laid(image: ImageData, legend: Legend | null, options: PaintOptions, before: ImageData | null = null) {
  return single(image, legend, !options.backdrop, before);
}

function groundPicture(
  subject: Extract<Subject, { kind: "ground" }>,
  state: ProjectState,
  maps: Maps,
  options: PaintOptions,
): Picture {
  if (subject.finding) {
    const base = cachedBase(maps, state, options);
    return laid(overlay(base, maps(`finding:${subject.finding}`), AMBER, 0.9), null, options);
  }
  if (subject.style === "shade") return laid(cachedBase(maps, state, options), null, options);
  const height = maps("reading:height");
  const [low, high] = ends(options.whole?.("reading:height") ?? height);
  const water = options.shore ?? state.document.ground.water;
  const coloured = (heights: RawMap, shade: RawMap) => {
    const image = ramped(heights, "height", low, high, false, shade);
    if (options.water) drown(image.data, heights.values, water);
    return image;
  };
  const legend = { ramp: "height", low: number(low, "m", 0), high: number(high, "m", 0) };
  const image = coloured(height, maps("reading:shade"));
  if (subject.style !== "wipe") return single(image, legend, true);
  const steps = subject.steps ?? 0;
  return single(image, legend, true, coloured(maps(`at:${steps}:height`), maps(`at:${steps}:shade`)));
}

export function paint(
  subject: Subject,
  state: ProjectState,
  readings: Reading[],
  maps: Maps,
  options: PaintOptions,
): Picture {
  switch (subject.kind) {
    case "ground":
      return groundPicture(subject, state, maps, options);
    case "acts": {
      const shade = maps(`at:${subject.step}:shade`);
      const tint = options.colour ? rgb(options.colour) : GENTIAN;
      return single(overlay(coloured(shade, null), maps(`where:${subject.step}`), tint, options.tint), null, true);
    }
    case "reading": {
      const map = maps(`reading:${subject.name}`);
      const declared = readings.find((item) => item.name === subject.name);
      const [low, high] = readingEnds(options.whole?.(map.name) ?? map, declared);
      const shade = subject.over && !declared?.light ? maps("reading:shade") : null;
      const name = rampOf(declared?.ramp ?? "grey", declared?.signed ?? false, options.palette ?? "own");
      const log = declared?.scale === "log";
      const bend = bendOf(options.whole?.(map.name) ?? map, declared, low, high);
      const image = ramped(map, name, low, high, log, shade, bend);
      const unit = declared?.unit ?? "";
      const decimals = declared?.scale === "log" ? 0 : Math.min(declared?.decimals ?? 0, unit === "1/m" ? 4 : 2);
      const middle = bend === 1 ? {} : { middle: number(middleOf(low, high, log, bend), unit, decimals) };
      const beyond = ends(options.whole?.(map.name) ?? map)[1] > high + Math.abs(high) * 1e-6;
      const top = `${beyond ? "≥\u202f" : ""}${number(high, unit, decimals)}`;
      const legend = { ramp: name, low: number(low, unit, decimals), high: top, ...middle };
      return single(image, legend, shade !== null || declared?.light === true);
    }
    case "mask": {
      const mask = maps(`mask:${subject.id}`);
      if (subject.style === "alone")
        return single(grey(mask, 0, options.lift), { ramp: "grey", low: "0", high: "1" }, false);
      if (subject.style === "bands") return single(banded(mask, bandsOf(state, subject.id)), null, false);
      const base =
        subject.base === "colour"
          ? coloured(maps("layers"), maps("reading:shade").values)
          : cachedBase(maps, state, options);
      const tint = options.colour ? rgb(options.colour) : GENTIAN;
      const image = overlay(base, mask, tint, options.tint);
      const before = subject.style === "wipe" ? overlay(base, maps(beforeName(subject)), tint, options.tint) : null;
      return subject.base === "colour" ? single(image, null, true, before) : laid(image, null, options, before);
    }
    case "picture": {
      const shade = shadeBase(maps, state, false);
      const strength = subject.style === "over" ? options.tint : 1;
      const image = pictured(shade, maps(`picture:${subject.name}`), strength);
      const other = subject.style === "both" ? pictured(shade, maps(`picture:${subject.name}:otherwise`), 1) : null;
      return single(image, null, false, other);
    }
    case "band": {
      const tint = options.colour ? rgb(options.colour) : GENTIAN;
      const image = overlay(
        cachedBase(maps, state, options),
        maps(`band:${subject.mask}:${subject.band}`),
        tint,
        options.tint,
      );
      return laid(image, null, options);
    }
    case "final": {
      const gap = maps(`final:${subject.mask}`);
      let most = 0;
      for (const value of gap.values) most = Math.max(most, value);
      const image = overlay(cachedBase(maps, state, options), gap, AMBER, most > 0 ? 255 / most : 1);
      // Nothing differs, nothing to explain.
      return laid(image, most > 0 ? { ramp: "alarm", low: "0", high: (most / 255).toFixed(2) } : null, options);
    }
    case "together":
      return laid(counted(cachedBase(maps, state, options), maps(`count:${subject.masks.join("+")}`)), null, options);
    case "scatter": {
      const item = state.document.scatters?.find((one) => one.id === subject.id);
      const base = cachedBase(maps, state, options);
      return laid(overlay(base, maps(`scatter:${subject.id}`), rgb(item?.colour ?? SCATTERED), 0.25), null, options);
    }
    case "layers": {
      const map = maps(subject.solo ? `layers:${subject.solo}` : "layers");
      const image = coloured(map, subject.over ? maps("reading:shade").values : null);
      if (options.water && subject.over) drown(image.data, maps("reading:height").values, state.document.ground.water);
      return single(image, null, subject.over);
    }
    case "weight": {
      const before = subject.style === "before" || subject.style === "wipe";
      const tint = options.colour ? rgb(options.colour) : GENTIAN;
      const over = (name: string) => overlay(cachedBase(maps, state, options), maps(name), tint, options.tint);
      if (subject.style !== "wipe") return laid(over(`${before ? "strength" : "weight"}:${subject.id}`), null, options);
      return laid(over(`weight:${subject.id}`), null, options, over(`strength:${subject.id}`));
    }
    case "strongest": {
      const colours = takingPart(state.document).map((item) => rgb(item.colour));
      return single(byIndex(maps("strongest"), colours, maps("reading:shade").values), null, true);
    }
    case "sums":
      return single(grey(maps("sums")), { ramp: "grey", low: "off", high: "exact" }, false);
    case "mixed":
      return single(coloured(maps(`mixed:${subject.how}`), maps("reading:shade").values), null, true);
    case "colour": {
      if (subject.style === "after")
        return single(coloured(maps(`${subject.map}:${subject.coats}`), null), null, false);
      const shade = subject.style === "flat" ? null : maps("reading:shade").values;
      // Directions and numbers are looked at as they are written: light would bend them.
      const lit = subject.map.startsWith("colour") ? shade : null;
      const image = coloured(maps(paintedName(subject.map)), lit);
      const before = subject.style === "wipe" ? coloured(maps(`${subject.map}:${subject.coats}`), lit) : null;
      return single(image, null, lit !== null, before);
    }
    case "coat":
      return single(grey(maps(`coat:${subject.id}`)), { ramp: "grey", low: "0", high: "1" }, false);
    case "sheet": {
      const map = maps(`sheet:${subject.id}`);
      if (subject.style === "together") return single(together(map), null, false);
      const letters = ["R", "G", "B", "A"].slice(0, map.channels);
      const panels = letters.map((letter, i) => ({ title: letter, image: grey(map, i) }));
      return { panels, before: null, legend: null, shaded: false };
    }
    case "channel":
      return single(
        grey(maps(`channel:${subject.sheet}:${subject.channel}`)),
        { ramp: "grey", low: "0", high: "255" },
        false,
      );
    case "fit":
      return fitPicture(subject, maps);
  }
}
