// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import {
  type Vector2,
  Vector3,
  type DataTexture,
  type Mesh,
  type PerspectiveCamera,
  type Scene,
  type ShaderMaterial,
} from "three";
import { withImages } from "../testing/image";
import { testMap, testState } from "../testing/state";

/** What a card would have drawn. */
const drawn: { scene: Scene; camera: PerspectiveCamera }[] = [];
const told: Record<string, unknown[]> = {};
vi.mock("three", async (original) => ({
  ...(await original<object>()),
  WebGLRenderer: class {
    private size: [number, number] = [300, 150];
    domElement = document.createElement("canvas");
    setPixelRatio = (ratio: number) => (told["ratio"] = [ratio]);
    setSize = (width: number, height: number, style: boolean) => {
      told["size"] = [width, height, style];
      this.size = [width, height];
    };
    getSize = (to: Vector2) => to.set(...this.size);
    getContext = () => ({ getExtension: () => null });
    render = (scene: Scene, camera: PerspectiveCamera) => {
      camera.updateMatrixWorld();
      drawn.push({ scene, camera });
    };
    dispose = () => (told["disposed"] = [true]);
    forceContextLoss = () => (told["lost"] = [true]);
  },
}));
const { ReliefScene } = await import("./relief");
withImages();
HTMLCanvasElement.prototype.getContext = () => null;

let frames: (() => void)[] = [];
vi.stubGlobal("requestAnimationFrame", (frame: () => void) => frames.push(frame));
vi.stubGlobal("cancelAnimationFrame", () => undefined);
const draw = () => frames.splice(0).forEach((frame) => frame());

/** 2 × 2 samples over 400 m by 200 m, from 100 m to 140 m, one a gap. */
const heights = {
  ...testMap("reading:height", [100, 140, NaN, 120]),
  grid: { ...testState().home, width: 400, length: 200, spacing_x: 400, spacing_y: 200 },
};
const picture = (shaded: boolean, width = 2) => ({
  panels: [{ title: "", image: new ImageData(width, 2) }],
  before: null,
  legend: null,
  shaded,
});
let scene: InstanceType<typeof ReliefScene>;
beforeEach(() => {
  frames = [];
  drawn.length = 0;
  scene = new ReliefScene(document.createElement("canvas"), "#6f7371");
  scene.resize(600, 400);
  scene.setHeights(heights, 2);
  scene.setPicture(picture(true));
  draw();
});
afterEach(() => scene.dispose());
const shown = () => {
  const last = drawn.at(-1);
  if (!last) throw new Error("nothing was drawn");
  const mesh = last.scene.children.find((child) => (child as Mesh).isMesh && child.frustumCulled === false) as Mesh;
  const water = last.scene.children.find((child) => child !== mesh) as Mesh;
  return { ...last, mesh, water, uniforms: (mesh.material as ShaderMaterial).uniforms };
};
const value = (name: string) => shown().uniforms[name]?.value as unknown;

