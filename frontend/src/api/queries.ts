import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useDocument } from "../state/document";
import { ask, client, Problem } from "./client";
import type { Delivery, LineKind, ProjectState, Reading, StepInfo } from "./types";

const NONE: Reading[] = [];

export interface ProfileLine {
  row0: number;
  col0: number;
  row1: number;
  col1: number;
}

const EMPTY_LINE: ProfileLine = { row0: 0, col0: 0, row1: 0, col1: 0 };

/** The readings of the open project with their numbers, as of its newest revision. */
export function useReadings(): Reading[] {
  return useDocument((store) => store.state?.readings ?? NONE);
}

/** What is odd about the prepared ground; measured again when the ground changes. */
export function useDiagnosis() {
  const state = useDocument((store) => store.state);
  return useQuery({
    queryKey: ["diagnosis", state?.id, state?.ground_key],
    queryFn: () =>
      ask(client.GET("/api/projects/{project_id}/diagnosis", { params: { path: { project_id: state?.id ?? "" } } })),
    enabled: state !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

/** Long computations under way; asked while somebody waits for a map. */
export function useWorking(waiting: boolean) {
  const state = useDocument((store) => store.state);
  return useQuery({
    queryKey: ["working", state?.id],
    queryFn: () =>
      ask(client.GET("/api/projects/{project_id}/working", { params: { path: { project_id: state?.id ?? "" } } })),
    enabled: state !== null && waiting,
    refetchInterval: 400,
    gcTime: 0,
  });
}

/** A map and the height along a line between two places of the home grid. */
export function useProfile(name: string | null, line: ProfileLine | null) {
  const state = useDocument((store) => store.state);
  return useQuery({
    queryKey: ["profile", state?.id, state?.revision, name, line],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project_id}/profile", {
          params: { path: { project_id: state?.id ?? "" }, query: { name: name ?? "", ...(line ?? EMPTY_LINE) } },
        }),
      ),
    enabled: state !== null && name !== null && line !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

/** A mask's numbers stay as long as its content does; those of other maps are asked for with every revision. */
function stampOf(state: ProjectState | null, name: string | null): string | number | undefined {
  const mask = /^mask:([^:]+)$/.exec(name ?? "")?.[1];
  return (mask && state?.mask_keys[mask]) || state?.revision;
}

/** A map's numbers at the newest revision; the last ones stay while new ones are measured. */
export function useStats(name: string | null) {
  const state = useDocument((store) => store.state);
  return useQuery({
    queryKey: ["stats", state?.id, name, stampOf(state, name)],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project_id}/stats", {
          params: { path: { project_id: state?.id ?? "" }, query: { name: name ?? "" } },
        }),
      ),
    enabled: state !== null && name !== null,
    placeholderData: (before, query) => (query?.queryKey[2] === name ? before : undefined),
    staleTime: Infinity,
  });
}

export function usePlan() {
  const state = useDocument((store) => store.state);
  return useQuery({
    queryKey: ["plan", state?.id, state?.revision],
    queryFn: () =>
      ask(client.GET("/api/projects/{project_id}/plan", { params: { path: { project_id: state?.id ?? "" } } })),
    enabled: state !== null,
    placeholderData: keepPreviousData,
  });
}

export function useTargets() {
  const state = useDocument((store) => store.state);
  return useQuery({
    queryKey: ["targets", state?.id, state?.document.ground.rows, state?.document.ground.cols],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project_id}/targets", {
          params: { path: { project_id: state?.id ?? "" } },
        }),
      ),
    enabled: state !== null,
    staleTime: Infinity,
  });
}

/** Files of a delivery that the project would write otherwise now: a comparison of keys. */
export function outdatedFiles(delivery: Delivery, state: ProjectState): string[] {
  if (delivery.job.state !== "done") return [];
  const writes = new Set(state.writes);
  return delivery.files.filter((file) => file.key && !writes.has(file.key)).map((file) => file.file);
}

export function isGoing(delivery: Delivery): boolean {
  return delivery.job.state === "waiting" || delivery.job.state === "running";
}

/** Deliveries and running jobs of the open project; asked twice a second while something runs. */
export function useDeliveries() {
  const state = useDocument((store) => store.state);
  const jobs = useJobs();
  return useQuery({
    // A job that ended is one that left the list: look once more.
    queryKey: ["deliveries", state?.id, jobs.data?.map((job) => job.id).join()],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project_id}/deliveries", {
          params: { path: { project_id: state?.id ?? "" } },
        }),
      ),
    enabled: state !== null,
    placeholderData: keepPreviousData,
    refetchInterval: (query) => (query.state.data?.some(isGoing) || jobs.data?.length ? 500 : false),
  });
}

