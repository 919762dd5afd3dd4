import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeAll, describe, expect, it, vi } from "vitest";
import { CurveEditor } from "./CurveEditor";

type Point = [number, number];
const POINTS: Point[] = [
  [0, 0],
  [0.5, 0.4],
  [1, 1],
];

beforeAll(() => {
  Object.assign(Element.prototype, { setPointerCapture: () => undefined });
  SVGElement.prototype.getBoundingClientRect = () => ({ left: 0, width: 320, top: 0, height: 128 }) as DOMRect;
});
afterEach(cleanup);

function editor(points = POINTS) {
  const onPreview = vi.fn<(points: Point[] | null) => void>();
  const onCommit = vi.fn<(points: Point[], key: boolean) => Promise<unknown>>(() => new Promise(() => undefined));
  render(<CurveEditor points={points} onPreview={onPreview} onCommit={onCommit} />);
  return { onPreview, onCommit, point: (n: number) => screen.getByRole("slider", { name: `Point ${n} of the curve` }) };
}

describe("the curve", () => {
  it("moves a point by quick arrow keys, each on from the last before any is saved, finely with Alt", () => {
    const { onCommit, point } = editor();
    fireEvent.keyDown(point(2), { key: "ArrowUp" });
    expect(onCommit).toHaveBeenLastCalledWith(
      [
        [0, 0],
        [0.5, 0.42],
        [1, 1],
      ],
      true,
    );
    fireEvent.keyDown(point(2), { key: "ArrowRight", altKey: true });
    expect(onCommit).toHaveBeenLastCalledWith(
      [
        [0, 0],
        [0.502, 0.42],
        [1, 1],
      ],
      true,
    );
  });

  it("never lets points pass each other", () => {
    const { onCommit, point } = editor([
      [0, 0],
      [0.99, 0.4],
      [1, 1],
    ]);
    fireEvent.keyDown(point(2), { key: "ArrowRight" });
    expect(onCommit.mock.lastCall?.[0][1]).toEqual([0.99, 0.4]);
  });

  it("takes a point away, but never the last two", () => {
    const { onCommit, point } = editor();
    fireEvent.keyDown(point(2), { key: "Delete" });
    expect(onCommit).toHaveBeenLastCalledWith(
      [
        [0, 0],
        [1, 1],
      ],
      false,
    );
    cleanup();
    const two = editor([
      [0, 0],
      [1, 1],
    ]);
    fireEvent.keyDown(two.point(1), { key: "Delete" });
    expect(two.onCommit).not.toHaveBeenCalled();
  });

  it("shows a dragged point at once and saves it when it is let go", () => {
    const { onPreview, onCommit, point } = editor();
    fireEvent.pointerDown(point(2), { clientX: 160, clientY: 70 });
    const svg = screen.getByRole("group");
    fireEvent.pointerMove(svg, { clientX: 160, clientY: 10 });
    expect(onPreview.mock.lastCall?.[0]?.[1]).toEqual([0.5, 1]);
    expect(onCommit).not.toHaveBeenCalled();
    fireEvent.pointerUp(svg);
    expect(onCommit.mock.lastCall?.[0][1]).toEqual([0.5, 1]);
  });
});
