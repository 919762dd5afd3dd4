import { BufferAttribute, BufferGeometry, Points, PointsMaterial, type Scene } from "three";
import type { RawMap } from "../api/maps";

interface Measure {
  low: number;
  lift: number;
  span: number;
}

/** Scattered things as dots over a ground: rows of east, south, height, size, turn. `low`: its lowest metres, `lift`: by
 * how much heights are drawn higher, `span`: metres of its longer side. */
export function dotsOf(
  values: Float32Array,
  { grid }: RawMap,
  { low, lift, span }: Measure,
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

/** The dots in a scene: laid anew with other things, or on another ground. */
export class Dots {
  private drawn: Points<BufferGeometry, PointsMaterial> | null = null;
  private values: Float32Array | null = null;
  private colour = "";

  constructor(private readonly scene: Scene) {}

  set(values: Float32Array | null, colour: string, map: RawMap | null, measure: Measure): void {
    [this.values, this.colour] = [values, colour];
    this.lay(map, measure);
  }

  /** On the ground as it is now. */
  lay(map: RawMap | null, measure: Measure): void {
    this.dispose();
    if (!this.values || !map) return;
    this.drawn = dotsOf(this.values, map, measure, this.colour);
    this.drawn.frustumCulled = false;
    this.scene.add(this.drawn);
  }

  dispose(): void {
    if (!this.drawn) return;
    this.scene.remove(this.drawn);
    this.drawn.geometry.dispose();
    this.drawn.material.dispose();
    this.drawn = null;
  }
}
