// @vitest-environment jsdom
import { beforeEach, describe, expect, it, vi } from "vitest";
import { toolDown, toolKey, toolMove } from "./drawing";
import { isClicked, isOverlaid, useTools } from "./tools";

vi.mock("../api/client", () => ({ ask: vi.fn(), client: {}, sentence: String, Problem: class extends Error {} }));

const at = (east: number, south: number) => ({ east, south, pressure: 1 });

beforeEach(() => useTools.getState().reset());

describe("the brush", () => {
  it("gathers points that lie far enough apart for its size", () => {
    const { take, setBrush } = useTools.getState();
    take({ kind: "brush", on: "mask", holder: "m", line: "l" });
    setBrush({ size: 80, shape: "brush" });
    const tool = useTools.getState().tool;
    if (!tool) throw new Error("no tool in hand");
    toolDown(tool, at(10, 10));
    toolMove(tool, at(12, 10));
    toolMove(tool, at(40, 10));
    expect(useTools.getState().points.map((p) => p.east)).toEqual([10, 40]);
  });
  it("goes from click to click in straight lines", () => {
    const { take, setBrush } = useTools.getState();
    take({ kind: "brush", on: "mask", holder: "m", line: "l" });
    setBrush({ shape: "line", size: 80 });
    const { tool, brush } = useTools.getState();
    if (!tool) throw new Error("no tool in hand");
    expect(isClicked(tool, brush)).toBe(true);
    toolDown(tool, at(0, 0));
    toolDown(tool, at(5, 5));
    toolDown(tool, at(5, 5));
    expect(useTools.getState().points).toHaveLength(2);
    expect(toolKey("Backspace")).toBe(true);
    expect(useTools.getState().points).toHaveLength(1);
    toolKey("Escape");
    expect(useTools.getState().points).toHaveLength(0);
    expect(useTools.getState().tool).not.toBeNull();
    toolKey("Escape");
    expect(useTools.getState().tool).toBeNull();
    expect(toolKey("Escape")).toBe(false);
  });
});

describe("marks", () => {
  it("are set where one clicks and taken away one by one", () => {
    const { take, unmark } = useTools.getState();
    take({ kind: "mark", way: "outside" });
    const tool = useTools.getState().tool;
    if (!tool) throw new Error("no tool in hand");
    toolDown(tool, at(1, 2));
    toolDown(tool, at(3, 4));
    unmark("outside", 0);
    expect(useTools.getState().marks).toEqual({ inside: [], outside: [at(3, 4)] });
    expect(isOverlaid()).toBe(true);
  });
});
