import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { vi } from "vitest";
import type { Operation, ProjectState } from "../api/types";
import { getOptions, type ProjectPath } from "../document/useGet";
import { useDocument } from "../document/document";
import { testState } from "./state";

type Answers = [path: ProjectPath, asked: Parameters<typeof getOptions>[2], data: unknown][];

/** A card alone, on a project with some answers of the server already there; ``edits`` holds what it would save. */
export function renderCard(card: React.ReactElement, state: ProjectState = testState(), answers: Answers = []) {
  vi.stubGlobal("fetch", () => new Promise(() => undefined));
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe = () => undefined;
      disconnect = () => undefined;
    },
  );
  vi.stubGlobal(
    "IntersectionObserver",
    class {
      observe = () => undefined;
      disconnect = () => undefined;
    },
  );
  const edits: Operation[][] = [];
  const edit = (operations: Operation[]) => {
    edits.push(operations);
    return Promise.resolve(true);
  };
  useDocument.setState({ state, edit });
  const cache = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity, retry: false } } });
  for (const [path, asked, data] of answers) cache.setQueryData(getOptions(path, state.id, asked).queryKey, data);
  render(
    <QueryClientProvider client={cache}>
      <MemoryRouter>{card}</MemoryRouter>
    </QueryClientProvider>,
  );
  return { edits, last: () => edits.at(-1)?.[0] as unknown as Record<string, unknown> | undefined };
}
