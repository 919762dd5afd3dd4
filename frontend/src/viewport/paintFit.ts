import { withUnit } from "../kit/numbers";
import type { RawMap } from "../api/maps";
import type { FitStyle, FitSubject } from "./subjects/subject";
import { grey, single, together, type Legend, type Picture } from "./imaging";
import { ends, ramped } from "./ramped";
import type { FitPart } from "../api/maps";

/** The pictures of a fit check, by what they show. */
type Maps = (part: FitPart) => RawMap;

const SQUARES = 12;

/** Squares of one picture and of another by turns. */
export function checkered(one: ImageData, other: ImageData): ImageData {
  const image = new ImageData(new Uint8ClampedArray(one.data), one.width, one.height);
  const side = Math.max(4, Math.ceil(Math.max(one.width, one.height) / SQUARES));
  const [from, to] = [new Uint32Array(other.data.buffer), new Uint32Array(image.data.buffer)];
  for (let y = 0; y < one.height; y++)
    for (let x = 0; x < one.width; x++)
      if ((Math.floor(y / side) + Math.floor(x / side)) % 2) to[y * one.width + x] = from[y * one.width + x] ?? 0;
  return image;
}

/** Samples of a fit check as bytes, one channel or the first three together. */
function stored(map: RawMap, full: number, channel: number | null): ImageData {
  const k = 255 / full;
  const values = full === 255 ? map.values : map.values.map((v: number) => v * k);
  const scaled: RawMap = { ...map, values };
  return channel === null && map.channels >= 3 ? together(scaled) : grey(scaled, channel ?? 0);
}

/** One channel of a map, or at each place whichever is largest in amount. */
function worst(map: RawMap, channel: number | null): RawMap {
  if (map.channels === 1) return map;
  const values = new Float32Array(map.rows * map.cols);
  for (let i = 0; i < values.length; i++) {
    let most = 0;
    for (let c = 0; c < map.channels; c++) {
      const v = map.values[i * map.channels + c] ?? 0;
      if ((channel === null || channel === c) && Math.abs(v) > Math.abs(most)) most = v;
    }
    values[i] = most;
  }
  return { ...map, channels: 1, values };
}

/** A map of a fit check: one side, both, or what lies between. */
export function fitPicture(subject: FitSubject, maps: Maps): Picture {
  if (subject.style === "difference") {
    const map = worst(maps("difference"), subject.channel);
    const [low, high] = ends(map);
    // Half a step is what rounding may cost: less than that is no difference worth a colour.
    const half = subject.metres ? subject.step / 2 : 0;
    const far = Math.max(Math.abs(low), Math.abs(high), half);
    const size = subject.metres
      ? far === half
        ? "½ step"
        : far < 1
          ? `${(far * 1000).toPrecision(2)} mm`
          : `${far.toPrecision(3)} m`
      : subject.full > 1
        ? far.toFixed(0)
        : far.toPrecision(3);
    const legend = far > 0 ? { ramp: "difference", low: `−${size}`, high: `+${size}` } : null;
    return single(ramped(map, "difference", -(far || 1), far || 1, false, null), legend, false);
  }
  if (!subject.metres) {
    const made = (part: FitPart) => stored(maps(part), subject.full, subject.channel);
    const top = subject.channels.length < 3 || subject.channel !== null;
    const legend = top ? { ramp: "grey", low: "0", high: String(subject.full) } : null;
    return paired(subject.style, made, legend);
  }
  const first = maps(subject.style === "meant" ? "meant" : "rebuilt");
  const other = subject.style === "wipe" || subject.style === "checker" ? maps("meant") : first;
  const [low, high] = ends(other);
  const made = (part: FitPart) => ramped(maps(part), "height", low, high, false, null);
  return paired(subject.style, made, { ramp: "height", low: withUnit(low, "m", 0), high: withUnit(high, "m", 0) });
}

function paired(style: FitStyle, made: (part: FitPart) => ImageData, legend: Legend | null): Picture {
  if (style === "wipe") return single(made("rebuilt"), legend, false, made("meant"));
  if (style === "checker") return single(checkered(made("rebuilt"), made("meant")), legend, false);
  return single(made(style === "meant" ? "meant" : "rebuilt"), legend, false);
}
