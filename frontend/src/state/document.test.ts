import { beforeEach, describe, expect, it, vi } from "vitest";
import type * as Client from "../api/client";
import type { Operation, ProjectState } from "../api/types";
import { testState } from "../testing/state";

interface Sent {
  path: string;
  base?: number;
}

/** A server of a few lines: one project whose revision counts up. */
const server = { revision: 7, sent: [] as Sent[], refuse: null as null | { status: number; body: object } };
const state = (): ProjectState => ({ ...testState(), revision: server.revision, undo: "something" });
const answer = (data: unknown) => Promise.resolve({ data, response: new Response(null, { status: 200 }) });

vi.mock("../api/client", async (original) => {
  const real = await original<typeof Client>();
  return {
    ...real,
    client: {
      GET: () => answer(state()),
      POST: (path: string, options: { body?: { base: number } }) => {
        server.sent.push({ path, ...(options.body ? { base: options.body.base } : {}) });
        if (server.refuse) {
          const { status, body } = server.refuse;
          server.refuse = null;
          return Promise.resolve({ error: body, response: new Response(null, { status }) });
        }
        if (options.body && options.body.base !== server.revision) {
          const error = {
            code: "stale-edit",
            detail: "This project was changed elsewhere.",
            since: ["fade to 6°"],
          };
          return Promise.resolve({ error, response: new Response(null, { status: 409 }) });
        }
        server.revision += 1;
        return answer(state());
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
    await store().open("p1");
  });

  it("go out one after the other, each on what the last one made", async () => {
    const all = [store().edit(rename), store().edit(rename), store().edit(rename)];
    expect(store().saving).toBe(0);
    expect(await Promise.all(all)).toEqual([true, true, true]);
    expect(server.sent.map((sent) => sent.base)).toEqual([7, 8, 9]);
    expect(store().state?.revision).toBe(10);
    expect(store().saving).toBe(0);
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
      operations: rename,
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
});
