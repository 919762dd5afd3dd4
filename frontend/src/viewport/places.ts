import type { GridInfo, Ground } from "../api/types";

export interface Place {
  east: number;
  south: number;
}

type Lies = Pick<GridInfo, "rows" | "cols" | "spacing_x" | "spacing_y"> & { registration: string };

/** How far inside the border the outermost samples lie, in samples: cells half of one. */
export function inset(grid: { registration: string }): number {
  return grid.registration === "area" ? 0.5 : 0;
}

/** How the samples of the file lie, before it is turned or prepared. */
export function fileLies({ rows, cols, spacing_x = 1, spacing_y = 1, samples, cells_reach }: Ground): Lies {
  const registration = samples === "cells" && cells_reach !== false ? "area" : "vertex";
  return { rows, cols, spacing_x, spacing_y, registration };
}

/** How many samples more than spacings there are along a side: of cells none. */
export function samplesMore(grid: { registration: string }): number {
  return grid.registration === "area" ? 0 : 1;
}

/** Where a sample, or a place between samples, lies. */
export function placeOf(grid: Lies, row: number, col: number): Place {
  return { east: (col + inset(grid)) * grid.spacing_x, south: (row + inset(grid)) * grid.spacing_y };
}

/** Row and column of a place, between samples too. */
export function atPlace(grid: Lies, { east, south }: Place): { row: number; col: number } {
  return { row: south / grid.spacing_y - inset(grid), col: east / grid.spacing_x - inset(grid) };
}

/** Row and column of a place, between samples too, no further out than the outermost samples. */
export function onSamples(grid: Lies, place: Place): { row: number; col: number } {
  const { row, col } = atPlace(grid, place);
  return { row: Math.min(Math.max(row, 0), grid.rows - 1), col: Math.min(Math.max(col, 0), grid.cols - 1) };
}

/** The sample nearest to a place; of places beside the ground the nearest on it. */
export function nearestTo(grid: Lies, place: Place): { row: number; col: number } {
  const { row, col } = atPlace(grid, place);
  const within = (at: number, count: number) => Math.min(Math.max(Math.round(at), 0), count - 1);
  return { row: within(row, grid.rows), col: within(col, grid.cols) };
}

/** Metres north of the south border at which a row of samples lies. */
export function northOf(grid: Lies & { length: number }, row: number): number {
  return grid.length - placeOf(grid, row, 0).south;
}

/** The sample of one grid that lies nearest to a sample of another over the same ground. */
export function sampleOn(grid: Lies, other: Lies, row: number, col: number): { row: number; col: number } {
  return nearestTo(grid, placeOf(other, row, col));
}
