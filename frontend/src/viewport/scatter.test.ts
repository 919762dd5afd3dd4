import { describe, expect, it } from "vitest";
import { testState } from "../testing/state";
import { paintDots } from "./ScatterDots";

const { home } = testState();

function dots(values: number[], perMetre: number, camera = { x: 0.5, y: 0.5, zoom: 1 }): string[] {
  const image = { width: 16, height: 16, data: new Uint8ClampedArray(16 * 16 * 4) } as ImageData;
  paintDots(image, Float32Array.from(values), "#ff8000", home, camera, perMetre);
  const seen: string[] = [];
  for (let i = 0; i < 256; i++) if (image.data[i * 4 + 3]) seen.push(`${i % 16},${Math.floor(i / 16)}`);
  return seen;
}

describe("scattered dots", () => {
  it("stand where they are on the ground", () => {
    const seen = dots([2, 2, 0, 0.1, 0], 4);
    expect(seen).toContain("8,8");
    expect(seen.length).toBeLessThanOrEqual(5);
  });
  it("grow with the size of the thing and of the view", () => {
    expect(dots([2, 2, 0, 2, 0], 4).length).toBeGreaterThan(dots([2, 2, 0, 1, 0], 4).length);
  });
  it("are left out where they are not in view", () => {
    expect(dots([2, 2, 0, 0.1, 0], 100, { x: 0, y: 0, zoom: 25 })).toEqual([]);
  });
});
