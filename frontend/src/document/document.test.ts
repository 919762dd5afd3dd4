import { beforeEach, describe, expect, it, vi } from "vitest";
import type * as Client from "../api/client";
import type { Operation, ProjectState } from "../api/types";
import { testState } from "../testing/state";

interface Sent {
  path: string;
  base?: number;
  id?: string;
  joins?: boolean;
}

/** A server of a few lines: projects whose revision counts up; ``hold`` keeps an answer back until it is let go. */
const server = {
  revision: 7,
  base: testState().document.base,
  sent: [] as Sent[],
  refuse: null as null | { status: number; body: object },
  /** So many answers are lost, each after so many revisions were made. */
  loses: 0,
  makes: 0,
  made: new Set<string>(),
  hold: { GET: null, POST: null } as Record<"GET" | "POST", null | Promise<void>>,
};
const state = (id = "p1"): ProjectState => {
  const { document, ...more } = testState();
  return { ...more, document: { ...document, base: server.base }, id, revision: server.revision, undo: "something" };
};
/** What an edit answers: what it changed since the state that it was made on. */
const change = (base: number) => ({
  base,
  revision: server.revision,
  changes: [
    { op: "replace", path: "/revision", value: server.revision },
    { op: "replace", path: "/document/base", value: server.base },
  ],
});
const answer = (data: unknown) => Promise.resolve({ data, response: new Response(null, { status: 200 }) });

vi.mock("../api/client", async (original) => {
  const real = await original<typeof Client>();
  return {
    ...real,
    client: {
      GET: async (_path: string, options: { params: { path: { project_id: string } } }) => {
        const id = options.params.path.project_id;
        const held = server.hold.GET;
        server.hold.GET = null;
        await held;
        return answer(state(id));
      },
      POST: async (
        path: string,
        options: {
          params: { path: { project_id: string } };
          body?: { base: number; id?: string; joins?: boolean; operations?: Operation[] };
        },
      ): Promise<unknown> => {
        const id = options.params.path.project_id;
        server.sent.push({
          path: path.replace("{project_id}", id),
          ...(options.body ? { base: options.body.base } : {}),
          ...(options.body?.id ? { id: options.body.id } : {}),
          ...(options.body?.joins === undefined ? {} : { joins: options.body.joins }),
        });
        const held = server.hold.POST;
        server.hold.POST = null;
        await held;
        if (server.loses > 0) {
          // It may have been made; nobody hears of it.
          server.loses -= 1;
          server.revision += server.makes;
          throw new TypeError("Failed to fetch");
        }
        if (options.body?.id && server.made.has(options.body.id)) return answer(change(options.body.base));
        if (server.refuse) {
          const { status, body } = server.refuse;
          server.refuse = null;
          return { error: body, response: new Response(null, { status }) };
        }
        if (options.body && options.body.base !== server.revision) {
          const error = {
            code: "stale-edit",
            detail: "This project was changed elsewhere.",
            since: ["fade to 6°"],
          };
          return { error, response: new Response(null, { status: 409 }) };
        }
        server.revision += 1;
        server.made.add(options.body?.id ?? "");
        for (const operation of options.body?.operations ?? [])
          if (operation.op === "set_base") server.base = operation.base;
        return answer(options.body ? change(options.body.base) : state(id));
      },
    },
  };
});

const { settled, useDocument } = await import("./document");
const rename: Operation[] = [{ op: "rename_project", name: "Other" }];
const store = () => useDocument.getState();

