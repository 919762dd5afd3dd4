import { describe, expect, it } from "vitest";
import { short, trim, withUnit } from "./numbers";

describe("numbers as they are read", () => {
  it.each([
    [999, "999"],
    [1000, "1\u202f000"],
    [65537, "65\u202f537"],
    [1234567, "1\u202f234\u202f567"],
    [-1234.5, "-1\u202f234.5"],
    [0.125, "0.13"],
    [2.5, "2.5"],
    [2, "2"],
  ])("%d has its thousands apart and no idle decimals", (value, text) => expect(trim(value)).toBe(text));

  it("have as many decimals as are asked for, at most", () => {
    expect(trim(3.14159, 4)).toBe("3.1416");
    expect(trim(3.1, 4)).toBe("3.1");
    expect(trim(99.6, 0)).toBe("100");
    expect(trim(100, 0)).toBe("100");
  });

  it.each([
    [9999, "9\u202f999"],
    [10000, "10k"],
    [999999, "1\u202f000k"],
    [1e6, "1M"],
    [9.94, "9.9"],
    [10.4, "10"],
  ])("%d takes little room on an axis", (value, text) => expect(short(value)).toBe(text));

  it("carry their unit, degrees without a space", () => {
    expect(withUnit(12.345, "m", 1)).toBe("12.3 m");
    expect(withUnit(12.345, "°", 0)).toBe("12°");
    expect(withUnit(10000, "m²", 1)).toBe("10k m²");
    expect(withUnit(0.5, "", 2)).toBe("0.50");
  });
});
