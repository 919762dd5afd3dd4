/** A part of the ground: its west, north, east and south as shares of the whole. */
export type Part = [number, number, number, number];

interface Sampled {
  rows: number;
  cols: number;
  channels: number;
  values: ArrayLike<number>;
}

/** The part, `share` of the ground wide and long, in which a map differs most: where its edges are. */
export function busiest(map: Sampled, share: number): Part {
  const [rows, cols] = [Math.max(Math.round(map.rows * share), 1), Math.max(Math.round(map.cols * share), 1)];
  let best = -1;
  let found: [number, number] = [0, 0];
  const step = (side: number) => Math.max(Math.floor(side / 2), 1);
  for (let row = 0; row + rows <= map.rows; row += step(rows))
    for (let col = 0; col + cols <= map.cols; col += step(cols)) {
      const spread = variance(map, row, col, rows, cols);
      if (spread > best) {
        best = spread;
        found = [row, col];
      }
    }
  const [row, col] = found;
  return [col / map.cols, row / map.rows, (col + cols) / map.cols, (row + rows) / map.rows];
}

function variance(map: Sampled, row: number, col: number, rows: number, cols: number): number {
  let [sum, squares, count] = [0, 0, 0];
  for (let i = row; i < row + rows; i++)
    for (let j = col; j < col + cols; j++) {
      const value = map.values[(i * map.cols + j) * map.channels] ?? NaN;
      if (!Number.isFinite(value)) continue;
      sum += value;
      squares += value * value;
      count += 1;
    }
  return count === 0 ? 0 : squares / count - (sum / count) ** 2;
}
