import { beforeEach, describe, expect, it, vi } from "vitest";
import { WaitingEdits, type Waiting } from "./waiting";

const edit = (id: string, at: number, project = "p1"): Waiting => ({
  id,
  project,
  name: "Moor",
  base: 7,
  at,
  tab: "t",
  merge: "",
  joins: false,
  what: id,
  operations: [],
  bases: [],
});

/** A browser of a few lines: a store, and locks that live as long as their pages do. */
class Browser {
  [key: string]: unknown;
}
const locks = new Set<string>();
let room = Infinity;

beforeEach(() => {
  locks.clear();
  room = Infinity;
  const held = new Browser();
  const store = new Proxy(held, {
    get: (_target, name: string) =>
      ({
        getItem: (key: string) => (held[key] as string | undefined) ?? null,
        setItem: (key: string, value: string) => {
          if (value.length > room) throw new DOMException("full", "QuotaExceededError");
          held[key] = value;
        },
        removeItem: (key: string) => Reflect.deleteProperty(held, key),
      })[name],
  });
  vi.stubGlobal("localStorage", store);
  const request = async (name: string, _options: unknown, third?: (lock: unknown) => Promise<void>) => {
    if (!third) return locks.add(name);
    return third(locks.has(name) ? null : {});
  };
  vi.stubGlobal("navigator", { locks: { request } });
});

describe("edits that wait", () => {
  it("are taken up by the next page once theirs is gone, in the order in which they were made", async () => {
    const [first, second] = [new WaitingEdits("one", () => undefined), new WaitingEdits("two", () => undefined)];
    second.add(edit("b", 2));
    first.add(edit("a", 1));
    first.add(edit("c", 3));
    first.add(edit("other", 4, "p2"));
    const next = new WaitingEdits("three", () => undefined);
    expect(await next.adopt("p1")).toEqual([]);
    locks.delete("zigzag.tab.one");
    locks.delete("zigzag.tab.two");
    expect((await next.adopt("p1")).map((one) => one.id)).toEqual(["a", "b", "c"]);
    // They are its own now, and nobody else takes them again.
    expect(await new WaitingEdits("four", () => undefined).adopt("p1")).toEqual([]);
    next.done(["a"]);
    expect(new WaitingEdits("three", () => undefined).of("p1").map((one) => one.id)).toEqual(["b", "c"]);
    expect((await new WaitingEdits("five", () => undefined).adopt("p2")).map((one) => one.id)).toEqual(["other"]);
  });

  it("of another page that are older go first", async () => {
    const [first, second] = [new WaitingEdits("one", () => undefined), new WaitingEdits("two", () => undefined)];
    first.add(edit("a", 1));
    second.add(edit("b", 2));
    let gone = false;
    const turn = second.turn(edit("b", 2)).then(() => (gone = true));
    await first.turn(edit("a", 1));
    expect(gone).toBe(false);
    first.done(["a"]);
    await turn;
  });

  it("say when the browser is full, and are kept in the page", () => {
    const full = vi.fn();
    const waiting = new WaitingEdits("one", full);
    room = 10;
    waiting.add(edit("a", 1));
    expect(full).toHaveBeenCalledOnce();
    expect(waiting.of("p1")).toHaveLength(1);
  });
});
