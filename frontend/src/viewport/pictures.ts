import { readName, type MapText } from "../api/mapNames";
import { fetchMap, isFit, type RawMap } from "../api/maps";
import { sentence } from "../api/client";
import type { ProjectState, Reading } from "../api/types";
import { previews, type Previews } from "./preview";
import type { Subject } from "./subjects/subject";
import { fitted } from "./fitted";
import { paint } from "./subjects/register";
import type { Picture } from "./imaging";
import type { PaintOptions } from "./overlays";
import { needs } from "./subjects/register";

export interface Wanted {
  state: ProjectState;
  subject: Subject;
  readings: Reading[];
  options: PaintOptions;
  /** Samples on the longer side; the overview when left out. */
  size?: number;
  /** Whether that window is one of the delivered grid. */
  final?: boolean;
  /** A window of the home grid instead of the overview. */
  window?: string;
  /** When it is no longer wanted; what is fetched for it alone ends, here and on the server. */
  signal?: AbortSignal;
}

interface Held {
  stamp: string;
  map: RawMap;
}

/** A map that is being fetched, for how many, and how to end that. */
interface Fetching {
  map: Promise<RawMap>;
  wanted: number;
  stop: AbortController;
}

const MOST_BYTES = 256 * 1024 * 1024;

/** Maps by project, name and size, each with the stamp of what it was made from. Least recently used go first. */
class MapStore {
  private held = new Map<string, Held>();
  private drafts = new Map<string, Held>();
  private running = new Map<string, Fetching>();
  private listeners = new Set<() => void>();

  private place(wanted: Wanted, name: MapText): string {
    return `${wanted.state.id}|${name}|${wanted.size ?? ""}|${wanted.window ?? ""}|${wanted.final ? "final" : ""}`;
  }

  /** Readings, masks and stages of the ground are known by their content, everything else by the revision. */
  private stamp(wanted: Wanted, name: MapText): string {
    const { state } = wanted;
    if (isFit(name)) return name;
    const map = readName(name);
    const own =
      map?.kind === "reading"
        ? state.readings.find((item) => item.name === map.reading)?.key
        : map?.kind === "mask" && map.lines === undefined
          ? state.mask_keys[map.mask]
          : map?.kind === "finding"
            ? state.ground_key
            : undefined;
    return own ?? String(state.revision);
  }

  get(wanted: Wanted, name: MapText): RawMap | null {
    const place = this.place(wanted, name);
    const found = this.held.get(place);
    if (!found || found.stamp !== this.stamp(wanted, name)) return null;
    this.held.delete(place);
    this.held.set(place, found);
    return found.map;
  }

  /** A fit check ran again: its pictures are new under the same name. */
  forgetFits(): void {
    for (const place of this.held.keys()) if (place.includes("|fit:")) this.held.delete(place);
  }

  async load(wanted: Wanted, name: MapText): Promise<RawMap> {
    const have = this.get(wanted, name);
    if (have) return have;
    const place = this.place(wanted, name);
    const stamp = this.stamp(wanted, name);
    const run = `${place}|${stamp}`;
    let running = this.running.get(run);
    if (!running || running.stop.signal.aborted) {
      const stop = new AbortController();
      const made: Fetching = { map: this.fetch(wanted, name, place, stamp, stop.signal), wanted: 0, stop };
      const done = () => this.running.get(run) === made && this.running.delete(run);
      made.map.then(done, done);
      this.running.set(run, (running = made));
    }
    const map = await this.awaited(running, wanted.signal);
    this.held.set(place, { stamp, map });
    this.trim();
    return map;
  }

  /** What is fetched, for one more; the fetching ends when all who waited have left. */
  private awaited(running: Fetching, signal: AbortSignal | undefined): Promise<RawMap> {
    running.wanted += 1;
    const left = () => {
      running.wanted -= 1;
      // Who leaves for a newer state often wants the same again at once.
      queueMicrotask(() => running.wanted === 0 && running.stop.abort());
    };
    if (signal?.aborted) left();
    signal?.addEventListener("abort", left, { once: true });
    return running.map.finally(() => signal?.removeEventListener("abort", left));
  }

  /** The map; where it takes long to make, a draft is held and told of first. */
  private async fetch(
    wanted: Wanted,
    name: MapText,
    place: string,
    stamp: string,
    signal: AbortSignal,
  ): Promise<RawMap> {
    const options = {
      ...(wanted.size ? { size: wanted.size, rank: "small" as const } : {}),
      ...(wanted.window ? { window: wanted.window } : {}),
      ...(wanted.window && wanted.final ? { final: true } : {}),
      signal,
    };
    if (wanted.window || isFit(name)) return fetchMap(wanted.state.id, name, options);
    const first = await fetchMap(wanted.state.id, name, { ...options, draft: true });
    if (!first.draft) return first;
    this.drafts.set(place, { stamp, map: first });
    this.listeners.forEach((listener) => listener());
    try {
      return await fetchMap(wanted.state.id, name, wanted.size ? { ...options, rank: "long" } : options);
    } finally {
      this.drafts.delete(place);
    }
  }

