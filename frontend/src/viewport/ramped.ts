import type { RawMap } from "../api/maps";
import type { Reading } from "../api/types";
import { RAMPS } from "./ramps";

/** What has no value is drawn in the colour around the map. */
const NOTHING = [111, 115, 113] as const;

/** A map in the colours of a ramp between two values, lit by a hill shade where one is given. */
export function ramped(
  map: RawMap,
  name: string,
  low: number,
  high: number,
  log: boolean,
  shade: RawMap | null,
): ImageData {
  const image = new ImageData(map.cols, map.rows);
  const out = image.data;
  new Uint32Array(out.buffer).fill(0xff000000);
  const table = RAMPS[name] ?? RAMPS.grey ?? new Uint8Array(768);
  const start = log ? Math.log2(Math.max(low, 1e-6)) : low;
  const span = (log ? Math.log2(Math.max(high, 1e-6)) : high) - start || 1;
  for (let i = 0, o = 0; i < map.values.length; i++, o += 4) {
    const v = map.values[i] ?? 0;
    if (Number.isNaN(v)) {
      [out[o], out[o + 1], out[o + 2]] = NOTHING;
      continue;
    }
    const t = ((log ? Math.log2(v) : v) - start) / span;
    const k = (t <= 0 ? 0 : t >= 1 ? 255 : (t * 255 + 0.5) | 0) * 3;
    const light = shade ? 0.42 + (shade.values[i] ?? 0) / 300 : 1;
    out[o] = (table[k] ?? 0) * light;
    out[o + 1] = (table[k + 1] ?? 0) * light;
    out[o + 2] = (table[k + 2] ?? 0) * light;
  }
  return image;
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

/** The values that all but a hundredth lie between: a few extremes would leave the rest in one colour. */
function nearlyAll(map: RawMap): [number, number] {
  const step = Math.max(1, Math.floor(map.values.length / 20000));
  const some: number[] = [];
  for (let i = 0; i < map.values.length; i += step) {
    const v = map.values[i] ?? NaN;
    if (!Number.isNaN(v)) some.push(v);
  }
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
  const [low, high] = reading.scale === "log" || reading.ramp_all ? ends(map) : nearlyAll(map);
  const [least, most] = reading.ramp_high ?? [];
  const top =
    least === undefined || most === undefined ? (reading.high ?? high) : Math.min(Math.max(high, least), most);
  return [reading.low ?? low, Math.max(top, (reading.low ?? low) + 1e-9)];
}
