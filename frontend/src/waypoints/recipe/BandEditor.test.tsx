import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeAll, describe, expect, it, vi } from "vitest";
import type { Band, Stats } from "../../api/types";
import { testReadings } from "../../testing/state";
import { BandEditor } from "./BandEditor";

const WIDTH = 320;
beforeAll(() => {
  Object.assign(Element.prototype, { setPointerCapture: () => undefined });
  // The test environment lays nothing out: the histogram is as wide here as its own units.
  SVGElement.prototype.getBoundingClientRect = () => ({ left: 0, width: WIDTH, top: 0, height: 92 }) as DOMRect;
});
afterEach(cleanup);

const stats: Stats = {
  name: "reading:slope",
  low: 0,
  high: 76,
  mean: 20,
  below_90: 40,
  scale: "linear",
  counts: [0.5, 0.25, 0.15, 0.1],
  bin_low: 0,
  bin_high: 76,
  area: 1,
};
const start: Band = {
  kind: "band",
  reading: "slope",
  low: 32,
  high: 60,
  fade_low: 6,
  fade_high: 4,
  smooth: false,
};
/** Where a value of slope lies: 8 units of margin on either side of 304 for 76 degrees. */
const at = (degrees: number) => 8 + degrees * 4;

function editor(band: Partial<Band> = {}) {
  const onPreview = vi.fn<(band: Band | null) => void>();
  const onCommit = vi.fn<(band: Band, keyStep: boolean) => Promise<boolean>>(() => Promise.resolve(true));
  const reading = testReadings().find((item) => item.name === "slope");
  if (!reading) throw new Error("slope is missing");
  render(
    <BandEditor
      band={{ ...start, ...band }}
      reading={reading}
      stats={stats}
      onPreview={onPreview}
      onCommit={onCommit}
    />,
  );
  const handle = (name: string) => screen.getByRole("slider", { name });
  const svg = screen.getByRole("group");
  const drag = (name: string, ...degrees: number[]) => {
    fireEvent.pointerDown(handle(name), { button: 0, pointerId: 1 });
    for (const d of degrees) fireEvent.pointerMove(svg, { clientX: at(d), pointerId: 1 });
  };
  const drop = () => fireEvent.pointerUp(svg, { pointerId: 1 });
  return { handle, drag, drop, onPreview, onCommit };
}

describe("the band editor", () => {
  it("has a handle for both edges and both fades, where they lie", () => {
    const { handle } = editor();
    const values = ["Lower fade begins", "Lower edge", "Upper edge", "Upper fade ends"].map((name) =>
      Number(handle(name).getAttribute("aria-valuenow")),
    );
    expect(values).toEqual([26, 32, 60, 64]);
    expect(handle("Lower edge").getAttribute("aria-valuetext")).toBe("32 °");
  });

  it("shows every position of a drag and saves the last one", () => {
    const { drag, drop, onPreview, onCommit } = editor();
    drag("Lower edge", 30, 25, 20);
    expect(onPreview.mock.calls.map(([band]) => band?.low)).toEqual([30, 25, 20]);
    expect(onCommit).not.toHaveBeenCalled();
    drop();
    expect(onCommit).toHaveBeenCalledExactlyOnceWith({ ...start, low: 20 }, false);
  });

  it("moves a fade without moving its edge", () => {
    const { drag, drop, onCommit } = editor();
    drag("Lower fade begins", 12);
    drop();
    expect(onCommit).toHaveBeenCalledWith({ ...start, fade_low: 20 }, false);
  });

  it("pushes the other edge along rather than crossing it", () => {
    const { drag, drop, onCommit } = editor();
    drag("Lower edge", 70);
    drop();
    expect(onCommit).toHaveBeenCalledWith({ ...start, low: 70, high: 70 }, false);
  });

  it("stays on its axis", () => {
    const { drag, drop, onCommit } = editor();
    drag("Upper edge", 500);
    drop();
    expect(onCommit.mock.calls[0]?.[0].high).toBe(76);
  });

  it("goes back on Escape and saves nothing", () => {
    const { drag, drop, handle, onPreview, onCommit } = editor();
    drag("Lower edge", 10);
    fireEvent.keyDown(handle("Lower edge"), { key: "Escape" });
    drop();
    expect(onPreview).toHaveBeenLastCalledWith(null);
    expect(onCommit).not.toHaveBeenCalled();
    expect(handle("Lower edge").getAttribute("aria-valuenow")).toBe("32");
  });

  it("does all of it by keyboard too, finely with Alt", () => {
    const { handle, onCommit } = editor();
    fireEvent.keyDown(handle("Upper edge"), { key: "ArrowLeft" });
    expect(onCommit.mock.calls[0]?.[0].high).toBeCloseTo(59.24, 2);
    expect(onCommit.mock.calls[0]?.[1]).toBe(true);
    fireEvent.keyDown(handle("Upper edge"), { key: "ArrowRight", altKey: true });
    expect(onCommit.mock.calls[1]?.[0].high).toBeCloseTo(59.32, 1);
    fireEvent.keyDown(handle("Upper edge"), { key: "Tab" });
    expect(onCommit).toHaveBeenCalledTimes(2);
  });

  it("ignores other buttons and movement without a handle", () => {
    const { handle, onPreview } = editor();
    fireEvent.pointerDown(handle("Lower edge"), { button: 2, pointerId: 1 });
    fireEvent.pointerMove(screen.getByRole("group"), { clientX: at(5), pointerId: 1 });
    expect(onPreview).not.toHaveBeenCalled();
  });
});
