import { beforeAll, describe, expect, it, vi } from "vitest";
import type { Operation, ProjectState } from "../api/types";
import { withImages } from "../testing/image";
import { testMap, testState } from "../testing/state";
import type { Trial } from "./trials";

const asked: Record<string, unknown>[] = [];
const maps: unknown[] = [];
const holds: (() => void)[] = [];
let fails = false;
vi.mock("../api/maps", async (original) => ({
  ...(await original<object>()),
  fetchMap: (_: string, name: string, options: object) => {
    maps.push({ name, ...options });
    return fails ? Promise.reject(new Error("no")) : Promise.resolve(testMap("mask:a", [0, 0, 0, 255]));
  },
  fetchPreview: async (_: string, body: Record<string, unknown>) => {
    asked.push(body);
    await new Promise<void>((go) => holds.push(go));
    return testMap("mask:a", [1, 2, 3, 4]);
  },
  fetchPoints: (_: string, scatter: string, body: Record<string, unknown>) => {
    asked.push({ scatter, ...body });
    return Promise.resolve({ count: 1, values: Float32Array.of(500, 250, 0, 1, 0) });
  },
}));
const { trialPicture, trialPoints } = await import("./trials");
beforeAll(withImages);

const state = (revision: number, side: number): ProjectState => {
  const whole = testState();
  return { ...whole, revision, view: { ...whole.view, rows: side, cols: side, width: 1000, length: 500 } };
};
const trial = (more: Partial<Trial> = {}): Trial => ({
  operations: [{ op: "add_line" } as unknown as Operation],
  map: "mask:a" as Trial["map"],
  subject: { kind: "mask", id: "a", style: "alone", lines: null },
  ...more,
});
const signal = new AbortController().signal;
const turn = () => new Promise((done) => setTimeout(done, 0));
const letGo = async () => {
  holds.splice(0).forEach((go) => go());
  await turn();
};

describe("pictures of what is not saved", () => {
  it("are made two at a time, each from the same place, which is looked for once", async () => {
    const made = [0, 1, 2].map((slot) => trialPicture(state(1, 192), trial(), slot, signal));
    await turn();
    expect(asked.map((body) => body["slot"])).toEqual(["try0", "try1"]);
    await letGo();
    await letGo();
    expect(asked).toHaveLength(3);
    await letGo();
    // Half of 192 samples: the corner where the mask ends, over the map that was asked for small.
    expect(asked.map((body) => body["part"])).toEqual(Array(3).fill(asked[0]?.["part"]));
    const sequence = asked.map((body) => Number(body["sequence"]));
    expect(sequence).toEqual([0, 1, 2].map((more) => (sequence[0] ?? 0) + more));
    expect(maps).toEqual([{ name: "mask:a", size: 129, draft: false, rank: "small" }]);
    expect((await made[0])?.data.slice(0, 1)).toEqual(Uint8ClampedArray.of(Math.sqrt(255)));
  });

  it("are looked for again after an edit and on a smaller ground, and after it could not be found", async () => {
    maps.length = asked.length = 0;
    void trialPicture(state(2, 1026), trial({ draft: true }), 0, signal);
    await turn();
    await letGo();
    expect(maps).toMatchObject([{ draft: true }]);
    fails = true;
    await expect(trialPicture(state(3, 192), trial(), 0, signal)).rejects.toThrow("no");
    fails = false;
    void trialPicture(state(3, 192), trial(), 0, signal);
    await turn();
    await letGo();
    expect(maps).toHaveLength(3);
  });

  it("are not asked for once nobody wants them", async () => {
    asked.length = 0;
    const stop = new AbortController();
    stop.abort();
    await expect(trialPicture(state(1, 192), trial(), 0, stop.signal)).rejects.toThrow();
    expect(asked).toHaveLength(0);
  });

  it("of points show the middle of the ground, four times as near", async () => {
    const scatter = { id: "firs", colour: "#ff0000", operations: [] };
    const image = await trialPoints(state(1, 192), scatter, 1, signal);
    expect([image.width, image.height]).toEqual([129, 65]);
    const at = (x: number, y: number) => [...image.data.slice((y * 129 + x) * 4, (y * 129 + x) * 4 + 4)];
    expect(at(64, 32)).toEqual([255, 0, 0, 255]);
    expect(at(0, 0)).toEqual([0x6f, 0x71, 0x73, 255]);
  });
});
