import { scaleLinear, scaleLog } from "d3-scale";
import type { Band, Reading, Stats } from "../../api/types";
import { short } from "../../kit/numbers";

export type HandleName = "low" | "high" | "fade_low" | "fade_high";

export const HANDLES: { name: HandleName; label: string }[] = [
  { name: "fade_low", label: "Lower fade begins" },
  { name: "low", label: "Lower edge" },
  { name: "high", label: "Upper edge" },
  { name: "fade_high", label: "Upper fade ends" },
];

/** Where values lie on the histogram's axis, 0 to 1; even on the logarithm for log readings. */
export interface Axis {
  low: number;
  high: number;
  log: boolean;
  place: (value: number) => number;
  value: (t: number) => number;
  label: (value: number) => string;
}

export function axisOf(reading: Reading, stats: Stats | undefined, band: Band): Axis {
  const log = reading.scale === "log";
  const low = log ? Math.max(stats?.bin_low ?? band.low, 1e-6) : (stats?.bin_low ?? band.low);
  const high = Math.max(stats?.bin_high ?? band.high, log ? low * 2 : low + 1e-9);
  const scale = (log ? scaleLog() : scaleLinear()).domain([low, high]).range([0, 1]);
  const place = scale.copy().clamp(true);
  return {
    low,
    high,
    log,
    place: (value) => place(log ? Math.max(value, 1e-9) : value),
    value: (t) => scale.invert(t),
    label: (value) => (reading.unit === "°" ? `${short(value)}°` : `${short(value)} ${reading.unit}`.trim()),
  };
}

/** The value at a handle: fades of log readings are counted in doublings. */
export function handlePosition(band: Band, handle: HandleName, axis: Axis): number {
  switch (handle) {
    case "low":
    case "high":
      return band[handle];
    case "fade_low":
      return axis.log ? band.low / 2 ** band.fade_low : band.low - band.fade_low;
    case "fade_high":
      return axis.log ? band.high * 2 ** band.fade_high : band.high + band.fade_high;
  }
}

function tidy(value: number, axis: Axis): number {
  const size = axis.log ? Math.abs(value) : axis.high - axis.low;
  const digits = Math.max(0, 3 - Math.floor(Math.log10(Math.max(size, 1e-9))));
  return Number(value.toFixed(Math.min(digits, 8)));
}

/** The band after a handle was taken to a value. Edges push each other and carry their fades along. */
export function dragged(band: Band, handle: HandleName, value: number, axis: Axis): Band {
  const v = tidy(value, axis);
  switch (handle) {
    case "low":
      return { ...band, low: v, high: Math.max(band.high, v) };
    case "high":
      return { ...band, high: v, low: Math.min(band.low, v) };
    case "fade_low": {
      const fade = axis.log ? Math.log2(band.low / Math.max(v, 1e-9)) : band.low - v;
      return { ...band, fade_low: Number(Math.max(fade, 0).toFixed(3)) };
    }
    case "fade_high": {
      const fade = axis.log ? Math.log2(v / band.high) : v - band.high;
      return { ...band, fade_high: Number(Math.max(fade, 0).toFixed(3)) };
    }
  }
}

/** The band taken along as a whole, from one value to another on the axis: as wide as it was, and inside the axis. An
 * edge that is open, at the axis' end or beyond it, stays where it is. */
export function shifted(band: Band, from: number, to: number, axis: Axis): Band {
  const [low, high] = [axis.place(band.low), axis.place(band.high)];
  const [openLow, openHigh] = [low <= 0, high >= 1];
  if (openLow && openHigh) return band;
  const least = openLow ? -high : -low;
  const most = openHigh ? 1 - low : 1 - high;
  const by = Math.min(Math.max(axis.place(to) - axis.place(from), least), most);
  return {
    ...band,
    low: openLow ? band.low : tidy(axis.value(low + by), axis),
    high: openHigh ? band.high : tidy(axis.value(high + by), axis),
  };
}

/** A band to begin with: the upper third of what there is. */
export function firstBand(reading: Reading, stats: Stats | undefined): Band {
  const start: Band = {
    kind: "band",
    reading: reading.name,
    low: 0,
    high: 1,
    fade_low: 0,
    fade_high: 0,
    smooth: false,
  };
  const axis = axisOf(reading, stats, start);
  const low = tidy(axis.value(0.55), axis);
  return {
    ...start,
    low,
    high: axis.log ? 1e9 : (reading.high ?? Math.ceil(axis.high)),
    fade_low: axis.log ? 1 : tidy((axis.high - axis.low) * 0.08, axis),
  };
}
