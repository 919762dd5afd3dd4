import type { RawMap } from "../api/maps";
import type { Reading } from "../api/types";
import { RAMPS } from "./ramps";

/** What has no value is drawn in the colour around the map. */
const NOTHING = [111, 115, 113] as const;
const STEPS = 2048;
/** A reading is uneven when nine tenths of it lie below this part of its ramp; they are spread to the other. */
const UNEVEN = 0.3;
const SPREAD = 0.45;
const LEAST_BEND = 0.3;

/** A map in the colours of a ramp between two values, lit by a hill shade where one is given. `bend`: the power that
 * parts of the way between the two are raised to. */
export function ramped(
  map: RawMap,
  name: string,
  low: number,
  high: number,
  log: boolean,
  shade: RawMap | null,
  bend = 1,
): ImageData {
  const image = new ImageData(map.cols, map.rows);
  const out = image.data;
  new Uint32Array(out.buffer).fill(0xff000000);
  const table = RAMPS[name] ?? RAMPS.grey ?? new Uint8Array(768);
  // A power a sample would take longer than all the rest.
  const places = Uint16Array.from({ length: STEPS + 1 }, (_, i) => ((i / STEPS) ** bend * 255 + 0.5) | 0);
  const start = log ? Math.log2(Math.max(low, 1e-6)) : low;
  const span = (log ? Math.log2(Math.max(high, 1e-6)) : high) - start || 1;
  for (let i = 0, o = 0; i < map.values.length; i++, o += 4) {
    const v = map.values[i] ?? 0;
    if (Number.isNaN(v)) {
      [out[o], out[o + 1], out[o + 2]] = NOTHING;
      continue;
    }
    const t = ((log ? Math.log2(v) : v) - start) / span;
    const k = (t <= 0 ? 0 : t >= 1 ? 255 : (places[(t * STEPS + 0.5) | 0] ?? 0)) * 3;
    const light = shade ? 0.42 + (shade.values[i] ?? 0) / 300 : 1;
    out[o] = (table[k] ?? 0) * light;
    out[o + 1] = (table[k + 1] ?? 0) * light;
    out[o + 2] = (table[k + 2] ?? 0) * light;
  }
  return image;
}

/** How a ramp is bent for a reading that is uneven, so that most of the ground does not lie in its palest colours: nine
 * tenths of what is not at its low end come nearly to the middle. 1: not at all. */
export function bendOf(map: RawMap, reading: Reading | undefined, low: number, high: number): number {
  if (!reading || reading.signed || reading.wraps || reading.light) return 1;
  const log = reading.scale === "log";
  const scaled = (v: number) => (log ? Math.log2(Math.max(v, 1e-6)) : v);
  const [start, span] = [scaled(low), scaled(high) - scaled(low) || 1];
  const parts = someOf(map)
    .map((v) => (scaled(v) - start) / span)
    .filter((t) => t > 1e-3);
  parts.sort((a, b) => a - b);
  const most = parts[Math.floor(parts.length * 0.9)] ?? 1;
  return most < UNEVEN ? Math.max(Math.log(SPREAD) / Math.log(most), LEAST_BEND) : 1;
}

/** The value in the middle of a bent ramp. */
export function middleOf(low: number, high: number, log: boolean, bend: number): number {
  const t = 0.5 ** (1 / bend);
  return log ? low * (high / low) ** t : low + (high - low) * t;
}

/** Least and most of a map; 0 to 1 where nothing has a value. */
export function ends(map: RawMap): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (const v of map.values) {
    if (v < low) low = v;
    if (v > high) high = v;
  }
  return low <= high ? [low, high] : [0, 1];
}

/** Some values from all over a map, where it has any. */
function someOf(map: RawMap): number[] {
  const step = Math.max(1, Math.floor(map.values.length / 20000));
  const some: number[] = [];
  for (let i = 0; i < map.values.length; i += step) {
    const v = map.values[i] ?? NaN;
    if (!Number.isNaN(v)) some.push(v);
  }
  return some;
}

/** The values that all but a hundredth lie between: a few extremes would leave the rest in one colour. */
function nearlyAll(map: RawMap): [number, number] {
  const some = someOf(map);
  some.sort((a, b) => a - b);
  const at = (part: number) => some[Math.round((some.length - 1) * part)] ?? 0;
  const found: [number, number] = [at(0.005), at(0.995)];
  return found[0] < found[1] ? found : ends(map);
}

/** The values at both ends of a reading's ramp. Signed readings are coloured evenly about 0. */
export function readingEnds(map: RawMap, reading: Reading | undefined): [number, number] {
  if (!reading) return ends(map);
  if (reading.signed && reading.low === null) {
    const [low, high] = nearlyAll(map);
    const far = Math.max(Math.abs(low), Math.abs(high)) || 1;
    return [-far, far];
  }
  // A few channels that drain nearly everything would leave all others pale.
  const [low, high] = reading.ramp_all ? ends(map) : nearlyAll(map);
  const [least, most] = reading.ramp_high ?? [];
  const top =
    least === undefined || most === undefined ? (reading.high ?? high) : Math.min(Math.max(high, least), most);
  return [reading.low ?? low, Math.max(top, (reading.low ?? low) + 1e-9)];
}
