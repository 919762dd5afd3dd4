import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Operation } from "../api/types";
import { useDocument } from "../document/document";
import { useTools } from "./tools";
import { testState } from "../testing/state";
import { ToolShapes } from "./ToolShapes";

const WALL = {
  id: "wall",
  name: "Old wall",
  kind: "wall",
  closed: false,
  points: [
    [10, 10],
    [50, 40],
    [90, 10],
  ],
};

/** Saves that are never answered: what comes after must go on from what was made here. */
const saves: number[][][] = [];

beforeEach(() => {
  saves.length = 0;
  const state = testState();
  Object.assign(state.document, { features: [WALL] });
  Object.assign(state, { home: { ...state.home, width: 100, length: 100, spacing_x: 4, spacing_y: 4 } });
  const edit = vi.fn((operations: Operation[]) => {
    for (const made of operations) if (made.op === "set_feature") saves.push(made.feature.points);
    return new Promise<boolean>(() => undefined);
  });
  useDocument.setState({ state, edit });
  useTools.setState({ drawn: true, editing: "wall", tool: null });
});
afterEach(cleanup);

function shapes() {
  const at = (east: number, south: number) => ({ x: east, y: south });
  render(<ToolShapes at={at} place={() => null} pixels={1} middle={null} />);
  return (n: number) => screen.getByRole("button", { name: new RegExp(`^Point ${n} of Old wall`) });
}

describe("points of a drawn line", () => {
  it("are moved by quick arrow keys, each on from the last before any is saved", () => {
    const point = shapes();
    for (let i = 0; i < 5; i++) fireEvent.keyDown(point(2), { key: "ArrowRight" });
    fireEvent.keyDown(point(2), { key: "ArrowDown" });
    fireEvent.keyDown(point(1), { key: "ArrowUp" });
    expect(saves).toHaveLength(7);
    expect(saves.at(-1)).toEqual([
      [10, 6],
      [70, 44],
      [90, 10],
    ]);
  });

  it("stay on the ground, and a line keeps two", () => {
    const point = shapes();
    for (let i = 0; i < 9; i++) fireEvent.keyDown(point(1), { key: "ArrowLeft" });
    expect(saves.at(-1)?.[0]).toEqual([0, 10]);
    fireEvent.keyDown(point(3), { key: "Delete" });
    expect(saves.at(-1)).toEqual([
      [0, 10],
      [50, 40],
    ]);
    const before = saves.length;
    fireEvent.keyDown(point(2), { key: "Delete" });
    expect(saves).toHaveLength(before);
  });
});
