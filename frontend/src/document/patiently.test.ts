import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { patiently } from "./patiently";

const answers: number[] = [];
const asked = vi.fn(() => {
  const status = answers.shift() ?? 503;
  const response = new Response(null, { status });
  return Promise.resolve(status === 200 ? { data: "stopped", response } : { error: { detail: "Busy." }, response });
});

beforeEach(() => {
  vi.useFakeTimers();
  asked.mockClear();
  answers.length = 0;
});
afterEach(() => vi.useRealTimers());

it("asks a busy store again until it answers", async () => {
  answers.push(503, 503, 200);
  const made = patiently<string>(asked);
  await vi.advanceTimersByTimeAsync(1999);
  expect(asked).toHaveBeenCalledTimes(2);
  await vi.advanceTimersByTimeAsync(1);
  expect(await made).toBe("stopped");
});

it("takes a refusal for what it is, and a store that stays busy for one", async () => {
  answers.push(404);
  await expect(patiently(asked)).rejects.toThrow("Busy.");
  expect(asked).toHaveBeenCalledTimes(1);
  const made = expect(patiently(asked)).rejects.toThrow("Busy.");
  await vi.advanceTimersByTimeAsync(20_000);
  await made;
  expect(asked).toHaveBeenCalledTimes(11);
});
