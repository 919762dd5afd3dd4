import { beforeAll, describe, expect, it } from "vitest";
import { withImages } from "../testing/image";
import { testMap, testState } from "../testing/state";
import {
  banded,
  byIndex,
  cachedBase,
  coloured,
  counted,
  drown,
  overlay,
  pictured,
  shadeBase,
  type Maps,
} from "./overlays";
import { AMBER, RAMPS, ROWAN, WATER } from "./ramps";

beforeAll(withImages);

const shade = testMap("reading:shade", [0, 100, 200, 255]);
const height = testMap("reading:height", [10, 50, 70, 90]);
const maps: Maps = (name) => (name === "reading:height" ? height : shade);
const pixels = (image: ImageData) => [0, 1, 2, 3].map((i) => [...image.data.slice(i * 4, i * 4 + 4)]);
const base = (values = [100, 100, 100, 100]) => {
  const image = new ImageData(2, 2);
  values.forEach((v, i) => image.data.set([v, v + 10, v + 20, 255], i * 4));
  return image;
};
const ramp = (name: string, at: number) => [...(RAMPS[name]?.slice(at * 3, at * 3 + 3) ?? []), 255];

describe("what is laid over the ground", () => {
  it("lies on hill shade that is never quite dark", () => {
    const greys = [40, 124, 208, 254].map((v) => [v, v, v, 255]);
    expect(pixels(shadeBase(maps, testState({ water: 60 }), false))).toEqual(greys);
    expect(pixels(shadeBase(maps, testState({ water: 50 }), true)).slice(1)).toEqual(greys.slice(1));
  });

  it("is under water below its level: by half at the shore, by eight tenths deep down", () => {
    const { data } = base();
    drown(data, Float32Array.of(59, 40, 60, 0), 60);
    const under = (a: number) => [0, 1, 2].map((c) => Math.round((100 + c * 10) * (1 - a) + (WATER[c] ?? 0) * a));
    const [shore, deeper, dry, deep] = pixels({ data } as ImageData).map((pixel) => pixel.slice(0, 3));
    expect([shore, deeper, dry, deep]).toEqual([under(0.475), under(0.8), [100, 110, 120], under(0.8)]);
    const half = base();
    drown(half.data, Float32Array.of(54, 60, 60, 60), 60);
    expect(pixels(half)[0]?.slice(0, 3)).toEqual(under(0.6));
    const none = base();
    drown(none.data, Float32Array.of(0, 0, 0, 0), null);
    drown(none.data, Float32Array.of(0, 0, 0, 0), undefined);
    expect(pixels(none)).toEqual(pixels(base()));
  });

  it("is a mask's colour as strongly as the mask is there", () => {
    const image = overlay(base(), testMap("mask:a", [0, 51, 255, 255]), [200, 0, 50], 0.5);
    expect(pixels(image)).toEqual([
      [100, 110, 120, 255],
      [110, 99, 113, 255],
      [150, 55, 85, 255],
      [150, 55, 85, 255],
    ]);
  });

  it("is a picture where it has something", () => {
    const map = testMap("picture:a", [200, 0, 50, 255, 200, 0, 50, 0, 200, 0, 50, 51, 0, 0, 0, 0], 4);
    expect(pixels(pictured(base(), map, 0.5)).map((pixel) => pixel.slice(0, 3))).toEqual([
      [150, 55, 85],
      [100, 110, 120],
      [110, 99, 113],
      [100, 110, 120],
    ]);
  });

  it("is amber where nothing is and red where too much is", () => {
    const [gap, one, two] = pixels(counted(base(), testMap("count:a", [0, 1, 2, 3])));
    const mixed = (colour: readonly number[]) =>
      [0, 1, 2].map((c) => Math.round((100 + 10 * c) * 0.4 + (colour[c] ?? 0) * 0.6));
    expect(gap?.slice(0, 3)).toEqual(mixed(AMBER));
    expect(one).toEqual([100, 110, 120, 255]);
    expect(two?.slice(0, 3)).toEqual(mixed(ROWAN));
  });

  it("is kept while what it is made of stays the same, and made again for another water level", () => {
    const look = { tint: 1, water: true };
    const first = cachedBase(maps, testState({ water: 60 }), look);
    expect(cachedBase(maps, testState({ water: 60 }), look)).toBe(first);
    expect(cachedBase(maps, testState({ water: 61 }), look)).not.toBe(first);
    const dry = cachedBase(maps, testState({ water: 61 }), { ...look, water: false });
    expect(cachedBase(maps, testState({ water: 99 }), { ...look, water: false })).toBe(dry);
  });
});

describe("plain colours", () => {
  it("are even bands of a mask, and as many as it is cut into", () => {
    const mask = testMap("mask:a", [0, 60, 130, 255]);
    const five = [0, 1, 2, 4].map((band) => ramp("safe", Math.round((band / 4) * 255)));
    expect(pixels(banded(mask, { count: 5, cut: false }))).toEqual(five);
    // Cut in three, values are 0, ½ and 1.
    const three = testMap("mask:a", [0, 127, 128, 255]);
    expect(pixels(banded(three, { count: 3, cut: true }))).toEqual([0, 128, 128, 255].map((at) => ramp("safe", at)));
  });

  it("are lit by hill shade", () => {
    const map = testMap("layers", [200, 100, 0, 200, 100, 0, 200, 100, 0, 200, 100, 0], 3);
    const lit = [0, 100, 200, 255].map((v) => 0.45 + v / 290);
    const shown = lit.map((k) => [...[200, 100, 0].map((v) => Math.min(Math.round(v * k), 255)), 255]);
    expect(pixels(coloured(map, shade.values))).toEqual(shown);
    expect(pixels(coloured(map, null))[0]).toEqual([200, 100, 0, 255]);
    const index = testMap("strongest", [1, 1, 1, 1]);
    const colours = [
      [9, 9, 9],
      [200, 100, 0],
    ] as const;
    expect(pixels(byIndex(index, [...colours], shade.values))).toEqual(shown);
  });
});
