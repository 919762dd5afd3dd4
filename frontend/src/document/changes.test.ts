import { expect, it, vi } from "vitest";
import type * as Client from "../api/client";
import { testState } from "../testing/state";

const newest = { ...testState(), revision: 12 };
vi.mock("../api/client", async (original) => ({
  ...(await original<typeof Client>()),
  client: { GET: () => Promise.resolve({ data: newest, response: new Response(null, { status: 200 }) }) },
}));
const { after } = await import("./changes");

const known = testState();
const told = {
  base: 7,
  revision: 8,
  changes: [
    { op: "replace" as const, path: "/revision", value: 8 },
    { op: "replace" as const, path: "/document/masks/0/name", value: "Loose scree" },
  ],
};

it("makes the newest state of the one that is known; what was left alone are the same objects", async () => {
  const made = await after(known, told);
  expect([made.revision, made.document.masks?.[0]?.name]).toEqual([8, "Loose scree"]);
  expect(known.document.masks?.[0]?.name).toBe("Scree");
  expect(made.document.layers).toBe(known.document.layers);
  expect(made.readings).toBe(known.readings);
});

it("asks for the whole where the change was made of another state than is known", async () => {
  expect(await after(known, { ...told, base: 6 })).toBe(newest);
});
