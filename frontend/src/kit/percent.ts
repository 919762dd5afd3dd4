/** A share (0–1) in hundredths, never parted from its sign; small ones with a decimal, unless it is said how many. */
export function percent(share: number, decimals = share < 0.1 ? 1 : 0): string {
  return `${(share * 100).toFixed(decimals)}\u00a0%`;
}
