// @vitest-environment jsdom
import { beforeEach, describe, expect, it, vi } from "vitest";
import { testState } from "../testing/state";
import type { Picture } from "./imaging";
import { PlanPainter } from "./plan";

type Call = [string, ...unknown[]];
const calls = new WeakMap<HTMLCanvasElement, Call[]>();
/** A pen that notes what it is told. */
HTMLCanvasElement.prototype.getContext = function (this: HTMLCanvasElement) {
  const told: Call[] = calls.get(this) ?? [];
  calls.set(this, told);
  const note =
    (name: string) =>
    (...all: unknown[]) =>
      told.push([name, ...all]);
  return new Proxy({} as Record<string, unknown>, {
    get: (_, name: string) => note(name),
    set: (_, name: string, value) => Boolean(told.push([`${name} =`, value])),
  });
} as unknown as typeof HTMLCanvasElement.prototype.getContext;

const image = (width: number, height: number) => ({ width, height, data: new Uint8ClampedArray(4) }) as ImageData;
const picture = (more: Partial<Picture> = {}): Picture => ({
  panels: [{ title: "", image: image(101, 51) }],
  before: null,
  legend: null,
  shaded: true,
  ...more,
});
/** 1000 m by 400 m, half a pixel a metre at zoom 1. */
const grid = { ...testState().home, rows: 201, cols: 501, width: 1000, length: 400, spacing_x: 2, spacing_y: 2 };
const camera = { x: 0.5, y: 0.5, zoom: 1 };

let canvas: HTMLCanvasElement;
beforeEach(() => {
  canvas = document.createElement("canvas");
  for (const [side, value] of [
    ["clientWidth", 536],
    ["clientHeight", 436],
  ] as const)
    Object.defineProperty(canvas, side, { configurable: true, value });
});
const told = (name: string, of = canvas) => (calls.get(of) ?? []).filter((call) => call[0] === name);
const round = (values: unknown[]) => values.map((v) => Number(Number(v).toFixed(6)));

describe("the plan's painter", () => {
  it("puts samples around their places: half a sample beyond the ground, smooth unless they are large", () => {
    const painter = new PlanPainter();
    painter.take(picture());
    painter.draw(canvas, grid, camera, 0, "#777", null, grid);
    expect([canvas.width, canvas.height]).toEqual([536, 436]);
    // 10 m and 8 m a sample, 5 and 4 pixels; the ground begins at 18, 118.
    const [, , ...place] = told("drawImage")[0] ?? [];
    expect(round(place)).toEqual([18 - 2.5, 118 - 2, 505, 204]);
    expect(told("imageSmoothingEnabled =")[0]?.[1]).toBe(false);
    expect(told("fillRect")[0]).toEqual(["fillRect", 0, 0, 536, 436]);
    painter.take(picture({ panels: [{ title: "", image: image(501, 201) }] }));
    painter.draw(canvas, grid, camera, 0, "#777", null, grid);
    expect(told("imageSmoothingEnabled =")[1]?.[1]).toBe(true);
  });

  it("draws in the screen's own pixels", () => {
    vi.stubGlobal("devicePixelRatio", 1.5);
    const painter = new PlanPainter();
    painter.take(picture());
    painter.draw(canvas, grid, camera, 0, "#777", null, grid);
    expect([canvas.width, canvas.height]).toEqual([804, 654]);
    expect(told("setTransform")[0]).toEqual(["setTransform", 1.5, 0, 0, 1.5, 0, 0]);
    vi.unstubAllGlobals();
  });

  it("lays what moves and single samples where they belong, over the whole", () => {
    const painter = new PlanPainter();
    const moving = { image: image(10, 5), row0: 20, col0: 50, grid };
    painter.take(picture({ moving }));
    const near = new PlanPainter();
    near.take(picture({ panels: [{ title: "", image: image(4, 3) }] }));
    const fine = { ...grid, spacing_x: 1, spacing_y: 1 };
    painter.draw(
      canvas,
      grid,
      { ...camera, x: 0.4 },
      0,
      "#777",
      { painter: near, rect: { row0: 8, row1: 11, col0: 6, col1: 10 } },
      fine,
    );
    const [, moved, single] = told("drawImage").map((call) => round(call.slice(2)));
    // The camera is 100 m further west: all lies 50 pixels further east.
    expect(moved).toEqual([68 + 49.5, 118 + 19.5, 10, 5]);
    expect(single).toEqual([68 + 2.75, 118 + 3.75, 2, 1.5]);
  });

  it("shows what was before up to the wipe, and a line there", () => {
    const painter = new PlanPainter();
    const before = image(11, 6);
    painter.take(picture({ before }));
    painter.draw(canvas, grid, camera, 0.25, "#777", null, grid);
    expect(told("drawImage")).toHaveLength(2);
    expect(told("rect").at(-1)).toEqual(["rect", 0, 0, 134, 436]);
    expect(told("fillRect").at(-1)).toEqual(["fillRect", 133, 0, 2, 436]);
  });

  it("fills a sheet once for a picture, and again for another", () => {
    const painter = new PlanPainter();
    const one = picture();
    painter.take(one);
    painter.draw(canvas, grid, camera, 0, "#777", null, grid);
    const sheet = told("drawImage")[0]?.[1] as HTMLCanvasElement;
    painter.take(one);
    painter.take({ ...one, legend: null });
    expect(told("putImageData", sheet)).toHaveLength(1);
    painter.take(picture({ panels: [{ title: "", image: image(7, 9) }] }));
    expect(told("putImageData", sheet)).toHaveLength(2);
    expect([sheet.width, sheet.height]).toEqual([7, 9]);
  });
});
