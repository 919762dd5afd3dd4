import { describe, expect, it } from "vitest";
import { PerspectiveCamera, Vector3 } from "three";
import { orbited, pixelsAt, sunFrom } from "./orbit";

const rounded = (point: readonly number[]) => point.map((v) => Number(v.toFixed(6)) + 0);
const none = { turn: 0, tilt: 0, nearer: 0 };

describe("looking from elsewhere", () => {
  it("goes round its target, over it and nearer, about as far as told", () => {
    const [eye, target] = [[2, 1, 3] as const, [1, 1, 2] as const];
    expect(rounded(orbited(eye, target, none, 8))).toEqual([2, 1, 3]);
    expect(rounded(orbited(eye, target, { ...none, turn: Math.PI / 2 }, 8))).toEqual([1, 2, 3]);
    expect(rounded(orbited(eye, target, { ...none, nearer: 0.5 }, 8))).toEqual([1.5, 1, 2.5]);
    const tilted = rounded(orbited(eye, target, { ...none, tilt: -Math.PI / 12 }, 8));
    expect(tilted).toEqual(rounded([1 + Math.sqrt(2) * Math.cos(Math.PI / 6), 1, 2 + Math.SQRT2 / 2]));
  });

  it("stays off the target, within reach, above the horizon and off its very top", () => {
    const from = (by: Partial<typeof none>) => orbited([1, 0, 1], [0, 0, 0], { ...none, ...by }, 8);
    expect(Math.hypot(...from({ nearer: 1 }))).toBeCloseTo(0.005);
    expect(Math.hypot(...from({ nearer: -99 }))).toBeCloseTo(8);
    const rise = ([x, y, z]: readonly number[]) => Math.atan2(z ?? 0, Math.hypot(x ?? 0, y ?? 0));
    expect(rise(from({ tilt: -2 }))).toBeCloseTo(0.05);
    expect(rise(from({ tilt: 2 }))).toBeCloseTo(1.5);
  });

  it("has light from degrees clockwise from north", () => {
    expect(rounded(sunFrom(0, 0))).toEqual([0, 1, 0]);
    expect(rounded(sunFrom(90, 0))).toEqual([1, 0, 0]);
    expect(rounded(sunFrom(225, 30))).toEqual(rounded([-Math.sqrt(3 / 8), -Math.sqrt(3 / 8), 0.5]));
  });

  it("counts the pixels of a metre as the camera draws it", () => {
    const camera = new PerspectiveCamera(38, 1.5, 0.01, 50);
    camera.position.set(0, 0, 3);
    camera.updateMatrixWorld();
    // 500 m are as long as 1; the view is 600 pixels high.
    const [here, up] = [new Vector3(0, 0, 0), new Vector3(0, 1 / 500, 0)].map((at) => at.project(camera).y);
    expect(pixelsAt(3, 38, 600, 500)).toBeCloseTo((((up ?? 0) - (here ?? 0)) / 2) * 600, 6);
  });
});
