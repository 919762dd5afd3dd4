import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useDocument } from "../state/document";
import { ask, client } from "./client";
import type { Delivery, Reading } from "./types";

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

/** A map's numbers at the newest revision; the last ones stay while new ones are measured. */
export function useStats(name: string | null) {
  const state = useDocument((store) => store.state);
  return useQuery({
    queryKey: ["stats", state?.id, name, state?.revision],
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

export function isGoing(delivery: Delivery): boolean {
  return delivery.job.state === "waiting" || delivery.job.state === "running";
}

/** Deliveries and running jobs of the open project; asked twice a second while something runs. */
export function useDeliveries() {
  const state = useDocument((store) => store.state);
  const jobs = useJobs();
  return useQuery({
    // A job that ended is one that left the list: look once more.
    queryKey: ["deliveries", state?.id, state?.revision, jobs.data?.map((job) => job.id).join()],
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
