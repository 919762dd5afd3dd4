import { heard } from "./alive";
import { Problem, token, unreachable } from "./client";
import { inLane, type Rank } from "./lanes";
import { named, type MapText } from "./mapNames";
import type { GridInfo, Operation } from "./types";

export type FitPart = "rebuilt" | "meant" | "difference";

/** The name of a picture of a fit check among all maps: of the pages alone, as its arrays lie beside a delivery. */
export const fitMap = (delivery: number, map: string, part: FitPart) => `fit:${delivery}:${map}-${part}` as MapText;

/** Which delivery and which picture a name of a fit check is of; null for all other maps. */
function fitOf(name: string): { delivery: string; picture: string } | null {
  const [kind, delivery = "", picture = ""] = name.split(":");
  return kind === "fit" ? { delivery, picture } : null;
}

export const isFit = (name: string): boolean => fitOf(name) !== null;

/** A map as it comes from the server: typed samples, row 0 north. */
export interface RawMap {
  name: string;
  rows: number;
  cols: number;
  channels: number;
  values: Float32Array | Uint8Array;
  grid: GridInfo;
  key: string;
  /** Mean over the reference grid, where the server says it. */
  mean: number | null;
  /** Measured on a much smaller ground, until the real one is ready. */
  draft: boolean;
  /** Which part of its grid it is; left out: all of it. */
  window?: { row0: number; row1: number; col0: number; col1: number };
  /** Samples of the work on the whole ground that it hangs on, where these are fewer than the ground's. */
  coarser?: string;
  /** Worked out as large as the screen shows it, while the hand moves. */
  moving?: boolean;
}

/** The answer of a request, or a problem when nobody answers; an abort stays one. */
async function answered(ask: () => Promise<Response>, signal?: AbortSignal): Promise<Response> {
  try {
    for (;;) {
      const response = await ask();
      heard(response);
      // So much is asked for that it had better come again.
      if (response.status !== 503) return response;
      await new Promise((done) => setTimeout(done, 1000));
      signal?.throwIfAborted();
    }
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw unreachable();
  }
}

async function decode(name: string, response: Response): Promise<RawMap> {
  if (!response.ok) {
    const body: unknown = await response.json().catch(() => undefined);
    throw new Problem(response.status, body as never);
  }
  const shape = JSON.parse(response.headers.get("X-Map-Shape") ?? "{}") as Pick<RawMap, "rows" | "cols" | "channels">;
  const buffer = await response.arrayBuffer();
  const mean = response.headers.get("X-Map-Mean");
  const coarser = response.headers.get("X-Map-Coarser");
  return {
    name,
    ...shape,
    values: response.headers.get("X-Map-Type") === "f32" ? new Float32Array(buffer) : new Uint8Array(buffer),
    grid: JSON.parse(response.headers.get("X-Map-Grid") ?? "{}") as GridInfo,
    key: response.headers.get("ETag") ?? "",
    mean: mean === null ? null : Number(mean),
    draft: response.headers.get("X-Map-Draft") !== null,
    ...(coarser ? { coarser: coarser.replace("x", " × ") } : {}),
  };
}

/** A saved map, asked for when it is its turn: `rank` is "view" unless it says otherwise. */
export async function fetchMap(
  project: string,
  name: MapText,
  options: {
    size?: number;
    window?: string;
    draft?: boolean;
    final?: boolean;
    rank?: Rank;
    signal?: AbortSignal;
  } = {},
): Promise<RawMap> {
  const query = new URLSearchParams();
  if (options.size) query.set("size", String(options.size));
  if (options.window) query.set("window", options.window);
  if (options.draft) query.set("draft", "true");
  if (options.final) query.set("final", "true");
  const fit = fitOf(name);
  const url = fit
    ? `/api/projects/${project}/deliveries/${fit.delivery}/fit/maps/${fit.picture}`
    : `/api/projects/${project}/maps/${encodeURIComponent(name)}?${query.toString()}`;
  const get = async (signal: AbortSignal) => decode(name, await answered(() => fetch(url, { signal }), signal));
  return inLane(options.rank ?? "view", `${project}/${name}`, get, options.signal);
}