describe("edits", () => {
  beforeEach(async () => {
    server.revision = 7;
    server.sent = [];
    server.refuse = null;
    server.hold = { GET: null, POST: null };
    await store().open("p1");
  });

  it("go out one after the other, each on what the last one made", async () => {
    const all = [store().edit(rename), store().edit(rename), store().edit(rename)];
    expect(store().saving).toBe(3);
    expect(await Promise.all(all)).toEqual([true, true, true]);
    expect(server.sent.map((sent) => sent.base)).toEqual([7, 8, 9]);
    expect(store().state?.revision).toBe(10);
    expect(store().saving).toBe(0);
  });

  it("of the same thing keep what the one before them changed, though its answer was not there yet", async () => {
    const base = { ...testState().document.base, colour: "#112233" };
    void store().edit([{ op: "set_base", base: { ...base, name: "Sedge" } }]);
    await store().edit([{ op: "set_base", base: { ...testState().document.base, colour: "#445566" } }]);
    expect(store().state?.document.base).toMatchObject({ name: "Sedge", colour: "#445566" });
  });

  it.each([
    [999, [false, true]],
    [1000, [false, false]],
  ])("of one token %d ms after one another: whether they join", async (apart, joins) => {
    let now = 50_000;
    const clock = vi.spyOn(performance, "now").mockImplementation(() => now);
    await store().edit(rename, { merge: `name ${apart}` });
    now += apart;
    await store().edit(rename, { merge: `name ${apart}` });
    await store().edit(rename, { merge: "another" });
    clock.mockRestore();
    expect(server.sent.map((sent) => sent.joins)).toEqual([...joins, false]);
  });

  it("wait for their turn before an undo, and settled waits for all", async () => {
    void store().edit(rename);
    void store().step("undo");
    await settled();
    expect(server.sent.map((sent) => sent.path.split("/").at(-1))).toEqual(["edits", "undo"]);
  });

  it("that are refused change nothing and say why", async () => {
    server.refuse = {
      status: 422,
      body: { code: "name-taken", detail: "There is already a mask called Peat." },
    };
    expect(await store().edit(rename)).toBe(false);
    expect(store().trouble).toContain("already a mask");
    expect(store().state?.revision).toBe(7);
    store().tell(null);
    expect(await store().edit(rename)).toBe(true);
  });

  it("on an old state are kept with what happened since", async () => {
    server.revision = 12;
    expect(await store().edit(rename, { what: "a change to Scree" })).toBe(false);
    expect(store().conflict).toMatchObject({
      what: "a change to Scree",
      since: ["fade to 6°"],
      edits: [{ operations: rename }],
    });
    await store().resolve(true);
    expect(store().conflict).toBeNull();
    expect(server.sent.map((sent) => sent.base)).toEqual([7, 12]);
    expect(store().state?.revision).toBe(13);
  });

  it("can be left out instead", async () => {
    server.revision = 12;
    await store().edit(rename);
    await store().resolve(false);
    expect(store().state?.revision).toBe(12);
    expect(server.sent).toHaveLength(1);
  });

  it("that wait behind a stale one are kept with it, in their order", async () => {
    server.revision = 12;
    const more: Operation[] = [{ op: "rename_project", name: "Third" }];
    const all = [store().edit(rename, { what: "a name" }), store().edit(more, { what: "another" })];
    expect(await Promise.all(all)).toEqual([false, false]);
    expect(server.sent.map((sent) => sent.base)).toEqual([7, 7]);
    expect(store().conflict).toMatchObject({
      edits: [{ operations: rename }, { operations: more }],
      what: "a name, another",
    });
    await store().resolve(false);
  });

  it("are for the project and the revision they were made on, whatever is open when their turn comes", async () => {
    let go = (): void => undefined;
    server.hold.POST = new Promise((resolve) => (go = resolve));
    const first = store().edit(rename);
    const second = store().edit(rename);
    await store().open("p2");
    const shown = store().state;
    go();
    expect(await Promise.all([first, second])).toEqual([true, true]);
    expect(server.sent.map((sent) => [sent.path, sent.base])).toEqual([
      ["/api/projects/p1/edits", 7],
      ["/api/projects/p1/edits", 8],
    ]);
    // Their late answers do not show in the other project, which has a line of its own.
    expect(store().state).toBe(shown);
    server.revision = 7;
    await store().open("p2");
    await store().edit(rename);
    expect(server.sent.at(-1)).toMatchObject({ path: "/api/projects/p2/edits", base: 7 });
  });

  it("tell of the project that they were for when it is left", async () => {
    let go = (): void => undefined;
    server.hold.POST = new Promise((resolve) => (go = resolve));
    server.refuse = { status: 422, body: { code: "name-taken", detail: "There is already a mask called Peat." } };
    const late = store().edit(rename);
    await store().open("p2");
    go();
    expect(await late).toBe(false);
    expect(store().trouble).toBe("Lantern Moor: There is already a mask called Peat.");
    expect(store().state?.id).toBe("p2");
  });

  it("that the store is too busy for are sent again under the same id, in their order", async () => {
    server.refuse = { status: 503, body: { code: "busy", detail: "The project store is busy." } };
    expect(await Promise.all([store().edit(rename), store().edit(rename)])).toEqual([true, true]);
    expect(server.sent.map((sent) => sent.base)).toEqual([7, 7, 8]);
    const [first, again, second] = server.sent.map((sent) => sent.id);
    expect(first).toBe(again);
    expect(second).not.toBe(first);
  });
});

