import type { Operation } from "../api/types";
import type { Bases } from "./rebase";

/** An edit that is not acknowledged yet, with all that is needed to make it later, and by another page. */
export interface Waiting {
  id: string;
  project: string;
  name: string;
  /** The newest revision that was known when it was made. */
  base: number;
  at: number;
  tab: string;
  merge: string;
  joins: boolean;
  what: string;
  operations: Operation[];
  /** What each operation replaces, as it was when it was made. */
  bases: Bases[];
}

const PREFIX = "zigzag.waiting.";
const LOCK = "zigzag.tab.";

/** There is none outside of a browser. */
const store = (): Storage | undefined => globalThis.localStorage as Storage | undefined;
const keysBut = (tab: string) =>
  Object.keys(store() ?? {}).filter((key) => key.startsWith(PREFIX) && key !== PREFIX + tab);

function read(key: string): Waiting[] {
  try {
    const list: unknown = JSON.parse(store()?.getItem(key) ?? "[]");
    return Array.isArray(list) ? (list as Waiting[]) : [];
  } catch {
    return [];
  }
}

/** Edits of one tab, kept in the browser until they are acknowledged: a reload, or the end of the browser, loses none. */
export class WaitingEdits {
  private held: Waiting[];

  constructor(
    private readonly tab: string,
    private readonly full: () => void,
  ) {
    this.held = read(PREFIX + tab);
    // Held as long as this page lives: others see by it whether somebody still takes care of its edits.
    void globalThis.navigator?.locks?.request(LOCK + tab, () => new Promise(() => undefined));
  }

  private keep(): void {
    try {
      if (this.held.length === 0) store()?.removeItem(PREFIX + this.tab);
      else store()?.setItem(PREFIX + this.tab, JSON.stringify(this.held));
    } catch {
      this.full();
    }
  }

  add(edit: Waiting): void {
    this.held.push(edit);
    this.keep();
  }

  done(ids: string[]): void {
    this.held = this.held.filter((edit) => !ids.includes(edit.id));
    this.keep();
  }

  of(project: string): Waiting[] {
    return this.held.filter((edit) => edit.project === project);
  }

  /** Edits of a project whose pages are gone, in the order in which they were made; they are this page's from now on. */
  async adopt(project: string): Promise<Waiting[]> {
    const locks = globalThis.navigator?.locks;
    if (!locks) return [];
    const found: Waiting[] = [];
    for (const key of keysBut(this.tab))
      await locks.request(LOCK + key.slice(PREFIX.length), { ifAvailable: true }, (lock) => {
        // Read while it is held: two pages that open at once do not both take them.
        if (!lock) return;
        const all = read(key);
        const rest = all.filter((edit) => edit.project !== project);
        if (rest.length === all.length) return;
        found.push(...all.filter((edit) => edit.project === project));
        this.held.push(...all.filter((edit) => edit.project === project));
        this.keep();
        if (rest.length > 0) store()?.setItem(key, JSON.stringify(rest));
        else store()?.removeItem(key);
      });
    return found.sort((a, b) => a.at - b.at);
  }

  /** Resolves when no other page has an older edit of the project waiting: what was made first is sent first. */
  async turn(edit: Waiting): Promise<void> {
    for (let looks = 0; looks < 30; looks++) {
      const older = keysBut(this.tab).some((key) =>
        read(key).some((one) => one.project === edit.project && one.at < edit.at),
      );
      if (!older) return;
      await new Promise((done) => setTimeout(done, 100));
    }
  }
}
