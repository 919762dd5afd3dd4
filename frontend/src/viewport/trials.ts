import type { MapText } from "../api/mapNames";
import { fetchMap, fetchPoints, fetchPreview } from "../api/maps";
import type { Operation, ProjectState } from "../api/types";
import { TAB } from "../document/document";
import type { Subject } from "./subjects/subject";
import { busiest, type Part } from "./busiest";
import { paintDots } from "./ScatterDots";
import { paint } from "./subjects/register";

const SIDE = 129;
/** So many samples across a trial picture shows: from afar one seed looks like another. */
const NEAR = 96;
/** Samples on the longer side of the smaller ground on which long work is tried. */
const DRAFT = 513;
let sequence = 0;

/** How many requests for trial pictures are under way at once: there are two cores, and the view wants one of them. */
const AT_ONCE = 2;
let running = 0;
const waiting: (() => void)[] = [];

async function inTurn<T>(signal: AbortSignal, work: () => Promise<T>): Promise<T> {
  if (running >= AT_ONCE) await new Promise<void>((go) => waiting.push(go));
  running += 1;
  try {
    signal.throwIfAborted();
    return await work();
  } finally {
    running -= 1;
    waiting.shift()?.();
  }
}

let looked: { key: string; part: Promise<Part> } | null = null;

/** Where the saved map differs most; asked for once for all eight. */
function placeOf(state: ProjectState, trial: Trial): Promise<Part> {
  const key = [state.id, state.revision, trial.map, trial.draft].join();
  if (looked?.key !== key) {
    const long = Math.max(state.view.rows, state.view.cols);
    const share = Math.min(NEAR / (trial.draft ? Math.min(long, DRAFT) : long), 1);
    const part = fetchMap(state.id, trial.map, { size: SIDE, draft: trial.draft ?? false, rank: "small" }).then((map) =>
      busiest(map, share),
    );
    const mine = (looked = { key, part });
    part.catch(() => {
      if (looked === mine) looked = null;
    });
  }
  return looked.part;
}

export interface Trial {
  operations: Operation[];
  /** The map that is looked at, and the subject that says how it is painted. */
  map: MapText;
  subject: Subject;
  /** Whether it is measured on a smaller ground, because it takes long. */
  draft?: boolean;
}

/** A near picture of a map, where it differs most, as it would be after operations that are not saved. */
export function trialPicture(state: ProjectState, trial: Trial, slot: number, signal: AbortSignal): Promise<ImageData> {
  return inTurn(signal, async () => {
    const body = {
      tab: TAB,
      slot: `try${slot}`,
      sequence: ++sequence,
      operations: trial.operations,
      map: trial.map,
      draft: trial.draft ?? false,
      part: await placeOf(state, trial),
    };
    const map = await fetchPreview(state.id, body, signal);
    const picture = paint(trial.subject, {
      maps: () => map,
      state,
      readings: state.readings,
      options: { tint: 1, water: false, lift: true },
    });
    const image = picture.panels[0]?.image;
    if (!image) throw new Error("A trial picture has nothing to show.");
    return image;
  });
}

/** A small picture of scattered points as they would be after operations that are not saved. */
export function trialPoints(
  state: ProjectState,
  scatter: { id: string; colour: string; operations: Operation[] },
  slot: number,
  signal: AbortSignal,
): Promise<ImageData> {
  return inTurn(signal, async () => {
    const body = { tab: TAB, slot: `try${slot}`, sequence: ++sequence, operations: scatter.operations };
    const points = await fetchPoints(state.id, scatter.id, body, signal);
    const { view } = state;
    const image = new ImageData(SIDE, Math.max(Math.round((SIDE * view.length) / view.width), 1));
    new Uint32Array(image.data.buffer).fill(0xff73716f);
    const zoom = 4;
    paintDots(image, points.values, scatter.colour, view, { x: 0.5, y: 0.5, zoom }, (SIDE / view.width) * zoom);
    return image;
  });
}
