import { fetchPoints, type Points } from "../api/maps";
import { Problem } from "../api/client";
import type { Operation } from "../api/types";
import { TAB } from "../document/document";

type Listener = () => void;

/** Points of what is scattered while one of its numbers moves; an older request ends when a newer one goes out. */
class PointPreviews {
  private listeners = new Set<Listener>();
  private sequence = 0;
  private underWay: AbortController | null = null;
  private next: (() => void) | null = null;
  current: { scatter: string; points: Points } | null = null;

  listen = (listener: Listener): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = () => this.current;

  ask(project: string, scatter: string, operations: Operation[]): void {
    const send = () => {
      this.next = null;
      const mine = new AbortController();
      this.underWay = mine;
      const body = { tab: TAB, slot: "points", sequence: ++this.sequence, operations };
      fetchPoints(project, scatter, body, mine.signal)
        .then((points) => this.underWay === mine && this.show({ scatter, points }))
        .catch((error: unknown) => {
          // What cannot be scattered shows nothing new; saving it says why.
          if (!(error instanceof Problem) && !mine.signal.aborted) reportError(error);
        })
        .finally(() => {
          if (this.underWay !== mine) return;
          this.underWay = null;
          this.next?.();
        });
    };
    // The one under way is let finish: aborted with every movement, none would ever arrive.
    if (this.underWay) this.next = send;
    else send();
  }

  clear(): void {
    this.next = null;
    this.underWay?.abort();
    this.underWay = null;
    this.show(null);
  }

  private show(current: PointPreviews["current"]): void {
    if (current === this.current) return;
    this.current = current;
    this.listeners.forEach((listener) => listener());
  }
}

export const pointPreviews = new PointPreviews();
