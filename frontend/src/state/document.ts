import { create } from "zustand";
import { ask, client, Problem, sentence, type Schemas } from "../api/client";
import type { Operation, ProjectState } from "../api/types";
import { partly } from "./partly";
import { rebased } from "./rebase";

/** This tab, told to the server with every edit. */
export const TAB = crypto.randomUUID();

/** Edits that could not be made because the project changed elsewhere. They are kept until the artist decides. */
export interface Conflict {
  project: string;
  operations: Operation[];
  /** The document that they were made on. */
  made: ProjectState["document"];
  what: string;
  since: string[];
}

interface EditOptions {
  merge?: string;
  what?: string;
  made?: ProjectState["document"];
}

interface DocumentStore {
  state: ProjectState | null;
  saving: number;
  trouble: string | null;
  conflict: Conflict | null;
  open: (id: string) => Promise<void>;
  close: () => void;
  refresh: () => Promise<void>;
  /** `made`: the document that they were made on; without it the one that is shown. */
  edit: (operations: Operation[], options?: EditOptions) => Promise<boolean>;
  /** Another heightmap under the project; resolves to what went wrong, in a sentence, or null. */
  replaceHeightmap: (source: Schemas["FileLayout"], keep: "extent" | "spacing") => Promise<string | null>;
  /** Masks, pieces and readings of a kit; resolves to what went wrong, in a sentence, or null. */
  useKit: (kit: string, rescale: boolean) => Promise<string | null>;
  step: (way: "undo" | "redo") => Promise<void>;
  resolve: (mine: boolean) => Promise<void>;
  tell: (trouble: string | null) => void;
}

/**
 * What is under way for one project: everything goes out one after the other, each on the revision that the one before
 * it made, beginning with the one that was looked at. Another project has a queue of its own.
 */
interface Queue {
  project: string;
  name: string;
  /** Resolves to the state after all that was sent so far. */
  head: Promise<ProjectState>;
  waiting: number;
}

let queue: Queue | null = null;
let opening = 0;

type Put = (part: Partial<DocumentStore>) => void;
type Get = () => DocumentStore;

/** Show a project's newest state, if it is the one that is open; an answer that comes late shows nothing. */
function arrived(get: Get, set: Put, state: ProjectState): void {
  if (get().state?.id === state.id) set({ state, trouble: null });
}

/**
 * Send something that makes a revision, in its turn. Project and base are those of now, whatever is open when the turn
 * comes. Resolves to the new state; rejects with what went wrong, and the queue goes on.
 */
function inTurn(get: Get, set: Put, send: (project: string, base: ProjectState) => Promise<ProjectState>) {
  const mine = queue;
  if (!mine) return null;
  mine.waiting += 1;
  set({ saving: get().saving + 1 });
  const run = mine.head.then(async (base) => {
    try {
      return await send(mine.project, base);
    } finally {
      mine.waiting -= 1;
      set({ saving: get().saving - 1 });
    }
  });
  const before = mine.head;
  mine.head = run.catch(() => before);
  return run.then((state) => {
    arrived(get, set, state);
    return state;
  });
}

/** Something else than operations that makes a revision; resolves to what went wrong, in a sentence, or null. */
async function saved(
  get: Get,
  set: Put,
  send: (project: string, base: number) => Parameters<typeof ask<ProjectState>>[0],
): Promise<string | null> {
  try {
    await inTurn(get, set, (project, base) => ask(send(project, base.revision)));
    return null;
  } catch (error) {
    return sentence(error);
  }
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
  await queue?.head;
}

/** What went wrong with an edit, told of the project it was for. */
function toldOf(get: Get, project: { id: string; name: string }, text: string): string {
  return get().state?.id === project.id ? text : `${project.name}: ${text}`;
}