export function useJobs() {
  const state = useDocument((store) => store.state);
  return useQuery({
    queryKey: ["jobs", state?.id],
    queryFn: () =>
      ask(client.GET("/api/projects/{project_id}/jobs", { params: { path: { project_id: state?.id ?? "" } } })),
    enabled: state !== null,
    refetchInterval: (query) => (query.state.data?.length ? 500 : false),
  });
}

/** Start or stop something in the worker, then look at the lists again. */
export function useJobActions() {
  const cache = useQueryClient();
  const state = useDocument((store) => store.state);
  const id = state?.id ?? "";
  const look = () =>
    Promise.all([
      cache.invalidateQueries({ queryKey: ["jobs", id] }),
      cache.invalidateQueries({ queryKey: ["deliveries", id] }),
    ]);
  return {
    look,
    deliver: async () => {
      const job = await ask(
        client.POST("/api/projects/{project_id}/deliveries", { params: { path: { project_id: id } } }),
      );
      await look();
      return job;
    },
    fit: async (number: number) => {
      const job = await ask(
        client.POST("/api/projects/{project_id}/deliveries/{number}/fit", {
          params: { path: { project_id: id, number } },
        }),
      );
      await look();
      return job;
    },
    cancel: async (job: string) => {
      await ask(client.POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id: job } } }));
      await look();
    },
  };
}

const NO_LINES: LineKind[] = [];
const NO_STEPS: StepInfo[] = [];

/** Every kind of line with the numbers a new one begins with; they depend on the ground's grid alone. */
export function useLineKinds(): LineKind[] {
  const state = useDocument((store) => store.state);
  const query = useQuery({
    queryKey: ["lines", state?.id, state?.home],
    queryFn: () =>
      ask(client.GET("/api/projects/{project_id}/lines", { params: { path: { project_id: state?.id ?? "" } } })),
    enabled: state !== null,
    staleTime: Infinity,
  });
  return query.data ?? NO_LINES;
}

/** Every kind of step with the numbers a new one begins with; they depend on the ground's grid and heights. */
export function useStepKinds(): StepInfo[] {
  const state = useDocument((store) => store.state);
  const query = useQuery({
    queryKey: ["steps", state?.id, state?.ground_key],
    queryFn: () =>
      ask(client.GET("/api/projects/{project_id}/steps", { params: { path: { project_id: state?.id ?? "" } } })),
    enabled: state !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  return query.data ?? NO_STEPS;
}

/** Edges and shares of the bands that a mask is cut into. */
export function useBands(mask: string | null) {
  const state = useDocument((store) => store.state);
  return useQuery({
    queryKey: ["bands", state?.id, mask, state?.revision],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project_id}/bands/{mask_id}", {
          params: { path: { project_id: state?.id ?? "", mask_id: mask ?? "" } },
        }),
      ),
    enabled: state !== null && mask !== null,
    placeholderData: (before, query) => (query?.queryKey[2] === mask ? before : undefined),
    staleTime: Infinity,
  });
}

/** Where none, one or more of some masks are strong. */
export function useTogether(masks: string[]) {
  const state = useDocument((store) => store.state);
  return useQuery({
    queryKey: ["together", state?.id, masks.join(), state?.revision],
    queryFn: () =>
      ask(
        client.GET("/api/projects/{project_id}/together", {
          params: { path: { project_id: state?.id ?? "" }, query: { masks: masks.join() } },
        }),
      ),
    enabled: state !== null && masks.length > 1,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
}

export function useKits() {
  return useQuery({ queryKey: ["kits"], queryFn: () => ask(client.GET("/api/kits")) });
}

/** Points of what is scattered: rows of east, south, height, size, turn. */
export interface ScatterPoints {
  values: Float32Array;
  count: number;
  crowded: number | null;
}

export function useScatterPoints(scatter: string | null) {
  const state = useDocument((store) => store.state);
  return useQuery({
    queryKey: ["scatter", state?.id, scatter, state?.revision],
    queryFn: async (): Promise<ScatterPoints> => {
      const response = await fetch(`/api/projects/${state?.id ?? ""}/scatters/${scatter ?? ""}/points`);
      if (!response.ok) throw new Problem(response.status, (await response.json().catch(() => undefined)) as never);
      const crowded = response.headers.get("X-Crowded");
      const values = new Float32Array(await response.arrayBuffer());
      return { values, count: values.length / 5, crowded: crowded ? Number(crowded) : null };
    },
    enabled: state !== null && scatter !== null,
    placeholderData: (before, query) => (query?.queryKey[2] === scatter ? before : undefined),
    staleTime: Infinity,
    retry: false,
  });
}
