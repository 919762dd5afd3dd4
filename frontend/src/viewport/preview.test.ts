import { named as map } from "../api/mapNames";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { RawMap } from "../api/maps";
import type { Operation } from "../api/types";
import { testMap } from "../testing/state";

interface Call {
  body: { sequence: number; operations: Operation[]; map: string };
  signal: AbortSignal;
  answer: (map: RawMap) => void;
  refuse: (error: unknown) => void;
}

const calls: Call[] = [];
vi.mock("../api/maps", () => ({
  fetchPreview: (_project: string, body: Call["body"], signal: AbortSignal) =>
    new Promise<RawMap>((answer, refuse) => {
      signal.addEventListener("abort", () => refuse(new DOMException("stopped", "AbortError")));
      calls.push({ body, signal, answer, refuse });
    }),
}));

const { previews } = await import("./preview");
const { Problem } = await import("../api/client");

const tint = (n: number): Operation[] => [{ op: "rename_project", name: `n${n}` }];
const named = (operations: Operation[]) => operations.map((o) => ("name" in o ? o.name : "")).join();
const turn = () => new Promise((resolve) => setTimeout(resolve, 0));

describe("previews of unsaved positions", () => {
  let seen: (RawMap | null)[] = [];
  let stop: () => void;

  beforeEach(() => {
    calls.length = 0;
    seen = [];
    stop = previews.listen((map) => seen.push(map));
  });
  afterEach(() => {
    stop();
    previews.clear();
  });

  it("keeps one request in flight and then asks for the newest position only", async () => {
    for (const n of [1, 2, 3, 4]) previews.ask("p", map.mask("a"), tint(n));
    expect(calls.map((call) => named(call.body.operations))).toEqual(["n1"]);
    calls[0]?.answer(testMap(map.mask("a"), [1, 1, 1, 1]));
    await turn();
    expect(calls.map((call) => named(call.body.operations))).toEqual(["n1", "n4"]);
    expect(calls[1]?.body.sequence).toBeGreaterThan(calls[0]?.body.sequence ?? 0);
    expect(seen).toHaveLength(1);
    calls[1]?.answer(testMap(map.mask("a"), [4, 4, 4, 4]));
    await turn();
    expect(previews.current?.values[0]).toBe(4);
  });

  it("drops an answer that comes after the drag was given up", async () => {
    previews.ask("p", map.mask("a"), tint(1));
    previews.clear();
    calls[0]?.answer(testMap(map.mask("a"), [9, 9, 9, 9]));
    await turn();
    expect(previews.current).toBeNull();
    expect(seen.filter((map) => map !== null)).toHaveLength(0);
  });

  it("goes on after a position that cannot be evaluated", async () => {
    previews.ask("p", map.mask("a"), tint(1));
    previews.ask("p", map.mask("a"), tint(2));
    calls[0]?.refuse(new Problem(409, { code: "cancelled", detail: "A newer preview was asked for." }));
    await turn();
    calls[1]?.answer(testMap(map.mask("a"), [2, 2, 2, 2]));
    await turn();
    expect(previews.current?.values[0]).toBe(2);
  });

  it("tells its listeners when the saved state is shown again", async () => {
    previews.ask("p", map.mask("a"), tint(1));
    calls[0]?.answer(testMap(map.mask("a"), [1, 1, 1, 1]));
    await turn();
    previews.clear();
    expect(seen.at(-1)).toBeNull();
  });

  it("goes on after nobody answered", async () => {
    for (const status of [0, 500, 503]) {
      previews.ask("p", map.mask("a"), tint(1));
      calls.at(-1)?.refuse(new Problem(status, undefined));
      await turn();
    }
    previews.ask("p", map.mask("a"), tint(2));
    expect(calls).toHaveLength(4);
    calls.at(-1)?.answer(testMap(map.mask("a"), [5, 5, 5, 5]));
    await turn();
    expect(previews.current?.values[0]).toBe(5);
  });

  it("goes on after a mistake of its own, and reports it", async () => {
    const reported = vi.fn();
    vi.stubGlobal("reportError", reported);
    previews.ask("p", map.mask("a"), tint(1));
    calls[0]?.refuse(new TypeError("a mistake"));
    await turn();
    previews.ask("p", map.mask("a"), tint(2));
    expect(calls).toHaveLength(2);
    expect(reported).toHaveBeenCalledOnce();
    vi.unstubAllGlobals();
  });

  it("when the hand rests stops what is under way and sends the newest position", async () => {
    vi.useFakeTimers();
    for (const n of [1, 2, 3]) previews.ask("p", map.mask("a"), tint(n));
    expect(calls[0]?.signal.aborted).toBe(false);
    await vi.advanceTimersByTimeAsync(80);
    vi.useRealTimers();
    expect(calls[0]?.signal.aborted).toBe(true);
    expect(calls.map((call) => named(call.body.operations))).toEqual(["n1", "n3"]);
    calls[1]?.answer(testMap(map.mask("a"), [3, 3, 3, 3]));
    await turn();
    expect(previews.current?.values[0]).toBe(3);
  });

  it("asks for no more than is seen while the hand moves, and for the exact map once it rests", async () => {
    vi.useFakeTimers();
    const leave = previews.seenThrough(() => ({ shown: 577, part: [0, 0, 0.5, 1] }));
    const shown = () => calls.map(({ body }) => (body as { shown?: number }).shown ?? "exact");
    previews.ask("p", map.mask("a"), tint(1));
    calls[0]?.answer({ ...testMap(map.mask("a"), [1, 1, 1, 1]), moving: true });
    await vi.advanceTimersByTimeAsync(30);
    previews.ask("p", map.mask("a"), tint(2));
    calls[1]?.answer({ ...testMap(map.mask("a"), [2, 2, 2, 2]), moving: true });
    await vi.advanceTimersByTimeAsync(80);
    expect(shown()).toEqual([577, 577, "exact"]);
    // The hand goes on: what is exact gives way at once.
    previews.ask("p", map.mask("a"), tint(3));
    expect(calls[2]?.signal.aborted).toBe(true);
    expect(shown()).toEqual([577, 577, "exact", 577]);
    calls[3]?.answer({ ...testMap(map.mask("a"), [3, 3, 3, 3]), moving: true });
    await vi.advanceTimersByTimeAsync(80);
    calls[4]?.answer(testMap(map.mask("a"), [4, 4, 4, 4]));
    await vi.advanceTimersByTimeAsync(500);
    vi.useRealTimers();
    leave();
    expect(calls).toHaveLength(5);
    expect([previews.current?.values[0], previews.current?.moving]).toEqual([4, undefined]);
  });

  it("stops what is under way when the drag is given up", () => {
    previews.ask("p", map.mask("a"), tint(1));
    previews.clear();
    expect(calls[0]?.signal.aborted).toBe(true);
    previews.ask("p", map.mask("a"), tint(2));
    expect(calls).toHaveLength(2);
  });
});
