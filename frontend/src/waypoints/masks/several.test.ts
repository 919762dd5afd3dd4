import { expect, it } from "vitest";
import type { Line } from "../../api/types";
import { copied, movedBy, muted, without } from "./several";

const lines = ["a", "b", "c", "d"].map((id) => ({ id, verb: "turn_over", muted: false, note: "" }) as Line);
const ids = (some: Line[]) => some.map((line) => line.id).join("");
const chosen = new Set(["b", "c"]);

it("moves, mutes, copies and takes out several lines together", () => {
  expect(ids(movedBy(lines, chosen, -1))).toBe("bcad");
  expect(ids(movedBy(lines, chosen, 1))).toBe("adbc");
  expect(ids(movedBy(lines, new Set(["a", "d"]), -1))).toBe("abdc");
  expect(ids(movedBy(movedBy(lines, chosen, -1), chosen, -1))).toBe("bcad");
  expect(muted(lines, chosen, true).map((line) => line.muted)).toEqual([false, true, true, false]);
  let n = 0;
  expect(ids(copied(lines, chosen, () => String(++n)))).toBe("abc12d");
  expect(ids(without(lines, chosen))).toBe("ad");
});
