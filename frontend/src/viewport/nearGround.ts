import {
  DataArrayTexture,
  LinearFilter,
  LinearMipmapLinearFilter,
  NearestFilter,
  RepeatWrapping,
  RGBAFormat,
  SRGBColorSpace,
  UnsignedByteType,
  type Texture,
} from "three";
import { fetchLook, type RawMap } from "../api/maps";
import type { ProjectState } from "../api/types";
import { rgb, type Rgb } from "./ramps";

/** Layers that the relief can tell apart close by. */
export const MOST_NEAR = 16;
const SIDE = 256;

/** What close ground is drawn from: textures and directions of every layer, and their weights, four a slice. */
export interface NearGround {
  albedo: DataArrayTexture;
  normal: DataArrayTexture;
  weights: DataArrayTexture;
  /** Per layer: metres across, and the turn as cosine and sine. */
  sizes: Float32Array;
  turns: Float32Array;
  tints: Float32Array;
  count: number;
  key: string;
}

interface Worn {
  id: string;
  look: string | null;
  size: number;
  turn: number;
  tint: [number, number, number];
  colour: string;
}

/** The base and the layers that take part, from the bottom, as they are dressed. */
export function wornBy(state: ProjectState, sizeOf: (look: string) => number | undefined): Worn[] {
  const { base, layers, mixing } = state.document;
  const worn = [
    { id: "base", colour: base.colour ?? "#808080", dressing: base.dressing },
    ...layers.filter((layer) => !layer.muted && layer.mask),
  ];
  return worn.slice(0, MOST_NEAR).map(({ id, colour, dressing }) => {
    const look = dressing?.look && sizeOf(dressing.look) !== undefined ? dressing.look : null;
    const bright = dressing?.brightness ?? 1;
    const [r, g, b] = rgb(dressing?.tint ?? "#ffffff").map((part) => ((part / 255) ** 2.2 * bright) as number);
    return {
      id,
      colour,
      look,
      size: mixing?.one_size ?? dressing?.size ?? (look ? (sizeOf(look) ?? 3) : 3),
      turn: dressing?.turn ?? 0,
      tint: look ? [r ?? 1, g ?? 1, b ?? 1] : [1, 1, 1],
    };
  });
}

function array(width: number, height: number, depth: number, data: Uint8Array<ArrayBuffer>): DataArrayTexture {
  const texture = new DataArrayTexture(data, width, height, depth);
  texture.format = RGBAFormat;
  texture.type = UnsignedByteType;
  texture.needsUpdate = true;
  return texture;
}

function repeated(texture: DataArrayTexture): DataArrayTexture {
  texture.wrapS = texture.wrapT = RepeatWrapping;
  texture.generateMipmaps = true;
  texture.minFilter = LinearMipmapLinearFilter;
  texture.magFilter = LinearFilter;
  texture.anisotropy = 4;
  return texture;
}

function put(data: Uint8Array, slice: number, map: RawMap | null, plain: Rgb): void {
  const start = slice * SIDE * SIDE * 4;
  for (let i = 0; i < SIDE * SIDE; i++) {
    const row = map ? Math.floor((Math.floor(i / SIDE) * map.rows) / SIDE) : 0;
    const col = map ? Math.floor(((i % SIDE) * map.cols) / SIDE) : 0;
    const at = map ? (row * map.cols + col) * 3 : 0;
    for (let k = 0; k < 3; k++) data[start + i * 4 + k] = map ? (map.values[at + k] ?? 0) : (plain[k] ?? 0);
    data[start + i * 4 + 3] = 255;
  }
}

/** Textures of everything worn and the weights that were fetched, ready for the relief. */
export async function nearGround(
  state: ProjectState,
  worn: Worn[],
  weights: RawMap[],
  signal: AbortSignal,
): Promise<NearGround> {
  const count = worn.length;
  const albedo = new Uint8Array(SIDE * SIDE * 4 * count);
  const normal = new Uint8Array(SIDE * SIDE * 4 * count);
  const parts = await Promise.all(
    worn.map((one) =>
      one.look
        ? Promise.all([
            fetchLook(state.id, one.look, "albedo", SIDE, signal),
            fetchLook(state.id, one.look, "normal", SIDE, signal),
          ])
        : null,
    ),
  );
  worn.forEach((one, i) => {
    put(albedo, i, parts[i]?.[0] ?? null, rgb(one.colour));
    put(normal, i, parts[i]?.[1] ?? null, [128, 128, 255]);
  });
  const [first] = weights;
  const rows = first?.rows ?? 2;
  const cols = first?.cols ?? 2;
  const slices = Math.max(1, Math.ceil(count / 4));
  const shares = new Uint8Array(rows * cols * 4 * slices);
  weights.forEach((map, layer) => {
    const start = Math.floor(layer / 4) * rows * cols * 4 + (layer % 4);
    for (let i = 0; i < rows * cols; i++) shares[start + i * 4] = map.values[i] ?? 0;
  });
  const made = {
    albedo: repeated(array(SIDE, SIDE, count, albedo)),
    normal: repeated(array(SIDE, SIDE, count, normal)),
    weights: array(cols, rows, slices, shares),
  };
  made.albedo.colorSpace = SRGBColorSpace;
  made.weights.minFilter = made.weights.magFilter = LinearFilter;
  const filled = (size: number, value: (one: Worn) => number[]) => {
    const out = new Float32Array(MOST_NEAR * size);
    worn.forEach((one, i) => out.set(value(one), i * size));
    return out;
  };
  return {
    ...made,
    sizes: filled(1, (one) => [one.size]),
    turns: filled(2, (one) => [Math.cos((one.turn * Math.PI) / 180), Math.sin((one.turn * Math.PI) / 180)]),
    tints: filled(3, (one) => one.tint),
    count,
    key: "",
  };
}

/** A texture of one sample, for while there is nothing else. */
export function emptyArray(): DataArrayTexture {
  const texture = array(1, 1, 1, new Uint8Array(4));
  texture.minFilter = texture.magFilter = NearestFilter;
  return texture;
}

export function letGo(near: NearGround | null): void {
  for (const texture of [near?.albedo, near?.normal, near?.weights] as (Texture | undefined)[]) texture?.dispose();
}
