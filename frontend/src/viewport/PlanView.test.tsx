import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, render } from "@testing-library/react";
import { afterEach, beforeAll, beforeEach, describe, expect, it, vi } from "vitest";
import type * as Maps from "../api/maps";
import { useDocument } from "../document/document";
import { previews } from "./preview";
import { useView } from "./view";
import { testMap, testState } from "../testing/state";

let answering = true;
const asked: { window: string; signal: AbortSignal | undefined }[] = [];
vi.mock("../api/maps", async (original) => ({
  ...(await original<typeof Maps>()),
  fetchMap: (_project: string, name: string, options: { window?: string; signal?: AbortSignal }) => {
    if (options.window) asked.push({ window: options.window, signal: options.signal });
    return answering ? Promise.resolve(testMap(name, [1, 2, 3, 4])) : new Promise(() => undefined);
  },
}));
const { PlanView } = await import("./PlanView");
const { mapStore } = await import("./pictures");

/** A ground of 4000 samples a side, whose overview has 1001. */
function wideState() {
  const state = testState();
  const home = { ...state.home, rows: 4000, cols: 4000, width: 15996, length: 15996 };
  return { ...state, home, view: { ...home, rows: 1001, cols: 1001, spacing_x: 15.996, spacing_y: 15.996 } };
}

let listening = 0;
beforeAll(() => {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      constructor(private told: () => void) {}
      observe() {
        this.told();
      }
      disconnect() {
        return undefined;
      }
    },
  );
  HTMLCanvasElement.prototype.getContext = () => null;
  vi.stubGlobal(
    "ImageData",
    class {
      data: Uint8ClampedArray;
      constructor(
        readonly width: number,
        readonly height: number,
      ) {
        this.data = new Uint8ClampedArray(4 * width * height);
      }
    },
  );
  for (const side of ["clientWidth", "clientHeight"])
    Object.defineProperty(HTMLElement.prototype, side, { configurable: true, get: () => 600 });
  for (const store of [previews, mapStore]) {
    const listen = store.listen.bind(store);
    vi.spyOn(store, "listen").mockImplementation((told: () => void) => {
      const end = listen(told);
      listening += 1;
      return () => {
        listening -= 1;
        return end();
      };
    });
  }
});
beforeEach(() => {
  listening = 0;
  asked.length = 0;
  useDocument.setState({ state: wideState() });
  useView.getState().reset();
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
  cleanup();
});

function plan() {
  const cache = new QueryClient({ defaultOptions: { queries: { retry: false, enabled: false } } });
  return render(
    <QueryClientProvider client={cache}>
      <PlanView picture={null} subject={{ kind: "mask", id: "scree", style: "over", lines: null }} />
    </QueryClientProvider>,
  );
}

const rest = async (x: number) => {
  act(() => useView.getState().set({ camera: { x, y: 0.5, zoom: 40 } }));
  await act(() => vi.advanceTimersByTimeAsync(200));
};

describe("the plan", () => {
  it("leaves nothing behind when a zoomed view rests fifty times", async () => {
    const { unmount } = plan();
    await rest(0.3);
    const once = listening;
    expect(once).toBeGreaterThan(0);
    for (let i = 0; i < 50; i++) await rest(0.3 + i / 200);
    expect(new Set(asked.map((item) => item.window)).size).toBeGreaterThan(40);
    expect(listening).toBe(once);
    unmount();
    expect(listening).toBe(0);
  });

  it("stops what it asked for when the view moves on, and when it goes", async () => {
    const { unmount } = plan();
    answering = false;
    await rest(0.81);
    const first = asked.at(-1)?.signal;
    await rest(0.87);
    expect(first?.aborted).toBe(true);
    const last = asked.at(-1)?.signal;
    expect(last?.aborted).toBe(false);
    unmount();
    await Promise.resolve();
    expect(last?.aborted).toBe(true);
    answering = true;
  });

  it("leaves nothing behind when it is mounted and unmounted fifty times", async () => {
    for (let i = 0; i < 50; i++) {
      const { unmount } = plan();
      await rest(0.3 + i / 200);
      unmount();
    }
    expect(listening).toBe(0);
  });
});
