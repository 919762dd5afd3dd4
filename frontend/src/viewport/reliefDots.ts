import { BufferAttribute, BufferGeometry, Points, PointsMaterial } from "three";
import type { RawMap } from "../api/maps";

/** Scattered things as dots over a ground: rows of east, south, height, size, turn. `low`: its lowest metres, `lift`: by
 * how much heights are drawn higher, `span`: metres of its longer side. */
export function dotsOf(
  values: Float32Array,
  { grid }: RawMap,
  { low, lift, span }: { low: number; lift: number; span: number },
  colour: string,
): Points<BufferGeometry, PointsMaterial> {
  const count = values.length / 5;
  const places = new Float32Array(count * 3);
  for (let i = 0; i < count; i++) {
    places[i * 3] = ((values[i * 5] ?? 0) - grid.width / 2) / span;
    places[i * 3 + 1] = (grid.length / 2 - (values[i * 5 + 1] ?? 0)) / span;
    places[i * 3 + 2] = (((values[i * 5 + 2] ?? 0) + (values[i * 5 + 3] ?? 0) / 2 - low) * lift) / span;
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new BufferAttribute(places, 3));
  return new Points(geometry, new PointsMaterial({ color: colour, size: 3, sizeAttenuation: false }));
}
