import type { MapText } from "../api/mapNames";
import { fetchPreview, type RawMap } from "../api/maps";
import { Problem } from "../api/client";
import type { Operation } from "../api/types";
import { TAB } from "../document/document";

type Listener = (map: RawMap | null) => void;

interface Position {
  project: string;
  map: MapText;
  operations: Operation[];
}

/** How long the hand rests before a request that is under way only stands in the way of the newest position, and before
 * what was made as large as the screen shows it is followed by the exact map. */
const REST_MS = 60;

/** How much of a map is seen: samples on the ground's longer side that the screen can show, and the part in view. */
export interface Seen {
  shown: number;
  /** West, north, east and south as shares of the ground; left out: all of it. */
  part?: number[];
}

/**
 * Maps of unsaved slider positions. Results go straight to whoever paints, not through React.
 *
 * The newest position is sent at once, unless a picture of an earlier one is under way: while the hand moves that one
 * is let finish (aborted at every move, none would ever arrive), and the newest follows it. As soon as the hand rests
 * the earlier request is aborted, here and on the server, and the newest goes out. Whatever becomes of a request, the
 * next one can be sent.
 *
 * Where it is known how much is seen, no more than that is asked for while the hand moves; once it rests, the exact map
 * follows, and gives way when the hand goes on.
 */
class Previews {
  private followers: ((position: Omit<Position, "map"> | null) => void)[] = [];
  private listeners = new Set<Listener>();
  private sequence = 0;
  private underWay: AbortController | null = null;
  private wanted: Position | null = null;
  private rest: ReturnType<typeof setTimeout> | undefined;
  /** Whether what is under way is the exact map of a position that is shown already. */
  private refining = false;
  private seen: (() => Seen | null) | null = null;
  current: RawMap | null = null;

  /** `slot`: what the server knows its requests by; a newer one of the same slot ends an older one. */
  constructor(private readonly slot: string) {}

  /** Told of every position that is asked for, and when what is saved is shown again. */
  alsoTell(follower: (position: Omit<Position, "map"> | null) => void): void {
    this.followers.push(follower);
  }

  listen(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  /** Whoever shows it says how much of it is seen; null: unknown, or all there is. Returns how to leave. */
  seenThrough(seen: () => Seen | null): () => void {
    this.seen = seen;
    return () => {
      if (this.seen === seen) this.seen = null;
    };
  }

  ask(project: string, map: MapText, operations: Operation[]): void {
    this.wanted = { project, map, operations };
    this.followers.forEach((follower) => follower({ project, operations }));
    clearTimeout(this.rest);
    if (!this.underWay || this.refining) this.send();
    else this.rest = setTimeout(() => this.send(), REST_MS);
  }

  /** Forget the preview: what is saved is shown again. */
  clear(): void {
    this.wanted = null;
    this.abort();
    this.followers.forEach((follower) => follower(null));
    this.show(null);
  }

  private abort(): void {
    clearTimeout(this.rest);
    this.underWay?.abort();
    this.underWay = null;
  }

  private send(): void {
    const position = this.wanted;
    if (!position) return;
    this.wanted = null;
    this.request(position, this.seen?.() ?? null, false);
  }

  private request(position: Position, seen: Seen | null, refining: boolean): void {
    this.abort();
    const mine = new AbortController();
    this.underWay = mine;
    this.refining = refining;
    const { project, map, operations } = position;
    const body = { tab: TAB, slot: this.slot, sequence: ++this.sequence, operations, map, ...seen };
    let arrived = false;
    fetchPreview(project, body, mine.signal)
      .then((result) => {
        arrived = this.underWay === mine;
        if (arrived) this.show(result);
      })
      .catch((error: unknown) => {
        // A position that cannot be evaluated (crossed edges, superseded, nobody answers) shows nothing new; saving it
        // says why. Anything else is a mistake of ours and is reported as one.
        if (!(error instanceof Problem) && !mine.signal.aborted) reportError(error);
      })
      .finally(() => {
        if (this.underWay !== mine) return;
        this.underWay = null;
        if (this.wanted) this.send();
        else if (seen && arrived) this.rest = setTimeout(() => this.request(position, null, true), REST_MS);
      });
  }

  private show(map: RawMap | null): void {
    if (map === this.current) return;
    this.current = map;
    this.listeners.forEach((listener) => listener(map));
  }
}

export const previews = new Previews("view");

/** The pinned view: the same unsaved positions, seen in another map. */
class Pins extends Previews {
  private map: MapText | null = null;

  constructor(of: Previews) {
    super("pin");
    of.alsoTell((position) => {
      if (!position) this.clear();
      else if (this.map) this.ask(position.project, this.map, position.operations);
    });
  }

  /** The map that is pinned; null: none. */
  follow(map: MapText | null): void {
    this.map = map;
    if (!map) this.clear();
  }
}

export const pins = new Pins(previews);
export type { Previews };
