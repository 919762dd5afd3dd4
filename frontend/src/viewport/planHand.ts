import type { GridInfo } from "../api/types";
import { atPlace, type Place } from "./places";
import { scale, type Rect } from "./plan";
import type { Camera } from "./view";

const CLOSEST = 400;
const KEY_ZOOM = 1.3;
/** The part of the view that a key moves it by. */
const KEY_STEP = 0.08;

/** The camera after the wheel was turned over a place, which stays where it is; from afar all of the ground is in the
 * middle. */
export function wheeled(camera: Camera, turned: number, under: Place, view: GridInfo): Camera {
  const zoom = Math.min(Math.max(camera.zoom * Math.exp(-turned * 0.0016), 1), CLOSEST);
  if (zoom === 1) return { x: 0.5, y: 0.5, zoom };
  const k = camera.zoom / zoom;
  const [x, y] = [under.east / view.width, under.south / view.length];
  return { x: x + (camera.x - x) * k, y: y + (camera.y - y) * k, zoom };
}

/** The camera after the ground was drawn along by so many pixels. */
export function drawnAlong(camera: Camera, across: number, down: number, rect: Rect, view: GridInfo): Camera {
  const s = scale(rect, view, camera);
  return { ...camera, x: camera.x - across / s / view.width, y: camera.y - down / s / view.length };
}

/** The camera after a key; null for keys that do nothing to it. */
export function keyed(camera: Camera, key: string): Camera | null {
  const step = KEY_STEP / camera.zoom;
  switch (key) {
    case "ArrowLeft":
      return { ...camera, x: camera.x - step };
    case "ArrowRight":
      return { ...camera, x: camera.x + step };
    case "ArrowUp":
      return { ...camera, y: camera.y - step };
    case "ArrowDown":
      return { ...camera, y: camera.y + step };
    case "+":
      return { ...camera, zoom: Math.min(camera.zoom * KEY_ZOOM, CLOSEST) };
    case "-":
      return { ...camera, zoom: Math.max(camera.zoom / KEY_ZOOM, 1) };
    default:
      return null;
  }
}

/** A place held on the ground. */
export function heldOn({ east, south }: Place, home: GridInfo): Place {
  return { east: Math.min(Math.max(east, 0), home.width), south: Math.min(Math.max(south, 0), home.length) };
}

/** The sample nearest to a place; null beside the ground. */
export function sampleAt(place: Place, home: GridInfo): { row: number; col: number } | null {
  const at = atPlace(home, place);
  const [row, col] = [Math.round(at.row), Math.round(at.col)];
  return row >= 0 && col >= 0 && row < home.rows && col < home.cols ? { row, col } : null;
}
