/** A number with at most so many decimals, none of them idle, and thousands apart. */
export function trim(value: number, decimals = 2): string {
  const text = value.toFixed(decimals);
  const short = text.includes(".") ? text.replace(/\.?0+$/, "") : text;
  const [whole = "", rest] = short.split(".");
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, "\u202f");
  return rest ? `${grouped}.${rest}` : grouped;
}

/** A number in as little room as an axis has. */
export function short(value: number): string {
  if (Math.abs(value) >= 1e6) return `${trim(value / 1e6, 1)}M`;
  if (Math.abs(value) >= 1e4) return `${trim(value / 1e3, 0)}k`;
  return trim(value, Math.abs(value) < 10 ? 1 : 0);
}

/** A number with its unit, as a legend says it. */
export function withUnit(value: number, unit: string, decimals: number): string {
  const text = Math.abs(value) >= 10000 ? short(value) : value.toFixed(decimals);
  return unit === "°" ? `${text}°` : `${text} ${unit}`.trim();
}
