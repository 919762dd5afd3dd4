import { create } from "zustand";
import { answersAgain, useAlive } from "../api/alive";
import { ask, client, mayComeLater, Problem, sentence, type Schemas } from "../api/client";
import type { Operation, ProjectState } from "../api/types";
import { after } from "./changes";
import { partly } from "./partly";
import { basesOf, rebased, replaced } from "./rebase";
import { WaitingEdits, type Waiting } from "./waiting";

/** This tab, told to the server with every edit. */
export const TAB = crypto.randomUUID();

/** Edits that could not be made because the project changed elsewhere. They are kept until the artist decides. */
export interface Conflict {
  project: string;
  /** In the order in which they were made; kept in the browser as well, until it is decided. */
  edits: Waiting[];
  what: string;
  since: string[];
  /** Where both changed the same, in words; null where that is not known. */
  both: string[] | null;
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
  replaceHeightmap: (
    source: Schemas["FileLayout"],
    keep: "extent" | "spacing",
    hold: "codes" | "ends",
  ) => Promise<string | null>;
  /** Masks, pieces and readings of a kit; resolves to what went wrong, in a sentence, or null. */
  useKit: (kit: string, rescale: boolean) => Promise<string | null>;
  step: (way: "undo" | "redo") => Promise<void>;
  /** Decide a conflict: make one's own edits on top, or leave them out. */
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
  /** Resolves to what is there after all that was sent so far. */
  head: Promise<Head>;
  waiting: number;
}

/** A state, and the revision that what is sent next is made on: an earlier one where edits waited for their turn. */
interface Head {
  state: ProjectState;
  base: number;
}

const headOf = (state: ProjectState): Head => ({ state, base: state.revision });

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
function inTurn(get: Get, set: Put, send: (project: string, head: Head) => Promise<ProjectState>) {
  const mine = queue;
  if (!mine) return null;
  mine.waiting += 1;
  set({ saving: get().saving + 1 });
  const run = mine.head.then(async (head) => {
    try {
      return await send(mine.project, head);
    } finally {
      mine.waiting -= 1;
      set({ saving: get().saving - 1 });
    }
  });
  const before = mine.head;
  mine.head = run.then(headOf, () => before);
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
    await inTurn(get, set, (project, { base }) => ask(send(project, base)));
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

const BUSY_SECONDS = 1;
const FULL = "The browser keeps no more: until the application answers, changes are lost if this page is closed.";
const waiting = new WaitingEdits(TAB, () => useDocument.getState().tell(FULL));

/** Send an edit until it is answered: sent twice, it is made once. */
async function sent(edit: Waiting, { state, base }: Head): Promise<ProjectState> {
  const operations = edit.operations.map((operation, at) => rebased(operation, edit.bases[at] ?? {}, state.document));
  for (;;) {
    try {
      const change = await ask(
        client.POST("/api/projects/{project_id}/edits", {
          params: { path: { project_id: edit.project } },
          body: { base, tab: edit.tab, merge: edit.merge, joins: edit.joins, id: edit.id, operations },
        }),
      );
      return await after(state, change);
    } catch (error) {
      if (!mayComeLater(error)) throw error;
      if (error instanceof Problem && error.status === 503)
        await new Promise((done) => setTimeout(done, BUSY_SECONDS * 1000));
      else await answersAgain();
      await waiting.turn(edit);
    }
  }
}

/** What is shown while nobody answers: the document with what waits. */
function shownMeanwhile(get: Get, set: Put, edit: Waiting): void {
  const now = get().state;
  if (!useAlive.getState().away || now?.id !== edit.project) return;
  set({ state: { ...now, document: edit.operations.reduce(replaced, now.document) } });
}

/** Put edits into the queue of their project; each resolves to whether it was made. */
function queued(get: Get, set: Put, edit: Waiting): Promise<boolean> {
  const turn = inTurn(get, set, (_, base) => sent(edit, base));
  if (!turn) return Promise.resolve(false);
  shownMeanwhile(get, set, edit);
  const stop = useAlive.subscribe((alive) => alive.away && shownMeanwhile(get, set, edit));
  return turn
    .then(
      () => {
        waiting.done([edit.id]);
        return true;
      },
      (error: unknown) => {
        if (error instanceof Problem && error.code === "stale-edit") conflicting(get, set, edit, error);
        else {
          waiting.done([edit.id]);
          set({ trouble: toldOf(get, { id: edit.project, name: edit.name }, sentence(error)) });
        }
        return false;
      },
    )
    .finally(stop);
}

/** An edit on a state that is no longer the newest. Those that waited behind it were made on it: they are kept together,
 * in their order. Where another project is open, it is asked about when this one is opened again. */
function conflicting(get: Get, set: Put, edit: Waiting, { since, both }: Problem): void {
  if (get().state?.id !== edit.project) return;
  const before = get().conflict;
  set({
    conflict: {
      project: edit.project,
      edits: [...(before?.edits ?? []), edit],
      what: before && before.what !== edit.what ? `${before.what}, ${edit.what}` : edit.what,
      since,
      both: before ? before.both && both && [...new Set([...before.both, ...both])] : both,
    },
  });
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
    const left = [...waiting.of(id), ...(await waiting.adopt(id))].sort((a, b) => a.at - b.at);
    if (mine !== opening) return;
    // What waits was made on an earlier state: where that is not the newest any more, the artist is asked.
    const head = { state, base: left[0]?.base ?? state.revision };
    queue = { project: id, name: state.document.name, head: Promise.resolve(head), waiting: 0 };
    set({ state });
    for (const edit of left) void queued(get, set, edit);
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
      mine.head = Promise.resolve(headOf(state));
      arrived(get, set, state);
    } catch (error) {
      if (mine === queue) set({ trouble: sentence(error) });
    }
  },

  edit: (operations, options = {}) => {
    const joins = joinsLast(options.merge ?? "");
    const now = queue;
    const shown = get().state;
    const made = options.made ?? shown?.document;
    if (!now || !shown || !made) return Promise.resolve(false);
    const edit: Waiting = {
      id: crypto.randomUUID(),
      project: now.project,
      name: now.name,
      base: shown.revision,
      at: Date.now(),
      tab: TAB,
      merge: options.merge ?? "",
      joins,
      what: options.what ?? "your change",
      operations,
      bases: operations.map((operation) => basesOf(operation, made)),
    };
    waiting.add(edit);
    return queued(get, set, edit);
  },

  replaceHeightmap: (source, keep, hold) =>
    saved(get, set, (project, base) =>
      client.POST("/api/projects/{project_id}/replace", {
        params: { path: { project_id: project } },
        body: { base, tab: TAB, source, keep, hold },
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
    const turn = inTurn(get, set, async (project, { state, base }) => {
      const path = way === "undo" ? "/api/projects/{project_id}/undo" : "/api/projects/{project_id}/redo";
      return after(state, await ask(client.POST(path, { params: { path: { project_id: project } }, body: { base } })));
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
    if (!conflict) return;
    if (!mine) waiting.done(conflict.edits.map((edit) => edit.id));
    set({ conflict: null });
    await get().refresh();
    // Another project was opened meanwhile: they are kept, and asked about when this one is opened again.
    if (!mine || queue?.project !== conflict.project) return;
    await Promise.all(conflict.edits.map((edit) => queued(get, set, edit)));
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
