import type { GridInfo } from "../api/types";

/** Where a picture lies: metres moved east and north, times as large as the ground, degrees turned clockwise. */
export interface Lie {
  east: number;
  north: number;
  wide: number;
  turn: number;
}

export interface Spot {
  east: number;
  south: number;
}

/** The place on the ground of a point of the picture; u, v: −1 to 1 from its west to east and north to south border. */
export function placeIn(lie: Lie, home: GridInfo, outer: readonly number[], u: number, v: number): Spot {
  const angle = (lie.turn * Math.PI) / 180;
  const x = (u * lie.wide * (home.width + (outer[0] ?? 0))) / 2;
  const y = (v * lie.wide * (home.length + (outer[1] ?? 0))) / 2;
  return {
    east: home.width / 2 + lie.east + x * Math.cos(angle) - y * Math.sin(angle),
    south: home.length / 2 - lie.north + x * Math.sin(angle) + y * Math.cos(angle),
  };
}

/** The middle of the picture on the ground. */
export function middleOf(lie: Lie, home: GridInfo): Spot {
  return { east: home.width / 2 + lie.east, south: home.length / 2 - lie.north };
}

function round(value: number, digits: number): number {
  return Number(value.toFixed(digits));
}

/** After its middle was taken along from one place to another. */
export function moved(lie: Lie, from: Spot, to: Spot): Lie {
  return {
    ...lie,
    east: round(lie.east + to.east - from.east, 2),
    north: round(lie.north - (to.south - from.south), 2),
  };
}

/** After a corner was taken along: as much larger as the corner is now further from the middle. */
export function resized(lie: Lie, home: GridInfo, from: Spot, to: Spot): Lie {
  const middle = middleOf(lie, home);
  const before = Math.hypot(from.east - middle.east, from.south - middle.south);
  const after = Math.hypot(to.east - middle.east, to.south - middle.south);
  const wide = before > 0 ? lie.wide * (after / before) : lie.wide;
  return { ...lie, wide: round(Math.min(Math.max(wide, 0.01), 100), 5) };
}

/** After it was turned about its middle from the direction of one place to that of another. */
export function turned(lie: Lie, home: GridInfo, from: Spot, to: Spot): Lie {
  const middle = middleOf(lie, home);
  const angle = (spot: Spot) => Math.atan2(spot.south - middle.south, spot.east - middle.east);
  const turn = lie.turn + ((angle(to) - angle(from)) * 180) / Math.PI;
  return { ...lie, turn: round(((turn + 540) % 360) - 180, 3) };
}

/** After a key; null where it does nothing. Arrows move by a sample of the ground, + and − resize, [ and ] turn. */
export function nudged(lie: Lie, home: GridInfo, key: string, times: number): Lie | null {
  const by = (east: number, south: number) =>
    moved(lie, { east: 0, south: 0 }, { east: east * home.spacing_x * times, south: south * home.spacing_y * times });
  switch (key) {
    case "ArrowLeft":
      return by(-1, 0);
    case "ArrowRight":
      return by(1, 0);
    case "ArrowUp":
      return by(0, -1);
    case "ArrowDown":
      return by(0, 1);
    case "+":
    case "=":
      return { ...lie, wide: round(Math.min(lie.wide * 1.001 ** times, 100), 5) };
    case "-":
    case "_":
      return { ...lie, wide: round(Math.max(lie.wide / 1.001 ** times, 0.01), 5) };
    case "[":
    case "{":
      return { ...lie, turn: round(lie.turn - 0.1 * times, 3) };
    case "]":
    case "}":
      return { ...lie, turn: round(lie.turn + 0.1 * times, 3) };
    default:
      return null;
  }
}
