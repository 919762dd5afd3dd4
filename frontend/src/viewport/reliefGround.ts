import type { RawMap } from "../api/maps";
import { marched } from "./reliefMarch";
import { nearestTo } from "./places";

interface Point {
  x: number;
  y: number;
  z: number;
}
interface Place {
  east: number;
  south: number;
}

/** Nearer than that (in parts of the ground's longer side) the view begins to follow the ground. */
const NEARING = 0.9;
const LEAST_ABOVE = 0.0008;

/**
 * The ground as the relief has it: its longer side is 1, its middle is the origin, x runs east, y north and z up from
 * its lowest height. Places are metres east and south of its north-west corner.
 */
export class ReliefGround {
  map: RawMap | null = null;
  /** Metres: lowest and highest; how many times heights are raised; metres that are 1. */
  readonly measure = { low: 0, high: 0, lift: 1, span: 1 };

  /** Another ground, or the same raised otherwise. */
  lay(map: RawMap, lift: number): void {
    if (this.map?.key !== map.key) {
      let [low, high] = [Infinity, -Infinity];
      for (const v of map.values) {
        if (v < low) low = v;
        if (v > high) high = v;
      }
      Object.assign(this.measure, { low, high, span: Math.max(map.grid.width, map.grid.length) });
    }
    this.measure.lift = lift;
    this.map = map;
  }

  /** How large it is; null before there is one. */
  get box(): { width: number; length: number; height: number } | null {
    if (!this.map) return null;
    const { low, high, lift, span } = this.measure;
    const { width, length } = this.map.grid;
    return { width: width / span, length: length / span, height: (Math.max(high - low, 0) * lift) / span };
  }

  /** The place under a point; null beside the ground. */
  placeOf(x: number, y: number): Place | null {
    if (!this.map) return null;
    const { width, length } = this.map.grid;
    const east = x * this.measure.span + width / 2;
    const south = length / 2 - y * this.measure.span;
    return east < 0 || south < 0 || east > width || south > length ? null : { east, south };
  }

  /** Height of the relief at the nearest sample; gaps lie at the lowest. */
  heightAt({ east, south }: Place): number {
    if (!this.map) return 0;
    const { cols, grid, values } = this.map;
    const { low, lift, span } = this.measure;
    const { row, col } = nearestTo(grid, { east, south });
    const metres = values[row * cols + col] ?? low;
    return (((Number.isNaN(metres) ? low : metres) - low) * lift) / span;
  }

  /** Where a place lies in the relief; null before there is a ground. */
  pointOf(east: number, south: number): [number, number, number] | null {
    if (!this.map) return null;
    const { width, length } = this.map.grid;
    const { span } = this.measure;
    return [(east - width / 2) / span, (length / 2 - south) / span, this.heightAt({ east, south })];
  }

  /** The first place that a ray meets; null where it meets none. */
  hit(origin: Point, direction: Point): Place | null {
    const placed = (t: number) => this.placeOf(origin.x + direction.x * t, origin.y + direction.y * t);
    const t = marched((at) => {
      const place = placed(at);
      return place === null ? null : origin.z + direction.z * at - this.heightAt(place);
    });
    return t === null ? null : placed(t);
  }

  /**
   * Move an eye and what it looks at: who comes close looks at the ground and stays above it; from far away the middle
   * of the view is the map's.
   */
  keepAbove(eye: Point, target: Point): void {
    const distance = Math.hypot(eye.x - target.x, eye.y - target.y, eye.z - target.z);
    const at = this.placeOf(target.x, target.y);
    if (at) {
      const close = Math.min(Math.max((NEARING - distance) / NEARING, 0), 1);
      const rise = this.heightAt(at) * close - target.z;
      target.z += rise;
      eye.z += rise;
    }
    const under = this.placeOf(eye.x, eye.y);
    eye.z = Math.max(eye.z, (under ? this.heightAt(under) : 0) + LEAST_ABOVE);
  }
}
