import { expect, it, vi } from "vitest";
import { testMap, testState } from "../../testing/state";
import { mapStore } from "../../viewport/pictures";
import { colourNear } from "./colourNear";

it("the colour at a place is the nearest sample's, as a code; none before there is one", () => {
  const state = testState();
  const place = (east: number, south: number) => ({ east, south, pressure: 1 });
  const get = vi.spyOn(mapStore, "get").mockReturnValue(null);
  expect(colourNear(state, place(0, 0))).toBeNull();
  get.mockReturnValue(testMap("colour", [1, 2, 3, 16, 32, 48, 7, 8, 9, 255, 0, 171], 3));
  // Two samples a side, 4 m apart.
  expect([place(0, 0), place(2.1, 1.9), place(1.9, 2.1), place(4, 4)].map((at) => colourNear(state, at))).toEqual([
    "#010203",
    "#102030",
    "#070809",
    "#ff00ab",
  ]);
  get.mockReturnValue(testMap("colour", [1, 2, 3, 4]));
  expect(colourNear(state, place(0, 0))).toBeNull();
});
