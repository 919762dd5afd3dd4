// @vitest-environment jsdom
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Operation } from "../api/types";
import { useDocument } from "../document/document";
import { testState } from "../testing/state";
import { middleOfView, toolDown, toolKey, toolMove, toolUp } from "./drawing";
import { isClicked, isOverlaid, useTools, type Tool } from "./tools";
import { useView } from "./view";

const sent: Record<string, unknown>[] = [];
const traced: Record<string, unknown>[] = [];
vi.mock("../api/client", () => ({
  ask: (answer: Promise<unknown>) => answer,
  client: {
    POST: (path: string, { body }: { body: Record<string, unknown> }) => {
      (path.endsWith("trace") ? traced : sent).push(body);
      const found = {
        closed: true,
        points: [
          [1, 2],
          [3, 4],
        ],
      };
      return Promise.resolve(path.endsWith("trace") ? found : { asset: "made", count: 7 });
    },
  },
  sentence: String,
  Problem: class extends Error {},
}));

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

describe("what a tool made", () => {
  const edits: Operation[][] = [];
  const brush = { kind: "brush", on: "mask", holder: "scree", line: "l" } as const;
  const start = (more: object = {}) => {
    const state = testState();
    const line = { id: "l", verb: "touch_up", asset: "held", count: 3 };
    const document = { ...state.document, masks: [{ id: "scree", name: "Scree", lines: [line] }], ...more };
    useDocument.setState({
      state: { ...state, document: document as unknown as typeof state.document },
      edit: (operations) => {
        edits.push(operations);
        return Promise.resolve(true);
      },
    });
    sent.length = traced.length = edits.length = 0;
    useTools.getState().setBrush({ shape: "brush", size: 80, fade: 20, strength: 0.5, mode: "add" });
  };
  const draw = (tool: Tool, ...places: [number, number, number?][]) => {
    useTools.getState().take(tool);
    places.forEach(([east, south, pressure = 1], i) => (i ? toolMove : toolDown)(tool, { east, south, pressure }));
    toolUp(tool);
  };
  const settle = () => new Promise((done) => setTimeout(done, 0));

  it("by the brush is a stroke on its line, which counts one more", async () => {
    start();
    draw(brush, [10.004, 20.006, 0.01], [60, 20, 0.456]);
    await settle();
    const points = [
      [10, 20.01, 0.05],
      [60, 20, 0.46],
    ];
    expect(sent).toEqual([
      { asset: "held", strokes: [{ shape: "brush", size: 80, fade: 20, strength: 0.5, mode: "add", points }] },
    ]);
    expect(edits).toEqual([
      [{ op: "set_line", mask: "scree", line: { id: "l", verb: "touch_up", asset: "made", count: 7 } }],
    ]);
    expect(useTools.getState().points).toEqual([]);
  });

  it("on a line that is gone is nothing", async () => {
    start({ masks: [] });
    draw(brush, [10, 20]);
    await settle();
    expect([sent, edits]).toEqual([[], []]);
  });

  it("by the layer brush goes onto the last strokes of that layer that act in the same place", async () => {
    const held = { id: "s", layer: "rock", asset: "held", count: 1, muted: false, only: null };
    start({ strokes: [held] });
    useTools.getState().setBrush({ mode: "soften" });
    draw({ kind: "paint", layer: "rock" }, [5, 5]);
    await settle();
    expect(sent[0]).toMatchObject({ asset: "held", strokes: [{ mode: "add" }] });
    expect(edits[0]).toMatchObject([{ op: "set_strokes", strokes: { id: "s", asset: "made", count: 7 } }]);
    for (const other of [{ layer: "peat" }, { muted: true }, { only: { kind: "plain", value: 1 } }]) {
      start({ strokes: [{ ...held, ...other }] });
      useTools.getState().setBrush({ mode: "take_away" });
      draw({ kind: "paint", layer: "rock" }, [5, 5]);
      await settle();
      expect(sent[0]).toMatchObject({ asset: null, strokes: [{ mode: "take_away" }] });
      expect(edits[0]).toMatchObject([{ strokes: { layer: "rock", muted: false, only: null } }]);
      expect(edits[0]).not.toMatchObject([{ strokes: { id: "s" } }]);
    }
  });

  it("of fewer points than it needs is nothing: two for a line, three for what is closed", async () => {
    start({ features: [{ id: "a", name: "Path" }] });
    const clicked = (closed: boolean, count: number) => {
      const tool: Tool = { kind: "draw", feature: "path", closed };
      useTools.getState().take(tool);
      for (let i = 0; i < count; i++) toolDown(tool, at(i * 10, i));
      toolKey("Enter");
      toolKey("Escape");
    };
    clicked(false, 1);
    clicked(true, 2);
    await settle();
    expect(edits).toEqual([]);
    clicked(true, 3);
    await settle();
    const points = [
      [0, 0],
      [10, 1],
      [20, 2],
    ];
    expect(edits).toMatchObject([
      [{ op: "add_feature", feature: { name: "Path 2", kind: "path", closed: true, points } }],
    ]);
    expect(useTools.getState()).toMatchObject({ tool: null });
    expect(useTools.getState().editing).toMatch(/^drawn-/);
  });

  it("by following the ground is a line of what was found", async () => {
    start();
    const tool: Tool = { kind: "trace", way: "flow" };
    useTools.getState().take(tool);
    toolDown(tool, at(3, 4));
    await settle();
    await settle();
    expect(traced).toEqual([{ way: "flow", east: 3, south: 4, length: 1500 }]);
    expect(edits).toMatchObject([
      [
        {
          feature: {
            name: "Path",
            kind: "path",
            closed: true,
            points: [
              [1, 2],
              [3, 4],
            ],
          },
        },
      ],
    ]);
    expect(useTools.getState().tool).toBeNull();
  });

  it("by stretching is handed on with both its ends, unless it has no length", () => {
    const take = vi.fn();
    const tool: Tool = { kind: "stretch", title: "", take };
    draw(tool, [1, 2]);
    expect(take).not.toHaveBeenCalled();
    draw(tool, [1, 2], [5, 6], [8, 9]);
    expect(take).toHaveBeenCalledWith(at(1, 2), at(8, 9));
  });

  it("with the keyboard is made in the middle of the view", () => {
    start();
    useView.getState().set({ camera: { x: 0.25, y: 0.75, zoom: 2 } });
    expect(middleOfView()).toEqual({ east: 1, south: 3, pressure: 1 });
  });
});
