import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { client } from "../api/client";
import { named } from "../api/mapNames";
import { testState } from "../testing/state";
import { useDocument } from "./document";
import * as queries from "./queries";

interface Asked {
  path: string;
  of: Record<string, unknown>;
  query?: unknown;
}
const asked: Asked[] = [];
let answer: unknown = null;

beforeEach(() => {
  asked.length = 0;
  answer = {};
  const get = (path: string, options?: { params?: { path?: Record<string, unknown>; query?: unknown } }) => {
    const { project_id: project, ...of } = options?.params?.path ?? {};
    if (path.includes("{project_id}")) expect(project).toBe("p1");
    asked.push({ path: path.split("/").slice(3).join("/"), of, query: options?.params?.query });
    return Promise.resolve({ data: answer, response: new Response() });
  };
  vi.spyOn(client, "GET").mockImplementation(get as unknown as typeof client.GET);
  useDocument.setState({ state: testState() });
});
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

function wrapper() {
  const cache = new QueryClient();
  return ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={cache}>{children}</QueryClientProvider>
  );
}
const line = { row0: 1, col0: 2, row1: 3, col1: 4 };

describe("what is asked of the application", () => {
  it.each<[string, () => unknown, Partial<Asked>]>([
    ["diagnosis", () => queries.useDiagnosis(), { path: "{project_id}/diagnosis" }],
    ["working", () => queries.useWorking(true), { path: "{project_id}/working" }],
    ["profile", () => queries.useProfile("mask:a", line), { query: { name: "mask:a", ...line } }],
    ["stats", () => queries.useStats(named.mask("scree")), { query: { name: "mask:scree" } }],
    ["plan", () => queries.usePlan(), { path: "{project_id}/plan" }],
    ["targets", () => queries.useTargets(), { path: "{project_id}/targets" }],
    ["rules", () => queries.useRules(), { of: {} }],
    ["sizes", () => queries.useSizes(true, 512), { query: { near: 512 } }],
    ["change", () => queries.useTargetChange("plain"), { query: { target: "plain" } }],
    ["typed numbers", () => queries.useTypedNumbers(4), { of: { number: "4" } }],
    ["bands", () => queries.useBands("scree"), { of: { mask_id: "scree" } }],
    ["together", () => queries.useTogether(["a", "b"]), { query: { masks: "a,b" } }],
    ["why", () => queries.useWhy({ row: 3, col: 4 }), { query: { row: 3, col: 4 } }],
    ["why a mask", () => queries.useWhyMask("scree", { row: 3, col: 4 }), { of: { mask_id: "scree" } }],
    ["folder files", () => queries.useFolderFiles(true), {}],
  ])("%s, once", async (_, hook, told) => {
    renderHook(hook, { wrapper: wrapper() });
    await waitFor(() => expect(asked).toHaveLength(1));
    expect(asked[0]).toMatchObject(told);
  });

  it.each<[string, () => unknown]>([
    ["working", () => queries.useWorking(false)],
    ["profile of nothing", () => queries.useProfile(null, line)],
    ["profile nowhere", () => queries.useProfile("mask:a", null)],
    ["stats", () => queries.useStats(null)],
    ["sizes", () => queries.useSizes(false, null)],
    ["change", () => queries.useTargetChange(null)],
    ["typed numbers", () => queries.useTypedNumbers(null)],
    ["bands", () => queries.useBands(null)],
    ["one mask together", () => queries.useTogether(["a"])],
    ["why nowhere", () => queries.useWhy(null)],
    ["why no mask", () => queries.useWhyMask(null, { row: 1, col: 1 })],
    ["why a mask nowhere", () => queries.useWhyMask("scree", null)],
    ["folder files", () => queries.useFolderFiles(false)],
    ["points of nothing", () => queries.useScatterPoints(null)],
  ])("%s: not while nobody wants to know", async (_, hook) => {
    const fetched = vi.spyOn(globalThis, "fetch");
    renderHook(hook, { wrapper: wrapper() });
    await act(async () => {
      await Promise.resolve();
    });
    expect(asked).toEqual([]);
    expect(fetched).not.toHaveBeenCalled();
  });

  it("a mask's numbers again only after the mask changed, all others' after every edit", async () => {
    const shown = () => [queries.useStats(named.mask("scree")), queries.useStats(named.mask("scree", 1))];
    renderHook(shown, { wrapper: wrapper() });
    await waitFor(() => expect(asked).toHaveLength(2));
    act(() => useDocument.setState({ state: { ...testState(), revision: 8 } }));
    await waitFor(() => expect(asked).toHaveLength(3));
    expect(asked[2]?.query).toEqual({ name: "mask:scree:1" });
    act(() => useDocument.setState({ state: { ...testState(), revision: 8, mask_keys: { scree: "m2" } } }));
    await waitFor(() => expect(asked).toHaveLength(4));
    expect(asked[3]?.query).toEqual({ name: "mask:scree" });
  });

  it("keeps the last numbers of the same map, and shows none of another", async () => {
    answer = { mean: 1 };
    const { result, rerender } = renderHook(({ of }) => queries.useStats(of).data, {
      wrapper: wrapper(),
      initialProps: { of: named.mask("scree") },
    });
    await waitFor(() => expect(result.current).toEqual({ mean: 1 }));
    act(() => useDocument.setState({ state: { ...testState(), mask_keys: { scree: "m2" } } }));
    expect(result.current).toEqual({ mean: 1 });
    rerender({ of: named.mask("peat") });
    expect(result.current).toBeUndefined();
  });

  it("which files of a delivery would be written otherwise now", () => {
    const file = (name: string, key: string) => ({ file: name, key });
    const delivery = { job: { state: "done" }, files: [file("a", "a1"), file("b", "old"), file("c", "")] };
    const told = (more: object) => queries.outdatedFiles({ ...delivery, ...more } as never, testState());
    expect(told({})).toEqual(["b"]);
    expect(told({ job: { state: "running" } })).toEqual([]);
    expect(["waiting", "running", "done"].map((state) => queries.isGoing({ job: { state } } as never))).toEqual([
      true,
      true,
      false,
    ]);
    expect(queries.checkOf({ check: { state: "running" } } as never)).toEqual({ state: "running" });
    expect(queries.checkOf({ check: { state: "done" } } as never)).toBeNull();
    expect(queries.checkOf(null)).toBeNull();
  });
});