describe("the relief", () => {
  it("hands the ground to the card in its own measures", () => {
    expect([value("low"), value("lift"), value("span"), value("size")]).toEqual([100, 2, 400, [2, 2]]);
    expect([value("extent"), value("spacing")]).toEqual([
      [400, 200],
      [400, 200],
    ]);
    // A gap lies at the lowest height.
    expect([...((value("heights") as DataTexture).image.data as Float32Array)]).toEqual([100, 140, 100, 120]);
    expect(shown().mesh.geometry).toMatchObject({
      parameters: { width: 1, height: 0.5, widthSegments: 512, heightSegments: 256 },
    });
    expect(value("lit")).toBe(0);
    scene.setPicture(picture(false, 3));
    draw();
    expect(value("lit")).toBe(1);
  });

  it("lays water at its height over the ground, and none where there is none", () => {
    scene.setWater(120);
    draw();
    expect(shown().water.visible).toBe(true);
    expect(shown().water.position.z).toBeCloseTo((20 * 2) / 400);
    expect(shown().water.scale.toArray()).toEqual([1, 0.5, 1]);
    scene.setWater(null);
    draw();
    expect(shown().water.visible).toBe(false);
  });

  it("is lit from where the sun is told to stand, and worn by what lies close", () => {
    scene.setSun(90, 30);
    const near = { albedo: "a", normal: "n", weights: "w", count: 3, sizes: [1], turns: [2], tints: [3] };
    scene.setNear(near as never, true);
    draw();
    expect((value("sun") as number[]).map((v) => Number(v.toFixed(6)) + 0)).toEqual([0.866025, 0, 0.5]);
    const worn = ["albedo", "bumps", "weights", "layers", "painted", "sizes", "turns", "tints"].map(value);
    expect(worn).toEqual(["a", "n", "w", 3, 1, [1], [2], [3]]);
    scene.setNear(null, false);
    draw();
    expect([value("layers"), value("painted")]).toEqual([0, 0]);
  });

  it("knows the place under a point, and where a place is seen", () => {
    const middle = scene.spot(200, 100);
    expect(middle?.x).toBeCloseTo(300);
    for (const [east, south] of [
      [200, 100],
      [120, 60],
      [300, 150],
    ] as const) {
      const at = scene.spot(east, south);
      if (!at) throw new Error("not seen");
      const found = scene.pick(at.x, at.y);
      expect(found?.east).toBeCloseTo(east, -0.5);
      expect(found?.south).toBeCloseTo(south, -0.5);
    }
    expect(scene.spot(120, 100)?.x).toBeLessThan(300);
    expect(scene.spot(200, 160)?.y).toBeGreaterThan(middle?.y ?? 0);
    expect(scene.pick(1, 1)).toBeNull();
    // Behind the eye nothing is seen.
    expect(scene.spot(200, 5000)).toBeNull();
  });

  it("looks at all of the ground until somebody chose, and again when that is asked for", () => {
    const from = () => shown().camera.position.toArray();
    const first = from();
    scene.resize(300, 600);
    draw();
    const narrow = from();
    expect(narrow).not.toEqual(first);
    scene.nudge(0.3, 0.1, 0.2);
    draw();
    const chosen = from();
    scene.resize(600, 400);
    draw();
    expect(from()).toEqual(chosen);
    scene.showAll();
    draw();
    expect(from()).toEqual(first);
    expect(shown().camera.fov).toBe(38);
    expect(shown().camera.aspect).toBe(1.5);
  });

  it("counts the pixels of a metre at the middle of the view as it draws them", () => {
    const { camera } = shown();
    const target = new Vector3();
    camera.getWorldDirection(target);
    const [a, b] = [scene.spot(199, 100), scene.spot(201, 100)];
    expect(scene.pixelsPerMetre).toBeCloseTo(((b?.x ?? 0) - (a?.x ?? 0)) / 2, 0);
    expect(scene.pixelsPerMetre).toBeGreaterThan(0);
  });

  it("draws once a frame however often it is asked, and tells who lies over it", () => {
    const frame = vi.fn();
    scene.onFrame = frame;
    const before = drawn.length;
    scene.ask();
    scene.ask();
    expect(frames).toHaveLength(1);
    draw();
    expect([drawn.length - before, frame.mock.calls.length]).toEqual([1, 1]);
    scene.letGo();
    scene.dispose();
    expect([told["disposed"], told["lost"]]).toEqual([[true], [true]]);
    expect(told["size"]).toEqual([600, 400, false]);
  });

  it("looks with the others that are shown beside it", () => {
    const other = new ReliefScene(document.createElement("canvas"), "#000000");
    other.resize(600, 400);
    other.setHeights(heights, 2);
    other.setPicture(picture(true));
    draw();
    scene.nudge(0.5, 0, 0);
    draw();
    draw();
    const [mine, its] = [...new Set(drawn.slice(-2).map((one) => one.camera))];
    expect(its?.position.distanceTo(mine?.position ?? new Vector3())).toBeCloseTo(0);
    other.dispose();
  });
});
