/** Colour ramps as 256 RGB entries, and the few colours that drawing needs. */

export type Rgb = readonly [number, number, number];

export function rgb(hex: string): Rgb {
  const n = Number.parseInt(hex.slice(1), 16);
  return [(n >> 16) & 255, (n >> 8) & 255, n & 255];
}

function ramp(...stops: string[]): Uint8Array {
  const out = new Uint8Array(256 * 3);
  for (let i = 0; i < 256; i++) {
    const at = (i / 255) * (stops.length - 1);
    const k = Math.min(Math.floor(at), stops.length - 2);
    const a = rgb(stops[k] ?? "#000000");
    const b = rgb(stops[k + 1] ?? "#000000");
    for (let c = 0; c < 3; c++) out[i * 3 + c] = Math.round((a[c] ?? 0) + ((b[c] ?? 0) - (a[c] ?? 0)) * (at - k));
  }
  return out;
}

export const RAMPS: Record<string, Uint8Array> = {
  height: ramp("#4f7a72", "#7d9f6d", "#c3c98a", "#d8c48d", "#b78a68", "#8d6a5c", "#d9d4cf", "#ffffff"),
  slope: ramp("#f6f3e2", "#e8d9a6", "#d3a065", "#b3624a", "#7a3049", "#43143a"),
  shade: ramp("#101010", "#ffffff"),
  flow: ramp("#eef2ea", "#cfe3dc", "#8fc4c4", "#4690a8", "#1f5685", "#14284f"),
  standing_water: ramp("#f2f1ea", "#a9cdd6", "#4e93b3", "#1d4f86", "#122a52"),
  difference: ramp("#2d4f9e", "#8fa6d6", "#efece6", "#d9a27e", "#8f4a1f"),
  grey: ramp("#000000", "#ffffff"),
};

export const WATER: Rgb = [86, 128, 146];
export const GENTIAN: Rgb = [75, 63, 163];

export function cssRamp(name: string): string {
  const table = RAMPS[name] ?? RAMPS.grey ?? new Uint8Array(768);
  const stops = [];
  for (let i = 0; i <= 8; i++) {
    const k = Math.round((i / 8) * 255) * 3;
    stops.push(`rgb(${table[k]} ${table[k + 1]} ${table[k + 2]})`);
  }
  return `linear-gradient(90deg, ${stops.join(", ")})`;
}
