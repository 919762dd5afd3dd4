import { Scene, type BufferGeometry, type Points } from "three";
import { describe, expect, it } from "vitest";
import { testMap, testState } from "../testing/state";
import { Dots, dotsOf } from "./reliefDots";

/** 40 m by 20 m, from 100 m, drawn three times as high. */
const map = {
  ...testMap("reading:height", [100, 100, 100, 110]),
  grid: { ...testState().home, width: 40, length: 20 },
};
const measure = { low: 100, lift: 3, span: 40 };
/** Two things: 4 m high on 105 m in the east, and flat ones in the south-west corner. */
const things = Float32Array.of(30, 10, 105, 4, 0, 0, 20, 100, 0, 90);

describe("scattered things", () => {
  it("are dots at half their height where they stand", () => {
    const places = dotsOf(things, map, measure, "#ff0000").geometry.getAttribute("position");
    expect(places.count).toBe(2);
    expect([...places.array].map((v) => Number(v.toFixed(6)))).toEqual([0.25, 0, (7 * 3) / 40, -0.5, -0.25, 0]);
  });

  it("lie on the ground as it is now, once", () => {
    const scene = new Scene();
    const dots = new Dots(scene);
    dots.set(things, "#ff0000", null, measure);
    expect(scene.children).toHaveLength(0);
    dots.lay(map, measure);
    dots.lay(map, { ...measure, lift: 1 });
    expect(scene.children).toHaveLength(1);
    const { geometry } = scene.children[0] as Points<BufferGeometry>;
    expect(geometry.getAttribute("position").array[2]).toBeCloseTo(7 / 40);
    dots.set(null, "#ff0000", map, measure);
    expect(scene.children).toHaveLength(0);
  });
});
