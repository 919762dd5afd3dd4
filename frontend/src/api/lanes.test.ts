import { describe, expect, it } from "vitest";
import { inLane, type Rank } from "./lanes";

const turn = () => new Promise((resolve) => setTimeout(resolve, 0));

/** Maps that are asked for, in the order in which they begin; each ends when it is told to. */
function asking() {
  const begun: string[] = [];
  const ends = new Map<string, () => void>();
  const ask = (rank: Rank, name: string, signal: AbortSignal | null = null) =>
    inLane(
      rank,
      name,
      (stop) =>
        new Promise<string>((done, refuse) => {
          begun.push(name);
          ends.set(name, () => done(name));
          stop.addEventListener("abort", () => refuse(stop.reason as Error));
        }),
      signal,
    );
  const end = async (...names: string[]) => {
    names.forEach((name) => ends.get(name)?.());
    await turn();
  };
  return { begun, ask, end };
}

describe("maps that are asked for", () => {
  it("begin with what is looked at, leave connections to other things, and small ones that take long wait", async () => {
    const { begun, ask, end } = asking();
    const all = ["a", "b", "c", "d"].map((name) => ask("small", name));
    all.push(ask("long", "scour"), ask("view", "slope"), ask("view", "height"));
    await turn();
    expect(begun).toEqual(["a", "b", "c", "slope"]);
    await end("a");
    expect(begun.slice(4)).toEqual(["height"]);
    await end("b", "c", "slope", "height");
    expect(begun.slice(5)).toEqual(["d"]);
    await end("d");
    expect(begun.slice(6)).toEqual(["scour"]);
    await end("scour");
    expect(await Promise.all(all)).toHaveLength(7);
  });

  it("give way to what is looked at and begin anew, unless it is the same", async () => {
    const { begun, ask, end } = asking();
    const scour = ask("long", "scour");
    const same = ask("view", "scour");
    await turn();
    expect(begun).toEqual(["scour", "scour"]);
    await end("scour");
    await same;
    const slope = ask("view", "slope");
    await turn();
    await end("slope");
    expect(await slope).toBe("slope");
    expect(begun).toEqual(["scour", "scour", "slope", "scour"]);
    await end("scour");
    expect(await scour).toBe("scour");
  });

  it("leave the queue, or end, when nobody waits for them, and the next goes on", async () => {
    const { begun, ask, end } = asking();
    const stop = new AbortController();
    const left = ["a", "b", "c", "d"].map((name) => ask("small", name, stop.signal).catch(() => "left"));
    const kept = ask("small", "e");
    await turn();
    stop.abort();
    await turn();
    expect(await Promise.all(left)).toEqual(["left", "left", "left", "left"]);
    expect(begun).toEqual(["a", "b", "c", "e"]);
    await end("e");
    expect(await kept).toBe("e");
  });
});
