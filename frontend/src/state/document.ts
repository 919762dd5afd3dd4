import { create } from "zustand";
import { ask, client, Problem, sentence, type Schemas } from "../api/client";
import type { Operation, ProjectState } from "../api/types";

/** This tab, told to the server with every edit. */
export const TAB = crypto.randomUUID();

/** An edit that could not be made because the project changed elsewhere. It is kept until the artist decides. */
export interface Conflict {
  operations: Operation[];
  what: string;
  since: string[];
}

interface DocumentStore {
  state: ProjectState | null;
  saving: number;
  trouble: string | null;
  conflict: Conflict | null;
  open: (id: string) => Promise<void>;
  close: () => void;
  refresh: () => Promise<void>;
  edit: (operations: Operation[], options?: { merge?: string; what?: string }) => Promise<boolean>;
  /** Another heightmap under the project; resolves to what went wrong, in a sentence, or null. */
  replaceHeightmap: (source: Schemas["FileLayout"], keep: "extent" | "spacing") => Promise<string | null>;
  /** Masks, pieces and readings of a kit; resolves to what went wrong, in a sentence, or null. */
  useKit: (kit: string, rescale: boolean) => Promise<string | null>;
  step: (way: "undo" | "redo") => Promise<void>;
  resolve: (mine: boolean) => Promise<void>;
  tell: (trouble: string | null) => void;
}

let queue: Promise<unknown> = Promise.resolve();

/** Edits go out one after the other, each on the revision that the one before it made. */
function queued<T>(work: () => Promise<T>): Promise<T> {
  const next = queue.then(work, work);
  queue = next.catch(() => undefined);
  return next;
}

/** Something else than operations that makes a revision; resolves to what went wrong, in a sentence, or null. */
function saved(
  get: () => DocumentStore,
  set: (part: Partial<DocumentStore>) => void,
  send: (now: ProjectState) => Parameters<typeof ask<ProjectState>>[0],
): Promise<string | null> {
  return queued(async () => {
    const now = get().state;
    if (!now) return null;
    set({ saving: get().saving + 1 });
    try {
      set({ state: await ask(send(now)), trouble: null });
      return null;
    } catch (error) {
      return sentence(error);
    } finally {
      set({ saving: get().saving - 1 });
    }
  });
}

const JOIN_WITHIN = 1000;
let lastStep = { merge: "", at: 0 };

/** Whether a key step was made within a second of the one before it on the same token, however long saving takes. */
function joinsLast(merge: string): boolean {
  const at = performance.now();
  const joins = merge !== "" && merge === lastStep.merge && at - lastStep.at < JOIN_WITHIN;
  lastStep = { merge, at };
  return joins;
}

/** Resolves when every edit made so far has been answered: what runs on the saved project waits for it. */
export async function settled(): Promise<void> {
  await queue;
}

export const useDocument = create<DocumentStore>((set, get) => ({
  state: null,
  saving: 0,
  trouble: null,
  conflict: null,

  async open(id) {
    set({ state: null, conflict: null, trouble: null });
    const state = await ask(client.GET("/api/projects/{project_id}", { params: { path: { project_id: id } } }));
    set({ state });
  },

  close: () => set({ state: null, conflict: null }),

  async refresh() {
    const now = get().state;
    if (!now) return;
    try {
      const state = await ask(client.GET("/api/projects/{project_id}", { params: { path: { project_id: now.id } } }));
      if (get().state?.id === state.id && state.revision > (get().state?.revision ?? 0)) set({ state });
    } catch (error) {
      set({ trouble: sentence(error) });
    }
  },

  edit: (operations, options = {}) => {
    const joins = joinsLast(options.merge ?? "");
    return queued(async () => {
      const now = get().state;
      if (!now) return false;
      set({ saving: get().saving + 1 });
      try {
        const state = await ask(
          client.POST("/api/projects/{project_id}/edits", {
            params: { path: { project_id: now.id } },
            body: { base: now.revision, tab: TAB, merge: options.merge ?? "", joins, operations },
          }),
        );
        set({ state, trouble: null });
        return true;
      } catch (error) {
        if (error instanceof Problem && error.code === "stale-edit") {
          set({ conflict: { operations, what: options.what ?? "your change", since: error.since } });
        } else {
          set({ trouble: sentence(error) });
        }
        return false;
      } finally {
        set({ saving: get().saving - 1 });
      }
    });
  },

  replaceHeightmap: (source, keep) =>
    saved(get, set, (now) =>
      client.POST("/api/projects/{project_id}/replace", {
        params: { path: { project_id: now.id } },
        body: { base: now.revision, tab: TAB, source, keep },
      }),
    ),

  useKit: (kit, rescale) =>
    saved(get, set, (now) =>
      client.POST("/api/projects/{project_id}/kits/{kit_id}", {
        params: { path: { project_id: now.id, kit_id: kit } },
        body: { base: now.revision, tab: TAB, rescale },
      }),
    ),

  step: (way) =>
    queued(async () => {
      const now = get().state;
      if (!now || (way === "undo" ? now.undo : now.redo) === null) return;
      set({ saving: get().saving + 1 });
      try {
        const path = way === "undo" ? "/api/projects/{project_id}/undo" : "/api/projects/{project_id}/redo";
        set({
          state: await ask(client.POST(path, { params: { path: { project_id: now.id } } })),
          trouble: null,
        });
      } catch (error) {
        set({ trouble: sentence(error) });
      } finally {
        set({ saving: get().saving - 1 });
      }
    }),

  async resolve(mine) {
    const conflict = get().conflict;
    await get().refresh();
    set({ conflict: null });
    if (mine && conflict) await get().edit(conflict.operations, { what: conflict.what });
  },

  tell: (trouble) => set({ trouble }),
}));

/** The open project; only below a page that has made sure of it. */
export function useProject(): ProjectState {
  const state = useDocument((store) => store.state);
  if (!state) throw new Error("No project is open here.");
  return state;
}

export function newId(prefix: string): string {
  return `${prefix}-${crypto.randomUUID().slice(0, 8)}`;
}
