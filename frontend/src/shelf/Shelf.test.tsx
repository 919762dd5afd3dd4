import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, describe, expect, it, vi } from "vitest";
import type * as Client from "../api/client";
import type { ProjectCard } from "../api/types";
import { Shelf } from "./Shelf";

const sent: { path: string; body: unknown }[] = [];
const card = (id: string, name: string, trouble: string | null): ProjectCard => ({
  id, name, trouble, revision: 4, updated_at: "", rows: 9, cols: 9, width: 8, length: 8, layers: 1, bytes: 2_000_000,
}); // prettier-ignore
const CARDS = [
  card("good", "Lantern Moor", null),
  card("bad", "Skerry Sound", "This project cannot be opened. It is damaged."),
];

vi.mock("../api/client", async (original) => ({
  ...(await original<typeof Client>()),
  client: {
    GET: (path: string) => {
      const data = path === "/api/formats" ? { formats: [], documents: { project: [".zip"] } } : CARDS;
      return Promise.resolve({ data, response: new Response() });
    },
    POST: (path: string, options: { body?: unknown }) => {
      sent.push({ path, body: options.body });
      return Promise.resolve({ data: {}, response: new Response() });
    },
  },
}));
vi.mock("./ShelfPicture", () => ({ ShelfPicture: () => null }));
afterEach(cleanup);

describe("the shelf", () => {
  it("shows a project that cannot be read beside the others, with two ways out", async () => {
    render(
      <QueryClientProvider client={new QueryClient()}>
        <MemoryRouter>
          <Shelf />
        </MemoryRouter>
      </QueryClientProvider>,
    );
    const bad = await screen.findByRole("listitem", { name: "Skerry Sound" });
    expect(screen.getByRole("link", { name: "Open Lantern Moor" })).toBeTruthy();
    expect(within(bad).queryByRole("link", { name: /^Open/ })).toBeNull();
    expect(bad.textContent).toContain("It is damaged.");
    const out = within(bad).getByRole("link", { name: "Save it out" });
    expect(out.getAttribute("href")).toBe("/api/projects/bad/save-out");
    fireEvent.click(within(bad).getByRole("button", { name: "Go back to what can be read" }));
    await vi.waitFor(() => expect(sent).toEqual([{ path: "/api/projects/{project_id}/undo", body: { base: 4 } }]));
  });
});
