import { existsSync } from "node:fs";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, expect, it } from "vitest";
import { named, readName } from "../api/mapNames";
import { getOptions } from "../document/useGet";
import { useDocument } from "../document/document";
import { testState } from "../testing/state";
import { WAYPOINTS } from "../waypoints/register";
import { Keys } from "./Keys";
import { NoSuchPlace } from "./NoSuchPlace";
import { Trail } from "./Trail";

const MADE_UP = {
  name: "walk",
  title: "Walk",
  Card: () => <p>A card of its own</p>,
  fetch: () => Promise.resolve(),
  stop: () => ({ sign: "tick" as const, words: "made up" }),
  picture: "ground.png",
};

beforeEach(() => {
  WAYPOINTS.push(MADE_UP);
  useDocument.setState({ state: testState() });
});
afterEach(() => {
  WAYPOINTS.pop();
  cleanup();
});

function drawn(what: React.ReactNode) {
  const cache = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity, retry: false } } });
  cache.setQueryData(getOptions("/api/projects/{project_id}/deliveries", "p1", { stamp: [""] }).queryKey, []);
  render(
    <QueryClientProvider client={cache}>
      <MemoryRouter>{what}</MemoryRouter>
    </QueryClientProvider>,
  );
}

it("a waypoint that is added stands on the trail, with its key and its sign", () => {
  drawn(
    <>
      <Trail here={MADE_UP} />
      <Keys />
    </>,
  );
  const link = screen.getByRole("link", { name: /Walk/ });
  expect(link.getAttribute("href")).toBe("/project/p1/walk");
  expect(link.getAttribute("aria-current")).toBe("step");
  expect(screen.getByText("made up")).toBeTruthy();
  fireEvent.keyDown(window, { key: "?" });
  expect(screen.getByText("1 – 9")).toBeTruthy();
  expect(screen.getByText("waypoints, Ground to Walk")).toBeTruthy();
});

it("an address that leads nowhere says so, and where one can go", () => {
  drawn(<NoSuchPlace name="grund" />);
  expect(screen.getByRole("heading").textContent).toBe("There is no “grund” here");
  const places = screen.getAllByRole("link").map((link) => link.getAttribute("href"));
  expect(places).toEqual([...WAYPOINTS.map(({ name }) => `/project/p1/${name}`), "/project/p1/threads"]);
});

it("every waypoint has its picture in the documentation", () => {
  for (const { name, picture } of WAYPOINTS) expect(existsSync(`../docs/screenshots/${picture}`), name).toBe(true);
});

it.each([
  [named.at(2, "slope"), { kind: "at", steps: 2, reading: "slope" }],
  [named.mask("scree"), { kind: "mask", mask: "scree" }],
  [named.mask("scree", 0), { kind: "mask", mask: "scree", lines: 0 }],
  [named.count(["a", "b"]), { kind: "count", masks: ["a", "b"] }],
  [named.picture("aerial", true), { kind: "picture", reading: "aerial", otherwise: true }],
  [named.colour(), { kind: "colour" }],
  [named.channel("s", "a"), { kind: "channel", sheet: "s", channel: "a" }],
])("a name is read as it is written: %s", (text, name) => expect(readName(text)).toEqual(name));

it.each(["", "mask", "mask:a:1:2", "sums:a", "made_up:a", "channel:s"])("%s is no name of a map", (text) =>
  expect(readName(text)).toBeNull(),
);
