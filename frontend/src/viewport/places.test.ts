import { expect, it } from "vitest";
import { atPlace, nearestTo, northOf, onSamples, placeOf, sampleOn } from "./places";

const vertices = { rows: 5, cols: 9, spacing_x: 10, spacing_y: 20, registration: "vertex", length: 80 };
const cells = { rows: 4, cols: 8, spacing_x: 10, spacing_y: 20, registration: "area", length: 80 };

it("samples lie on vertices from the border on, cells half a cell inside", () => {
  expect(placeOf(vertices, 1, 2)).toEqual({ east: 20, south: 20 });
  expect(placeOf(cells, 1, 2)).toEqual({ east: 25, south: 30 });
  for (const grid of [vertices, cells])
    expect(atPlace(grid, placeOf(grid, 1.5, 2.25))).toEqual({ row: 1.5, col: 2.25 });
  expect(northOf(vertices, 4)).toBe(0);
  expect(northOf(cells, 3)).toBe(10);
});

it("a place takes its own cell, and beside the ground the nearest", () => {
  expect(nearestTo(cells, { east: 29.9, south: 20.1 })).toEqual({ row: 1, col: 2 });
  expect(nearestTo(vertices, { east: 29.9, south: 20.1 })).toEqual({ row: 1, col: 3 });
  expect(nearestTo(cells, { east: 500, south: -3 })).toEqual({ row: 0, col: 7 });
  expect(onSamples(cells, { east: 1, south: 80 })).toEqual({ row: 3, col: 0 });
});

it("a sample of one grid is the nearest of another over the same ground", () => {
  const fine = { rows: 8, cols: 16, spacing_x: 5, spacing_y: 10, registration: "area" };
  expect(sampleOn(fine, cells, 3, 7)).toEqual({ row: 7, col: 15 });
  expect(sampleOn(cells, fine, 7, 14)).toEqual({ row: 3, col: 7 });
});
