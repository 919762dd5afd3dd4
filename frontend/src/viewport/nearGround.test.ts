import { beforeEach, describe, expect, it, vi } from "vitest";
import type { RawMap } from "../api/maps";
import type { ProjectState } from "../api/types";
import { testMap, testState } from "../testing/state";

const asked: string[] = [];
/** 2 × 2 samples in colours of their own. */
const look = [10, 11, 12, 20, 21, 22, 30, 31, 32, 40, 41, 42];
vi.mock("../api/maps", async (original) => ({
  ...(await original<object>()),
  fetchLook: (project: string, name: string, map: string, size: number) => {
    asked.push([project, name, map, size].join());
    return Promise.resolve(testMap(`look:${name}`, look, 3));
  },
}));
const { letGo, MOST_NEAR, nearGround, wornBy } = await import("./nearGround");

type Document = ProjectState["document"];
const layer = (id: string, more: object = {}) => ({ ...testState().document.layers[0], id, ...more });
const dressed = { look: "turf", size: null, turn: 90, brightness: 2, tint: "#ff8000" };
function state(layers: object[], more: Partial<Document> = {}): ProjectState {
  const whole = testState();
  return { ...whole, document: { ...whole.document, layers: layers as Document["layers"], ...more } };
}
const sizeOf = (name: string) => (name === "turf" ? 7 : undefined);
const at = (data: ArrayLike<number>, from: number, count = 4) =>
  Array.from({ length: count }, (_, i) => data[from + i]);

beforeEach(() => {
  asked.length = 0;
});

describe("what the ground wears", () => {
  it("is the base and every layer that takes part, from the bottom, up to sixteen", () => {
    const layers = [layer("a"), layer("b", { muted: true }), layer("c", { mask: null }), layer("d")];
    expect(wornBy(state(layers), sizeOf).map((one) => one.id)).toEqual(["base", "a", "d"]);
    const many = Array.from({ length: 20 }, (_, i) => layer(`l${i}`));
    expect(wornBy(state(many), sizeOf)).toHaveLength(MOST_NEAR);
    expect(MOST_NEAR).toBe(16);
  });

  it("is as large, turned and tinted as it is dressed, and plain without a texture that is known", () => {
    const [base, rock, peat] = wornBy(
      state([layer("rock", { dressing: dressed }), layer("peat", { dressing: { ...dressed, look: "gone" } })]),
      sizeOf,
    );
    expect(base).toMatchObject({ look: null, size: 3, turn: 0, tint: [1, 1, 1], colour: "#8d9a57" });
    expect(rock).toMatchObject({ look: "turf", size: 7, turn: 90 });
    expect(rock?.tint.map((part) => Number(part.toFixed(4)))).toEqual([2, 0.439, 0]);
    expect(peat).toMatchObject({ look: null, size: 3, tint: [1, 1, 1] });
    const sized = layer("rock", { dressing: { ...dressed, size: 4 } });
    expect(wornBy(state([sized]), sizeOf)[1]?.size).toBe(4);
    const one = state([sized], { mixing: { sharing: "cover", depth: 0.1, one_size: 9 } as Document["mixing"] });
    expect(wornBy(one, sizeOf)[1]?.size).toBe(9);
  });
});

describe("close ground", () => {
  it("holds a texture and a direction a layer, and weights four a slice", async () => {
    const layers = ["a", "b", "c", "d", "e"].map((id) => layer(id, id === "e" ? { dressing: dressed } : {}));
    const of = state(layers);
    const weights = [0, 1, 2, 3, 4, 5].map((k) => testMap(`weight:${k}`, [k, 10 + k, 20 + k, 30 + k]));
    const made = await nearGround(of, wornBy(of, sizeOf), weights, new AbortController().signal);
    expect(asked).toEqual(["p1,turf,albedo,256", "p1,turf,normal,256"]);
    const [albedo, normal, shares] = [made.albedo, made.normal, made.weights].map(
      (texture) => texture.image.data as Uint8Array,
    ) as [Uint8Array, Uint8Array, Uint8Array];
    const slice = 256 * 256 * 4;
    expect(albedo).toHaveLength(slice * 6);
    expect(at(albedo, slice)).toEqual([0x9c, 0x9a, 0x92, 255]);
    expect(at(normal, slice)).toEqual([128, 128, 255, 255]);
    // A quarter of the texture a sample, row by row.
    const texel = (row: number, col: number) => at(albedo, 5 * slice + (row * 256 + col) * 4);
    expect([texel(0, 127), texel(0, 128), texel(127, 0), texel(255, 255)]).toEqual([
      [10, 11, 12, 255],
      [20, 21, 22, 255],
      [10, 11, 12, 255],
      [40, 41, 42, 255],
    ]);
    expect(texel(128, 0)).toEqual([30, 31, 32, 255]);
    expect(made.weights.image).toMatchObject({ width: 2, height: 2, depth: 2 });
    expect(at(shares, 0, 8)).toEqual([0, 1, 2, 3, 10, 11, 12, 13]);
    expect(at(shares, 16, 8)).toEqual([4, 5, 0, 0, 14, 15, 0, 0]);
    expect(made.count).toBe(6);
    expect(at(made.sizes, 4, 3)).toEqual([3, 7, 0]);
    expect(at(made.turns, 8).map((v) => Number(v?.toFixed(6)))).toEqual([1, 0, 0, 1]);
    expect(at(made.tints, 12, 4).map((v) => Number(v?.toFixed(4)))).toEqual([1, 1, 1, 2]);
  });

  it("is let go with all its textures", async () => {
    const of = state([]);
    const none: RawMap[] = [];
    const made = await nearGround(of, wornBy(of, sizeOf), none, new AbortController().signal);
    const gone = [made.albedo, made.normal, made.weights].map((texture) => vi.spyOn(texture, "dispose"));
    letGo(made);
    letGo(null);
    for (const one of gone) expect(one).toHaveBeenCalledOnce();
  });
});
