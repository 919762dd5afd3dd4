// @vitest-environment jsdom
import { beforeEach, expect, it } from "vitest";
import { lately, used } from "./lately";
import { megabytes } from "./megabytes";
import { percent } from "./percent";

beforeEach(() => localStorage.clear());

it("shares are hundredths, small ones with a decimal, never parted from their sign", () => {
  expect([0.0999, 0.1, 0.456, 1, 0].map((share) => percent(share))).toEqual([
    "10.0\u00a0%",
    "10\u00a0%",
    "46\u00a0%",
    "100\u00a0%",
    "0.0\u00a0%",
  ]);
  expect(percent(0.4567, 2)).toBe("45.67\u00a0%");
});

it("bytes are read in thousands and millions, never as none", () => {
  expect([3, 1500, 999_999, 1e6, 9_940_000, 1e7, 1.234e9].map(megabytes)).toEqual([
    "1 kB",
    "2 kB",
    "1000 kB",
    "1.0 MB",
    "9.9 MB",
    "10 MB",
    "1234 MB",
  ]);
});

it("six of what was read lately are kept, each once, the newest first", () => {
  for (const value of ["a", "b", "c", "none", "d", "e", "f", "g", "c"]) used(value);
  expect(lately()).toEqual(["c", "g", "f", "e", "d", "b"]);
  localStorage.setItem("sources-used-lately", '["x", 3, null]');
  expect(lately()).toEqual(["x"]);
  localStorage.setItem("sources-used-lately", "{");
  expect(lately()).toEqual([]);
});
