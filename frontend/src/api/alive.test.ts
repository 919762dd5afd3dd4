import { afterEach, beforeEach, expect, it, vi } from "vitest";

let answers: ({ start: string; again: string | null } | null)[] = [];
let asked = 0;
beforeEach(() => {
  vi.resetModules();
  vi.useFakeTimers();
  [answers, asked] = [[], 0];
  vi.stubGlobal("fetch", (path: string) => {
    expect(path).toBe("/api/started");
    asked += 1;
    const found = answers.shift() ?? null;
    return found ? Promise.resolve(Response.json(found)) : Promise.reject(new TypeError("Failed to fetch"));
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});
const from = (start: string) => new Response(null, { headers: { "X-Start": start } });

it("asks until the application answers, once for all who wait, and tells those who listen", async () => {
  const { answersAgain, useAlive, whenBack } = await import("./alive");
  const back = vi.fn();
  const end = whenBack(back);
  const both = Promise.all([answersAgain(), answersAgain()]);
  await vi.advanceTimersByTimeAsync(1000);
  expect([asked, useAlive.getState().away, back.mock.calls.length]).toEqual([2, true, 0]);
  answers = [{ start: "one", again: "It was started again." }];
  await vi.advanceTimersByTimeAsync(700);
  await both;
  // The first start that is heard of is no other one.
  expect(useAlive.getState()).toMatchObject({ away: false, again: null });
  expect(back).toHaveBeenCalledOnce();
  end();
  answers = [{ start: "two", again: "It was started again." }];
  await answersAgain();
  expect(useAlive.getState().again).toBe("It was started again.");
  expect(back).toHaveBeenCalledOnce();
  useAlive.getState().told();
  expect(useAlive.getState().again).toBeNull();
});

it("hears of another start by any answer", async () => {
  const { heard, useAlive } = await import("./alive");
  answers = [{ start: "two", again: "Out of memory." }];
  heard(from("one"));
  heard(from("one"));
  heard(new Response());
  await vi.advanceTimersByTimeAsync(0);
  expect([asked, useAlive.getState().again]).toEqual([0, null]);
  heard(from("two"));
  await vi.advanceTimersByTimeAsync(0);
  expect([asked, useAlive.getState().again]).toEqual([1, "Out of memory."]);
});
