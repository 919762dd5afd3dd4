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
  steep: ramp("#f6f3e2", "#e8d9a6", "#d3a065", "#b3624a", "#7a3049", "#43143a"),
  compass: ramp("#6a4fa3", "#b4527e", "#d98f55", "#c9c15a", "#6fa86a", "#3f8f98", "#4a69a8", "#6a4fa3"),
  bend: ramp("#27507f", "#7fa3c4", "#f1eee4", "#d59a6c", "#8a3f24"),
  balance: ramp("#2f5d62", "#86b0a6", "#f1eee4", "#c9a36b", "#7d5226"),
  strength: ramp("#f4f1e6", "#d9cfae", "#b5a072", "#836b45", "#463523"),
  alarm: ramp("#eef0e6", "#dfe0b8", "#e3b660", "#c8642f", "#7f1f1c"),
  shelter: ramp("#f5f2e6", "#cfc7b4", "#95907f", "#565a53", "#1d2624"),
  light: ramp("#232a3a", "#5d5f6c", "#a49a86", "#e3d3a3", "#fffbe6"),
  flow: ramp("#eef2ea", "#cfe3dc", "#8fc4c4", "#4690a8", "#1f5685", "#14284f"),
  wet: ramp("#f3eedc", "#c9d3b0", "#7fb09a", "#37807f", "#153f54"),
  depth: ramp("#f2f1ea", "#a9cdd6", "#4e93b3", "#1d4f86", "#122a52"),
  distance: ramp("#1f5685", "#6ca3b1", "#c6d2bd", "#e9e0c4", "#f7f2e2"),
  scour: ramp("#f7f2e8", "#ecd2b3", "#d99a6c", "#a9543a", "#5e1f1d"),
  laid: ramp("#f6f4ea", "#e2dcb8", "#c3b478", "#8f8148", "#4d4524"),
  safe: ramp("#12244f", "#2f4b73", "#6b7180", "#a39a78", "#d9c45b", "#fdf3a0"),
  safe_balance: ramp("#1c4d8c", "#85a9d1", "#f4f2ec", "#e0a35a", "#8c4a0d"),
  difference: ramp("#2d4f9e", "#8fa6d6", "#efece6", "#d9a27e", "#8f4a1f"),
  grey: ramp("#000000", "#ffffff"),
};

export const WATER: Rgb = [86, 128, 146];
export const GENTIAN: Rgb = [75, 63, 163];
export const ROWAN: Rgb = [166, 58, 43];
export const AMBER: Rgb = [214, 120, 20];

export type Palette = "own" | "safe" | "grey";

/** The ramp that a reading is drawn with: its own, one for every kind of sight, or grey. */
export function rampOf(own: string, signed: boolean, palette: Palette): string {
  if (palette === "own") return RAMPS[own] ? own : "grey";
  return palette === "grey" ? "grey" : signed ? "safe_balance" : "safe";
}

export function cssRamp(name: string): string {
  const table = RAMPS[name] ?? RAMPS.grey ?? new Uint8Array(768);
  const stops = [];
  for (let i = 0; i <= 8; i++) {
    const k = Math.round((i / 8) * 255) * 3;
    stops.push(`rgb(${table[k]} ${table[k + 1]} ${table[k + 2]})`);
  }
  return `linear-gradient(90deg, ${stops.join(", ")})`;
}