export async function fetchPreview(
  project: string,
  body: {
    tab: string;
    slot: string;
    sequence: number;
    operations: Operation[];
    map: MapText;
    size?: number;
    shown?: number;
    draft?: boolean;
    part?: number[];
  },
  signal: AbortSignal,
): Promise<RawMap> {
  const request = () =>
    fetch(`/api/projects/${project}/preview`, {
      method: "POST",
      body: JSON.stringify(body),
      headers: { "Content-Type": "application/json", "X-CSRFToken": token() },
      signal,
    });
  const response = await answered(request, signal);
  const map = await decode(body.map, response);
  if (!body.shown) return map;
  const [row0 = 0, row1 = 0, col0 = 0, col1 = 0] = JSON.parse(response.headers.get("X-Map-Window") ?? "[]") as number[];
  // The mean of a part is not the mean of the ground.
  const part = body.part ? { window: { row0, row1, col0, col1 }, mean: null } : {};
  return { ...map, ...part, moving: true };
}

/** A look's texture as a square picture of three bytes a sample. */
export async function fetchLook(
  project: string,
  look: string,
  part: "albedo" | "normal",
  side: number,
  signal: AbortSignal,
): Promise<RawMap> {
  const url = `/api/projects/${project}/looks/${encodeURIComponent(look)}/${part}?side=${side}`;
  return decode(named.look(look, part), await answered(() => fetch(url, { signal }), signal));
}

/** A part of a painted map made finer, and beside it the same merely enlarged. */
export async function fetchDetail(
  project: string,
  wanted: { name: string; row: number; col: number; finer: number },
  signal: AbortSignal,
): Promise<RawMap> {
  const query = new URLSearchParams(Object.entries(wanted).map(([name, value]) => [name, String(value)]));
  const url = `/api/projects/${project}/detail?${query.toString()}`;
  return decode("detail", await answered(() => fetch(url, { signal }), signal));
}

/** An aerial image as it is laid, and beside it enlarged plainly; `sample`: metres that one of its samples covers. */
export async function fetchBeside(
  project: string,
  coat: string,
  { row, col, finer }: { row: number; col: number; finer: number | null },
  signal: AbortSignal,
): Promise<RawMap & { sample: number }> {
  const times = finer === null ? "" : `&finer=${finer}`;
  const url = `/api/projects/${project}/coats/${encodeURIComponent(coat)}/beside?row=${row}&col=${col}${times}`;
  const response = await answered(() => fetch(url, { signal }), signal);
  const map = await decode("beside", response);
  return { ...map, sample: Number(response.headers.get("X-Picture-Sample")) };
}

/** Scattered things: rows of east, south, height, size and turn. */
export interface Points {
  values: Float32Array;
  count: number;
  /** How many on 100 m² there is room for, where fewer than wanted. */
  crowded: number | null;
}

export async function readPoints(response: Response): Promise<Points> {
  if (!response.ok) throw new Problem(response.status, (await response.json().catch(() => undefined)) as never);
  const crowded = response.headers.get("X-Crowded");
  const values = new Float32Array(await response.arrayBuffer());
  return { values, count: values.length / 5, crowded: crowded ? Number(crowded) : null };
}

/** Points as they would be after operations that are not saved. */
export async function fetchPoints(
  project: string,
  scatter: string,
  body: { tab: string; slot: string; sequence: number; operations: Operation[] },
  signal: AbortSignal,
): Promise<Points> {
  const request = () =>
    fetch(`/api/projects/${project}/scatters/${scatter}/preview`, {
      method: "POST",
      body: JSON.stringify(body),
      headers: { "Content-Type": "application/json", "X-CSRFToken": token() },
      signal,
    });
  return readPoints(await answered(request, signal));
}
