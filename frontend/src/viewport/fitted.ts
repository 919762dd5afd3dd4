import type { RawMap } from "../api/maps";

const held = new WeakMap<RawMap, { key: string; map: RawMap }>();

/** A map brought to the samples of a moving one, to be painted together with it: means over what each sample covers. The
 * last one is kept, because it is asked for with every movement of the hand. */
export function fitted(map: RawMap, to: RawMap): RawMap {
  const { grid, window } = to;
  if (!window && map.rows === to.rows && map.cols === to.cols) return map;
  const part = window ?? { row0: 0, row1: grid.rows, col0: 0, col1: grid.cols };
  const key = `${map.key}@${grid.rows}x${grid.cols}:${part.row0},${part.row1},${part.col0},${part.col1}`;
  const last = held.get(map);
  if (last?.key === key) return last.map;
  const down = covered(part.row0, part.row1, grid.rows, map.rows);
  const across = covered(part.col0, part.col1, grid.cols, map.cols);
  const n = map.channels;
  const values =
    map.values instanceof Float32Array
      ? new Float32Array(to.rows * to.cols * n)
      : new Uint8Array(to.rows * to.cols * n);
  let o = 0;
  for (const [top, bottom] of down)
    for (const [left, right] of across)
      for (let c = 0; c < n; c++) {
        let sum = 0;
        for (let r = top; r < bottom; r++)
          for (let x = left; x < right; x++) sum += map.values[(r * map.cols + x) * n + c] ?? 0;
        values[o++] = sum / ((bottom - top) * (right - left));
      }
  const made: RawMap = { ...map, rows: to.rows, cols: to.cols, values, key };
  held.set(map, { key, map: made });
  return made;
}

/** First and end of the samples of a map that each sample from `first` to `end` of a grid of the same extent covers. */
function covered(first: number, end: number, count: number, of: number): [number, number][] {
  const per = (of - 1) / (count - 1);
  return Array.from({ length: end - first }, (_, i) => {
    const middle = (first + i) * per;
    const low = Math.min(Math.max(Math.round(middle - per / 2), 0), of - 1);
    return [low, Math.min(Math.max(Math.round(middle + per / 2), low + 1), of)];
  });
}
