import type { Canvas } from "./overlays";
import { named } from "../api/mapNames";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { RawMap } from "../api/maps";
import { testMap, testReadings, testState } from "../testing/state";
import type { Subject } from "./subjects/subject";

const asked: { name: string; answer: (map: RawMap) => void; refuse: (error: Error) => void }[] = [];
vi.mock("../api/maps", async (original) => ({
  ...(await original<object>()),
  fetchMap: (_project: string, name: string) =>
    new Promise<RawMap>((answer, refuse) => asked.push({ name, answer, refuse })),
  fetchPreview: () => new Promise<RawMap>(() => undefined),
}));
vi.mock("./subjects/register", async (original) => ({
  ...(await original<object>()),
  paint: (_: unknown, { maps }: Canvas) => ({
    panels: [{ title: "", image: { first: maps(named.mask("scree")).values[0] } }],
    before: null,
    legend: null,
    shaded: false,
  }),
}));

const { mapStore, PictureMaker } = await import("./pictures");
const { previews } = await import("./preview");
const subject: Subject = { kind: "mask", id: "scree", style: "alone", lines: null };
const turn = () => new Promise((resolve) => setTimeout(resolve, 0));

function wanted(revision: number, id = "p1") {
  const state = { ...testState(), id, revision, mask_keys: { scree: `m${revision}` } };
  return { state, subject, readings: testReadings(), options: { tint: 1, water: false } };
}

function first(maker: InstanceType<typeof PictureMaker>): unknown {
  return (maker.state.picture?.panels[0]?.image as { first?: number } | undefined)?.first;
}

describe("a picture", () => {
  beforeEach(() => {
    asked.length = 0;
  });

  it("is painted when all its maps are there, and says that it waits until then", async () => {
    const maker = new PictureMaker();
    maker.subscribe(() => undefined);
    maker.want(wanted(1, "a"));
    expect(maker.state).toMatchObject({ updating: true, picture: null });
    asked[0]?.answer(testMap("mask:scree", [10, 0, 0, 0]));
    await turn();
    expect(maker.state.updating).toBe(false);
    expect(first(maker)).toBe(10);
  });

  it("shows a draft first where the real map takes long, and says that it is one", async () => {
    const maker = new PictureMaker();
    maker.subscribe(() => undefined);
    maker.want(wanted(1, "draft"));
    asked[0]?.answer({ ...testMap("mask:scree", [5, 0, 0, 0]), draft: true });
    await turn();
    expect(first(maker)).toBe(5);
    expect(maker.state).toMatchObject({ updating: true, draft: true });
    asked[1]?.answer(testMap("mask:scree", [9, 0, 0, 0]));
    await turn();
    expect(first(maker)).toBe(9);
    expect(maker.state).toMatchObject({ updating: false, draft: false });
  });

  it("can be asked for once more after it was stopped", async () => {
    const maker = new PictureMaker();
    maker.subscribe(() => undefined);
    maker.want(wanted(1, "stopped"));
    asked[0]?.refuse(new Error("Stopped as asked."));
    await turn();
    expect(maker.state).toMatchObject({ updating: false, trouble: "Stopped as asked." });
    maker.again();
    asked[1]?.answer(testMap("mask:scree", [7, 0, 0, 0]));
    await turn();
    expect(first(maker)).toBe(7);
    expect(maker.state.trouble).toBeNull();
  });

  it("keeps the last one while a new revision is fetched, marked as old", async () => {
    const maker = new PictureMaker();
    maker.subscribe(() => undefined);
    maker.want(wanted(1, "b"));
    asked[0]?.answer(testMap("mask:scree", [10, 0, 0, 0]));
    await turn();
    maker.want(wanted(2, "b"));
    expect(maker.state.updating).toBe(true);
    expect(first(maker)).toBe(10);
    asked[1]?.answer(testMap("mask:scree", [20, 0, 0, 0]));
    await turn();
    expect(first(maker)).toBe(20);
    maker.want(wanted(2, "b"));
    expect(asked).toHaveLength(2);
  });

  it("ignores an answer that is no longer wanted", async () => {
    const maker = new PictureMaker();
    maker.subscribe(() => undefined);
    maker.want(wanted(1, "c"));
    maker.want(wanted(2, "c"));
    asked[1]?.answer(testMap("mask:scree", [2, 0, 0, 0]));
    await turn();
    asked[0]?.answer(testMap("mask:scree", [1, 0, 0, 0]));
    await turn();
    expect(first(maker)).toBe(2);
  });

  it("shows an unsaved position in place of the saved map", async () => {
    const maker = new PictureMaker();
    maker.subscribe(() => undefined);
    maker.want(wanted(1, "d"));
    asked[0]?.answer(testMap("mask:scree", [10, 0, 0, 0]));
    await turn();
    previews.current = testMap("mask:scree", [99, 0, 0, 0]);
    maker.want(wanted(1, "d"));
    expect(first(maker)).toBe(99);
    previews.clear();
    expect(first(maker)).toBe(10);
  });

  it("says in a sentence why it cannot be made", async () => {
    const maker = new PictureMaker();
    maker.subscribe(() => undefined);
    maker.want(wanted(1, "e"));
    asked[0]?.refuse(new Error("There is no mask with the id 'scree'."));
    await turn();
    expect(maker.state).toMatchObject({ updating: false, trouble: "There is no mask with the id 'scree'." });
  });

  it("asks once for a map that two pictures need at the same time", async () => {
    const one = mapStore.load(wanted(1, "f"), named.mask("scree"));
    const two = mapStore.load(wanted(1, "f"), named.mask("scree"));
    expect(asked).toHaveLength(1);
    asked[0]?.answer(testMap("mask:scree", [1, 0, 0, 0]));
    expect(await one).toBe(await two);
  });

  it("lays a part that moves over the whole, and keeps the name of what it shows until another is there", async () => {
    const maker = new PictureMaker();
    maker.subscribe(() => undefined);
    maker.want(wanted(1, "part"));
    asked[0]?.answer(testMap("mask:scree", [10, 0, 0, 0]));
    await turn();
    const whole = maker.state.picture?.panels[0]?.image;
    const window = { row0: 4, row1: 6, col0: 8, col1: 10 };
    previews.current = { ...testMap("mask:scree", [77, 0, 0, 0]), window, moving: true };
    maker.again();
    expect(maker.state.picture?.panels[0]?.image).toEqual(whole);
    expect(maker.state.picture?.moving).toMatchObject({ image: { first: 77 }, row0: 4, col0: 8 });
    previews.current = null;
    maker.again();
    expect(maker.state.picture?.moving).toBeUndefined();
    maker.want({ ...wanted(2, "part"), subject: { ...subject, id: "peat" } });
    expect(maker.state).toMatchObject({ updating: true, of: { id: "scree" } });
  });
});