describe("while nobody answers", () => {
  let back = (): void => undefined;
  beforeEach(async () => {
    Object.assign(server, { revision: 7, sent: [], refuse: null, hold: { GET: null, POST: null }, loses: 0, makes: 0 });
    server.base = testState().document.base;
    const answers = new Promise<void>((resolve) => (back = resolve));
    vi.stubGlobal("fetch", async () => {
      await answers;
      return new Response(JSON.stringify({ start: "s", again: null }));
    });
    await store().open("p1");
  });

  it("an edit waits, is shown, and is sent once somebody does; those behind it keep their turn", async () => {
    server.loses = 1;
    const base = { ...testState().document.base, colour: "#112233" };
    const first = store().edit([{ op: "set_base", base: { ...base, name: "Sedge" } }]);
    await vi.waitFor(() => expect(store().state?.document.base.name).toBe("Sedge"));
    const second = store().edit([{ op: "set_base", base: { ...base, name: "Sedge", colour: "#445566" } }]);
    expect([store().saving, store().state?.revision]).toEqual([2, 7]);
    back();
    expect(await Promise.all([first, second])).toEqual([true, true]);
    expect(server.sent.map((sent) => sent.base)).toEqual([7, 7, 8]);
    expect(store().state?.document.base).toMatchObject({ name: "Sedge", colour: "#445566" });
  });

  it("an edit whose answer alone was lost is made once, and never asked about", async () => {
    server.loses = 1;
    server.makes = 1;
    const made = store().edit(rename);
    await vi.waitFor(() => expect(server.sent).toHaveLength(1));
    server.made.add(server.sent[0]?.id ?? "");
    back();
    expect(await made).toBe(true);
    expect([store().state?.revision, store().conflict]).toEqual([8, null]);
  });

  it("a conflict that was decided for one's own loses nothing", async () => {
    server.revision = 12;
    await store().edit(rename);
    server.loses = 1;
    const decided = store().resolve(true);
    await vi.waitFor(() => expect(server.sent).toHaveLength(2));
    back();
    await decided;
    expect([store().state?.revision, store().conflict]).toEqual([13, null]);
  });
});

describe("opening and looking again", () => {
  beforeEach(async () => {
    Object.assign(server, { revision: 7, sent: [], refuse: null, hold: { GET: null, POST: null } });
    await store().open("p1");
  });

  it("shows the project that was asked for last, whichever answer comes first", async () => {
    let go = (): void => undefined;
    server.hold.GET = new Promise((resolve) => (go = resolve));
    const slow = store().open("p1");
    await store().open("p2");
    go();
    await slow;
    expect(store().state?.id).toBe("p2");
  });

  it("does not bring back a project that was left", async () => {
    let go = (): void => undefined;
    server.hold.GET = new Promise((resolve) => (go = resolve));
    const slow = store().open("p1");
    store().close();
    go();
    await slow;
    expect(store().state).toBeNull();
  });

  it("takes a newer revision as the base of what is edited next, but not of what waits already", async () => {
    server.revision = 9;
    await store().refresh();
    await store().edit(rename);
    expect(server.sent.at(-1)?.base).toBe(9);
    let go = (): void => undefined;
    server.hold.POST = new Promise((resolve) => (go = resolve));
    const waiting = store().edit(rename);
    server.revision = 20;
    await store().refresh();
    go();
    expect(await waiting).toBe(false);
    expect(store().conflict?.edits[0]?.operations).toEqual(rename);
    await store().resolve(false);
  });

  it("undoes and redoes what was looked at", async () => {
    await store().step("undo");
    await store().step("redo");
    expect(server.sent.map((sent) => [sent.path.split("/").at(-1), sent.base])).toEqual([
      ["undo", 7],
      ["redo", 8],
    ]);
    server.refuse = { status: 409, body: { code: "conflict", detail: "There is nothing to undo." } };
    await store().step("undo");
    expect(store().trouble).toBeNull();
    server.refuse = { status: 409, body: { code: "stale-edit", detail: "This project was changed elsewhere." } };
    server.revision = 30;
    await store().step("undo");
    expect(store().state?.revision).toBe(30);
  });
});