export const useDocument = create<DocumentStore>((set, get) => ({
  state: null,
  saving: 0,
  trouble: null,
  conflict: null,

  async open(id) {
    const mine = ++opening;
    queue = null;
    set({ state: null, conflict: null, trouble: null });
    const state = await ask(client.GET("/api/projects/{project_id}", { params: { path: { project_id: id } } }));
    // Another project was opened, or this one left, while the answer was on its way.
    if (mine !== opening) return;
    queue = { project: id, name: state.document.name, head: Promise.resolve(state), waiting: 0 };
    set({ state });
  },

  close: () => {
    opening += 1;
    queue = null;
    set({ state: null, conflict: null });
  },

  async refresh() {
    const now = get().state;
    const mine = queue;
    if (!now || !mine) return;
    try {
      const state = await ask(client.GET("/api/projects/{project_id}", { params: { path: { project_id: now.id } } }));
      // While edits wait for their turn the newest state is none that they were made on: their answers show it.
      if (mine !== queue || mine.waiting > 0 || state.revision <= (get().state?.revision ?? 0)) return;
      mine.head = Promise.resolve(state);
      arrived(get, set, state);
    } catch (error) {
      if (mine === queue) set({ trouble: sentence(error) });
    }
  },

  edit: async (operations, options = {}) => {
    const joins = joinsLast(options.merge ?? "");
    const now = queue;
    const made = options.made ?? get().state?.document;
    if (!made) return false;
    const turn = inTurn(get, set, (project, base) => {
      const laid = operations.map((operation) => rebased(operation, made, base.document));
      return ask(
        client.POST("/api/projects/{project_id}/edits", {
          params: { path: { project_id: project } },
          body: { base: base.revision, tab: TAB, merge: options.merge ?? "", joins, operations: laid },
        }),
      );
    });
    if (!turn || !now) return false;
    try {
      await turn;
      return true;
    } catch (error) {
      const what = options.what ?? "your change";
      if (error instanceof Problem && error.code === "stale-edit" && get().state?.id === now.project) {
        // Those that waited behind it were made on it: they are kept together, in their order.
        const before = get().conflict;
        set({
          conflict: {
            project: now.project,
            operations: [...(before?.operations ?? []), ...operations],
            made: before?.made ?? made,
            what: before && before.what !== what ? `${before.what}, ${what}` : what,
            since: error.since,
          },
        });
      } else {
        set({ trouble: toldOf(get, { id: now.project, name: now.name }, sentence(error)) });
      }
      return false;
    }
  },

  replaceHeightmap: (source, keep) =>
    saved(get, set, (project, base) =>
      client.POST("/api/projects/{project_id}/replace", {
        params: { path: { project_id: project } },
        body: { base, tab: TAB, source, keep },
      }),
    ),

  useKit: (kit, rescale) =>
    saved(get, set, (project, base) =>
      client.POST("/api/projects/{project_id}/kits/{kit_id}", {
        params: { path: { project_id: project, kit_id: kit } },
        body: { base, tab: TAB, rescale },
      }),
    ),

  step: async (way) => {
    const now = queue;
    const turn = inTurn(get, set, (project, base) => {
      const path = way === "undo" ? "/api/projects/{project_id}/undo" : "/api/projects/{project_id}/redo";
      return ask(client.POST(path, { params: { path: { project_id: project } }, body: { base: base.revision } }));
    });
    try {
      await turn;
    } catch (error) {
      // Nothing left to take back is no trouble: keys are pressed once too often.
      if (error instanceof Problem && error.code === "conflict") return;
      if (now) set({ trouble: toldOf(get, { id: now.project, name: now.name }, sentence(error)) });
      await get().refresh();
    }
  },

  async resolve(mine) {
    const conflict = get().conflict;
    set({ conflict: null });
    await get().refresh();
    if (mine && conflict && get().state?.id === conflict.project)
      await get().edit(conflict.operations, { what: conflict.what, made: conflict.made });
  },

  tell: (trouble) => set({ trouble }),
}));

export const useDocumentParts = partly(useDocument);

/** The open project; only below a page that has made sure of it. */
export function useProject(): ProjectState {
  const state = useDocument((store) => store.state);
  if (!state) throw new Error("No project is open here.");
  return state;
}

export function newId(prefix: string): string {
  return `${prefix}-${crypto.randomUUID().slice(0, 8)}`;
}
