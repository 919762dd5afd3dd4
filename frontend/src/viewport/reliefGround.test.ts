import { beforeEach, describe, expect, it } from "vitest";
import type { RawMap } from "../api/maps";
import { ReliefGround } from "./reliefGround";

/** 5 × 3 samples of 10 m, rising by 2 m a column eastwards from 100 m; the south-west corner is a gap. */
function slope(key = "a"): RawMap {
  const values = Float32Array.from({ length: 15 }, (_, i) => (i === 10 ? NaN : 100 + 2 * (i % 5)));
  return {
    key,
    rows: 3,
    cols: 5,
    values,
    grid: { width: 40, length: 20, rows: 3, cols: 5, spacing_x: 10, spacing_y: 10, registration: "vertex" },
  } as unknown as RawMap;
}

describe("the ground in the relief", () => {
  let ground: ReliefGround;
  beforeEach(() => {
    ground = new ReliefGround();
    ground.lay(slope(), 3);
  });

  it("is as large as its longer side, raised from its lowest height", () => {
    expect(ground.measure).toEqual({ low: 100, high: 108, lift: 3, span: 40 });
    expect(ground.box).toEqual({ width: 1, length: 0.5, height: (8 * 3) / 40 });
    expect(new ReliefGround().box).toBeNull();
    expect(new ReliefGround().pointOf(1, 1)).toBeNull();
  });

  it("has east to the right and north up, and no place beside it", () => {
    expect(ground.placeOf(0, 0)).toEqual({ east: 20, south: 10 });
    expect(ground.placeOf(0.25, 0.25)).toEqual({ east: 30, south: 0 });
    expect(ground.placeOf(0.51, 0)).toBeNull();
    expect(ground.placeOf(0, -0.26)).toBeNull();
    expect(ground.pointOf(30, 0)).toEqual([0.25, 0.25, (6 * 3) / 40]);
  });

  it("takes the nearest sample; a gap lies at the lowest height", () => {
    expect(ground.heightAt({ east: 14, south: 10 })).toBeCloseTo((2 * 3) / 40);
    expect(ground.heightAt({ east: 16, south: 10 })).toBeCloseTo((4 * 3) / 40);
    expect(ground.heightAt({ east: 0, south: 20 })).toBe(0);
  });

  it("is raised otherwise without being measured again, and measured again when it is another", () => {
    const same = slope();
    same.values[0] = -50;
    ground.lay(same, 1);
    expect(ground.measure).toMatchObject({ low: 100, lift: 1 });
    ground.lay({ ...same, key: "b" }, 1);
    expect(ground.measure.low).toBe(-50);
  });

  it("is met where a ray comes down on it", () => {
    const place = ground.hit({ x: 0.25, y: 0, z: 2 }, { x: 0, y: 0, z: -1 });
    expect(place?.east).toBeCloseTo(30);
    expect(place?.south).toBeCloseTo(10);
    expect(ground.hit({ x: 0, y: 0, z: 2 }, { x: 0, y: 0, z: 1 })).toBeNull();
  });

  it("keeps an eye above it, and looks at it from nearby only", () => {
    const [eye, target] = [
      { x: 0.25, y: 0, z: 0.01 },
      { x: 0.25, y: 0.1, z: 0 },
    ];
    ground.keepAbove(eye, target);
    const height = (6 * 3) / 40;
    const close = (0.9 - Math.hypot(0.1, 0.01)) / 0.9;
    expect(target.z).toBeCloseTo(height * close);
    expect(eye.z).toBeCloseTo(Math.max(0.01 + height * close, height + 0.0008));
    const [far, middle] = [
      { x: 0, y: -3, z: 1 },
      { x: 0, y: 0, z: 0.2 },
    ];
    ground.keepAbove(far, middle);
    expect(middle.z).toBe(0);
    expect(far.z).toBeCloseTo(0.8);
    const deep = { x: 2, y: 2, z: -1 };
    ground.keepAbove(deep, { x: 2, y: 2, z: -1 });
    expect(deep.z).toBe(0.0008);
  });
});
