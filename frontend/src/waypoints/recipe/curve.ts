type Point = [number, number];

const STEPS = 96;

/**
 * The curve through some points as it is drawn: level before the first and after the last, never turning back between
 * two points. The same rule as where masks are made (Fritsch & Carlson 1980); packages choose other slopes, and the line
 * on the screen must be the one that is computed.
 */
export function monotone(points: Point[]): Point[] {
  const n = points.length;
  const rise: number[] = [];
  for (let i = 0; i + 1 < n; i++) {
    const a: Point = points[i] ?? [0, 0];
    const b: Point = points[i + 1] ?? [1, 1];
    rise.push((b[1] - a[1]) / Math.max(b[0] - a[0], 1e-6));
  }
  const slope = points.map((_, i) => {
    const [before, after] = [rise[i - 1], rise[i]];
    if (before === undefined || after === undefined) return before ?? after ?? 0;
    return before * after <= 0 ? 0 : (before + after) / 2;
  });
  rise.forEach((d, i) => {
    const [a, b] = [slope[i] ?? 0, slope[i + 1] ?? 0];
    if (d === 0) slope[i] = slope[i + 1] = 0;
    else if (Math.hypot(a / d, b / d) > 3) {
      const k = 3 / Math.hypot(a / d, b / d);
      slope[i] = k * a;
      slope[i + 1] = k * b;
    }
  });
  return Array.from({ length: STEPS + 1 }, (_, k): Point => {
    const t = k / STEPS;
    const after = points.findIndex((point) => point[0] > t);
    const i = after < 0 ? n - 1 : after - 1;
    const a: Point = points[Math.max(i, 0)] ?? [0, 0];
    const b = points[i + 1];
    if (i < 0 || !b) return [t, a[1]];
    const h = b[0] - a[0];
    const u = (t - a[0]) / h;
    const [u2, u3] = [u * u, u * u * u];
    const v =
      (2 * u3 - 3 * u2 + 1) * a[1] +
      (u3 - 2 * u2 + u) * h * (slope[i] ?? 0) +
      (3 * u2 - 2 * u3) * b[1] +
      (u3 - u2) * h * (slope[i + 1] ?? 0);
    return [t, Math.min(Math.max(v, 0), 1)];
  });
}
