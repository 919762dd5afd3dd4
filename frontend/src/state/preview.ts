import { fetchPreview, type RawMap } from "../api/maps";
import { Problem } from "../api/client";
import type { Operation } from "../api/types";
import { TAB } from "./document";

type Listener = (map: RawMap | null) => void;

/**
 * Maps of unsaved slider positions. One request at a time and always the newest position next; the server stops an
 * older one at its next tile. Results go straight to whoever paints, not through React.
 */
class Previews {
  private listeners = new Set<Listener>();
  private sequence = 0;
  private running = false;
  private wanted: { project: string; map: string; operations: Operation[] } | null = null;
  current: RawMap | null = null;

  listen(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  ask(project: string, map: string, operations: Operation[]): void {
    this.wanted = { project, map, operations };
    if (!this.running) void this.run();
  }

  /** Forget the preview: what is saved is shown again. */
  clear(): void {
    this.sequence += 1;
    this.wanted = null;
    if (this.current) {
      this.current = null;
      this.listeners.forEach((listener) => listener(null));
    }
  }

  private async run(): Promise<void> {
    this.running = true;
    while (this.wanted) {
      const { project, map, operations } = this.wanted;
      this.wanted = null;
      const mine = ++this.sequence;
      try {
        const result = await fetchPreview(project, {
          tab: TAB,
          slot: "view",
          sequence: mine,
          operations,
          map,
        });
        if (mine === this.sequence) {
          this.current = result;
          this.listeners.forEach((listener) => listener(result));
        }
      } catch (error) {
        // A position that cannot be evaluated (crossed edges, superseded) shows nothing new; saving it says why.
        if (!(error instanceof Problem)) throw error;
      }
    }
    this.running = false;
  }
}

export const previews = new Previews();