  /** The map, or what stands in for it until it is made. */
  any(wanted: Wanted, name: MapText): RawMap | null {
    const have = this.get(wanted, name);
    if (have) return have;
    const draft = this.drafts.get(this.place(wanted, name));
    return draft?.stamp === this.stamp(wanted, name) ? draft.map : null;
  }

  /** Told when a draft has arrived. */
  listen(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  private trim(): void {
    let bytes = 0;
    for (const { map } of this.held.values()) bytes += map.values.byteLength;
    for (const [place, { map }] of this.held) {
      if (bytes <= MOST_BYTES || this.held.size <= 8) return;
      bytes -= map.values.byteLength;
      this.held.delete(place);
    }
  }
}

export const mapStore = new MapStore();

export interface PictureState {
  picture: Picture | null;
  /** What the picture is of: until another one is there, the old one keeps its name. */
  of: Subject | null;
  /** Whether what is shown is older than the project. */
  updating: boolean;
  /** Whether it was measured on a much smaller ground, until the real one is ready. */
  draft: boolean;
  /** Samples of the work on the whole ground that it hangs on, where these are fewer than the ground's. */
  coarser: string | null;
  trouble: string | null;
  version: number;
}

/** Keeps one picture up to date with the project, the subject and unsaved previews. */
export class PictureMaker {
  private wanted: Wanted | null = null;
  private listeners = new Set<() => void>();
  private stop: (() => void) | null = null;
  /** The last picture of what is saved. */
  private painted: { wanted: Wanted; picture: Picture } | null = null;

  /** `live`: where maps of unsaved positions come from. */
  constructor(private readonly live: Previews = previews) {}

  state: PictureState = {
    picture: null,
    of: null,
    updating: true,
    draft: false,
    coarser: null,
    trouble: null,
    version: 0,
  };

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    if (!this.stop) {
      const ends = [this.live.listen(() => this.paint()), mapStore.listen(() => this.paint())];
      this.stop = () => ends.forEach((end) => end());
    }
    return () => {
      this.listeners.delete(listener);
      if (this.listeners.size === 0) {
        this.stop?.();
        this.stop = null;
      }
    };
  };

  snapshot = (): PictureState => this.state;

  want(wanted: Wanted): void {
    this.wanted = wanted;
    if (this.paint()) return;
    this.put({ updating: true, trouble: null });
    const names = needs(wanted.subject, wanted.options.backdrop);
    Promise.all(names.map((name) => mapStore.load(wanted, name))).then(
      () => {
        if (this.wanted === wanted) this.paint();
      },
      (error: unknown) => {
        if (this.wanted === wanted && !wanted.signal?.aborted) this.put({ updating: false, trouble: sentence(error) });
      },
    );
  }

  /** Ask once more for what was stopped or failed. */
  again(): void {
    if (this.wanted) this.want({ ...this.wanted });
  }

  /** Paint if every map is there; previews stand in for the maps of unsaved positions. */
  private paint(): boolean {
    const wanted = this.wanted;
    if (!wanted) return false;
    const names = needs(wanted.subject, wanted.options.backdrop);
    const { current } = this.live;
    const live =
      current && names.some((name) => name === current.name) && !wanted.size && !wanted.window ? current : null;
    const saved = new Map<MapText, RawMap>();
    for (const name of names) {
      const map = live?.name === name && !live.window ? live : mapStore.any(wanted, name);
      if (!map) return false;
      saved.set(name, map);
    }
    const rough = [...saved.values()].some((map) => map.draft);
    const picture = live ? this.moving(wanted, saved, live) : this.still(wanted, saved);
    const coarser = [...saved.values()].find((map) => map.coarser)?.coarser ?? null;
    this.put({ picture, of: wanted.subject, updating: rough, draft: rough, coarser, trouble: null });
    return !rough;
  }

  private still(wanted: Wanted, maps: Map<MapText, RawMap>): Picture {
    const picture = painted(wanted, (name) => maps.get(name));
    this.painted = { wanted, picture };
    return picture;
  }

  /** All maps at the size of the moving one; where only a part moves, that part over what is saved. */
  private moving(wanted: Wanted, saved: Map<MapText, RawMap>, live: RawMap): Picture {
    const whole = (name: MapText) => wanted.options.whole?.(name) ?? saved.get(name) ?? null;
    const made = painted({ ...wanted, options: { ...wanted.options, whole } }, (name) => {
      const map = saved.get(name);
      return name === live.name ? live : map && fitted(map, live);
    });
    const image = made.panels[0]?.image;
    if (!live.window || !image) return made;
    const { row0, col0 } = live.window;
    const under = this.painted?.wanted === wanted ? this.painted.picture : this.still(wanted, saved);
    return { ...under, moving: { image, row0, col0, grid: live.grid } };
  }

  private put(part: Partial<PictureState>): void {
    this.state = { ...this.state, ...part, version: this.state.version + 1 };
    this.listeners.forEach((listener) => listener());
  }
}

function painted({ subject, state, readings, options }: Wanted, maps: (name: MapText) => RawMap | undefined): Picture {
  const found = (name: MapText): RawMap => {
    const map = maps(name);
    if (!map) throw new Error(`The picture was painted without ${name}.`);
    return map;
  };
  return paint(subject, { maps: found, state, readings, options });
}
