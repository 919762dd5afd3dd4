import { useQuery, type UseQueryOptions, type UseQueryResult } from "@tanstack/react-query";
import { useDocument } from "./document";
import { ask, client } from "../api/client";
import type { paths } from "../api/schema";

/** Paths of the API that answer a GET with JSON about one project. */
type Answer<Path extends keyof paths> = paths[Path] extends {
  get: { responses: { 200: { content: { "application/json": infer Data } } } };
}
  ? Data
  : never;
type Sent<Path extends keyof paths> = paths[Path] extends { get: { parameters: infer Parameters } }
  ? Parameters extends { query?: infer Query }
    ? Query
    : never
  : never;
export type ProjectPath = {
  [Path in keyof paths]: Path extends `/api/projects/{project_id}/${string}`
    ? Answer<Path> extends never
      ? never
      : Path
    : never;
}[keyof paths];

interface Asked<Path extends ProjectPath> {
  /** What the answer depends on besides path, query and project: asked again when it changes. */
  stamp?: unknown[];
  query?: Sent<Path>;
  /** Parts of the path besides the project. */
  path?: Record<string, string>;
  options?: Omit<UseQueryOptions<Answer<Path>>, "queryKey" | "queryFn" | "enabled"> & { enabled?: boolean };
}

/** The key under which an answer is held, and how it is got. */
export function getOptions<Path extends ProjectPath>(path: Path, project: string | undefined, asked: Asked<Path> = {}) {
  const params = { path: { project_id: project ?? "", ...asked.path }, query: asked.query };
  return {
    queryKey: [path, project, asked.path ?? null, asked.query ?? null, ...(asked.stamp ?? [])] as const,
    // The client cannot follow a path that is not written out; what comes back is typed by it all the same.
    // What nobody waits for any more ends, here and on the server: it may be the numbers of a map that takes long.
    queryFn: ({ signal }: { signal: AbortSignal }) =>
      ask(client.GET(path as never, { params, signal } as never)) as Promise<Answer<Path>>,
    staleTime: Infinity,
  };
}

/** A GET of the API about the open project: paths, queries and answers are typed by the API's own description. */
export function useGet<Path extends ProjectPath>(path: Path, asked: Asked<Path> = {}): UseQueryResult<Answer<Path>> {
  const id = useDocument((store) => store.state?.id);
  return useQuery<Answer<Path>>({
    ...getOptions(path, id, asked),
    ...asked.options,
    enabled: id !== undefined && (asked.options?.enabled ?? true),
  });
}
