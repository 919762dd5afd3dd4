import { expect, it } from "vitest";
import { reliefLink, type ReliefLook } from "./reliefLink";

const look = (x: number): ReliefLook => ({ position: [x, 0, 1], target: [0, 0, 0] });

it("takes every other relief along, and a new one to where the others are, but not a stranger's move", () => {
  const seen: Record<string, number[]> = { a: [], b: [] };
  const a = {};
  const b = {};
  const leave = reliefLink.join(a, (at) => seen["a"]?.push(at.position[0]));
  reliefLink.tell(a, look(1));
  const away = reliefLink.join(b, (at) => seen["b"]?.push(at.position[0]));
  reliefLink.tell(a, look(2));
  reliefLink.tell(b, look(3));
  reliefLink.tell({}, look(9));
  expect(seen).toEqual({ a: [3], b: [1, 2] });
  leave();
  away();
  expect(reliefLink.last).toBeNull();
});
