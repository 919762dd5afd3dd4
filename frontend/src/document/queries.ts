import { readName, type MapText } from "../api/mapNames";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDocument } from "./document";
import { useAskAgain } from "./askAgain";
import { ask, client } from "../api/client";
import { patiently } from "./patiently";
import type { Delivery, LineKind, ProjectState, Reading, StepInfo, Typed } from "../api/types";
import { readPoints, type Points } from "../api/maps";
import { useGet } from "./useGet";

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
  const ground = useDocument((store) => store.state?.ground_key);
  return useGet("/api/projects/{project_id}/diagnosis", {
    stamp: [ground],
    options: { placeholderData: keepPreviousData },
  });
}

/** Long computations under way; asked while somebody waits for a map. */
export function useWorking(waiting: boolean) {
  return useGet("/api/projects/{project_id}/working", {
    options: { enabled: waiting, refetchInterval: 400, gcTime: 0, staleTime: 0 },
  });
}

/** A map and the height along a line between two places of the home grid. */
export function useProfile(name: string | null, line: ProfileLine | null) {
  const revision = useDocument((store) => store.state?.revision);
  return useGet("/api/projects/{project_id}/profile", {
    query: { name: name ?? "", ...(line ?? EMPTY_LINE) },
    stamp: [revision],
    options: { enabled: name !== null && line !== null, placeholderData: keepPreviousData },
  });
}

/** A mask's numbers stay as long as its content does; those of other maps are asked for with every revision. */
function stampOf(state: ProjectState | null, name: string | null): string | number | undefined {
  const map = readName(name ?? "");
  const key = map?.kind === "mask" && map.lines === undefined ? state?.mask_keys[map.mask] : undefined;
  return key ?? state?.revision;
}

/** What was asked last stays while the same is asked again, and never stands for anything else. */
function sameAs(at: number, wanted: unknown) {
  return <T>(before: T | undefined, query: { queryKey: readonly unknown[] } | undefined): T | undefined =>
    JSON.stringify(query?.queryKey[at]) === JSON.stringify(wanted) ? before : undefined;
}

/** A map's numbers at the newest revision; the last ones stay while new ones are measured. */
export function useStats(name: MapText | null) {
  const stamp = useDocument((store) => stampOf(store.state, name));
  const query = { name: name ?? "" };
  return useGet("/api/projects/{project_id}/stats", {
    query,
    stamp: [stamp],
    options: { enabled: name !== null, placeholderData: sameAs(3, query) },
  });
}

export function usePlan() {
  const revision = useDocument((store) => store.state?.revision);
  return useGet("/api/projects/{project_id}/plan", {
    stamp: [revision],
    options: { placeholderData: keepPreviousData, staleTime: 0 },
  });
}

/** Which heights the planned height file cannot hold. */
export function useBeyond() {
  const revision = useDocument((store) => store.state?.revision);
  return useGet("/api/projects/{project_id}/beyond", {
    stamp: [revision],
    options: { placeholderData: keepPreviousData },
  });
}

/** Built-in targets, then the project's own. */
export function useTargets() {
  const own = useDocument((store) => store.state?.document.targets);
  return useGet("/api/projects/{project_id}/targets", { stamp: [JSON.stringify(own)] });
}

/** Classes of rules, formats, and usual sheets for data. */
export function useRules() {
  return useQuery({
    queryKey: ["/api/target-rules"],
    queryFn: () => ask(client.GET("/api/target-rules")),
    staleTime: Infinity,
  });
}

/** Sizes that the chosen target takes, nearest to the ground's own first; of very many those near so many samples. */
export function useSizes(wanted: boolean, near: number | null) {
  const revision = useDocument((store) => store.state?.revision);
  return useGet("/api/projects/{project_id}/sizes", {
    query: { near },
    stamp: [revision],
    options: { enabled: wanted, placeholderData: keepPreviousData },
  });
}

/** What choosing another target would change. */
export function useTargetChange(target: string | null) {
  const revision = useDocument((store) => store.state?.revision);
  return useGet("/api/projects/{project_id}/target-change", {
    query: { target: target ?? "" },
    stamp: [revision],
    options: { enabled: target !== null, staleTime: 0 },
  });
}

/** Where files also go on this machine. */
export function useDestination() {
  return useGet("/api/projects/{project_id}/destination", { options: { staleTime: 0 } });
}

/** Files of a delivery that the project would write otherwise now: a comparison of keys. */
export function outdatedFiles(delivery: Delivery, state: ProjectState): string[] {
  if (delivery.job.state !== "done") return [];
  const writes = new Set(state.writes);
  return delivery.files.filter((file) => file.key && !writes.has(file.key)).map((file) => file.file);
}

export function isGoing({ job }: { job: Delivery["job"] }): boolean {
  return job.state === "waiting" || job.state === "running";
}

/** The fit check of a delivery that waits or runs. */
export function checkOf(delivery: Delivery | null): Delivery["check"] {
  return delivery?.check && isGoing({ job: delivery.check }) ? delivery.check : null;
}

/** Deliveries and running jobs of the open project; asked twice a second while something runs. */
export function useDeliveries() {
  const jobs = useJobs();
  return useGet("/api/projects/{project_id}/deliveries", {
    // A job that ended is one that left the list: look once more.
    stamp: [jobs.data?.map((job) => job.id).join()],
    options: {
      placeholderData: keepPreviousData,
      staleTime: 0,
      // After every job no job is left, as before it: what was true then must not be shown again.
      gcTime: 0,
      refetchInterval: (query) =>
        query.state.data?.some((item) => isGoing(item) || checkOf(item)) || jobs.data?.length ? 300 : false,
    },
  });
}

export function useJobs() {
  return useGet("/api/projects/{project_id}/jobs", {
    options: { staleTime: 0, refetchInterval: (query) => (query.state.data?.length ? 300 : false) },
  });
}

/** Tiles of the height as (column from the west, row from the north): as a trial, or again beside all others. */
export interface ChosenTiles {
  tiles: number[][];
  again: boolean;
}

/** Start or stop something in the worker, then look at the lists again. */
export function useJobActions() {
  const again = useAskAgain();
  const state = useDocument((store) => store.state);
  const id = state?.id ?? "";
  const look = () => again("/api/projects/{project_id}/jobs", "/api/projects/{project_id}/deliveries");
  return {
    look,
    /** Everything that is chosen, or only some of it. */
    deliver: async (only: string[] | null = null, thenFit = false, tiles: ChosenTiles | null = null) => {
      const job = await ask(
        client.POST("/api/projects/{project_id}/deliveries", {
          params: { path: { project_id: id } },
          body: { only, then_fit: thenFit, tiles: tiles?.tiles ?? null, again: tiles?.again ?? false },
        }),
      );
      await look();
      return job;
    },
    fit: async (number: number, typed: Typed | null = null) => {
      const job = await ask(
        client.POST("/api/projects/{project_id}/deliveries/{number}/fit", {
          params: { path: { project_id: id, number } },
          body: { typed },
        }),
      );
      await look();
      return job;
    },
    /** Call a delivery by a name, which keeps it; an empty one takes the name away. */
    name: async (number: number, name: string) => {
      const path = { project_id: id, number };
      await ask(
        client.POST("/api/projects/{project_id}/deliveries/{number}/name", { params: { path }, body: { name } }),
      );
      await look();
    },
    remove: async (number: number) => {
      const path = { project_id: id, number };
      await ask(client.DELETE("/api/projects/{project_id}/deliveries/{number}", { params: { path } }));
      await look();
    },
    cancel: async (job: string) => {
      await patiently(() => client.POST("/api/jobs/{job_id}/cancel", { params: { path: { job_id: job } } }));
      await look();
    },
  };
}

/** Every number and setting that a delivery's note asks to be typed, and places to read off. */
export function useTypedNumbers(number: number | null) {
  return useGet("/api/projects/{project_id}/deliveries/{number}/typed", {
    path: { number: String(number ?? 0) },
    stamp: [number],
    options: { enabled: number !== null, staleTime: Infinity },
  });
}

const NO_LINES: LineKind[] = [];
const NO_STEPS: StepInfo[] = [];

/** Every kind of line with the numbers a new one begins with; they depend on the ground's grid alone. */
export function useLineKinds(): LineKind[] {
  const home = useDocument((store) => store.state?.home);
  return useGet("/api/projects/{project_id}/lines", { stamp: [home] }).data ?? NO_LINES;
}

/** Every kind of step with the numbers a new one begins with; they depend on the ground's grid and heights. */
export function useStepKinds(): StepInfo[] {
  const ground = useDocument((store) => store.state?.ground_key);
  const options = { placeholderData: keepPreviousData };
  return useGet("/api/projects/{project_id}/steps", { stamp: [ground], options }).data ?? NO_STEPS;
}

/** Edges and shares of the bands that a mask is cut into. */
export function useBands(mask: string | null) {
  const revision = useDocument((store) => store.state?.revision);
  const path = { mask_id: mask ?? "" };
  return useGet("/api/projects/{project_id}/bands/{mask_id}", {
    path,
    stamp: [revision],
    options: { enabled: mask !== null, placeholderData: sameAs(2, path) },
  });
}

/** Where none, one or more of some masks are strong. */
export function useTogether(masks: string[]) {
  const revision = useDocument((store) => store.state?.revision);
  return useGet("/api/projects/{project_id}/together", {
    query: { masks: masks.join() },
    stamp: [revision],
    options: { enabled: masks.length > 1, placeholderData: keepPreviousData },
  });
}

/** Kinds of coats, looks, sizes, and what stands in the way of layers and coats. */
export function usePainting() {
  const revision = useDocument((store) => store.state?.revision);
  return useGet("/api/projects/{project_id}/painting", {
    stamp: [revision],
    options: { placeholderData: keepPreviousData },
  }).data;
}

/** Shares before and after sharing, overlap, and the target's budgets. */
export function useLayerReport() {
  const revision = useDocument((store) => store.state?.revision);
  return useGet("/api/projects/{project_id}/layers/report", {
    stamp: [revision],
    options: { placeholderData: keepPreviousData },
  }).data;
}

/** Why a place of the home grid is the ground and the colour that it is. */
export function useWhy(place: { row: number; col: number } | null) {
  const revision = useDocument((store) => store.state?.revision);
  return useGet("/api/projects/{project_id}/why", {
    query: place ?? { row: 0, col: 0 },
    stamp: [revision],
    options: { enabled: place !== null, placeholderData: keepPreviousData },
  });
}

/** Why a place of the home grid is in a mask or out of it, line by line. */
export function useWhyMask(mask: string | null, place: { row: number; col: number } | null) {
  const revision = useDocument((store) => store.state?.revision);
  return useGet("/api/projects/{project_id}/why/{mask_id}", {
    path: { mask_id: mask ?? "" },
    query: place ?? { row: 0, col: 0 },
    stamp: [revision],
    options: { enabled: mask !== null && place !== null, placeholderData: sameAs(2, { mask_id: mask ?? "" }) },
  });
}

/** The watched file of the heightmap; looked at every few seconds while there is one. */
export function useWatch() {
  return useGet("/api/projects/{project_id}/watch", {
    options: {
      staleTime: 0,
      retry: false,
      refetchInterval: (query) => (query.state.data?.file ? 3000 : false),
    },
  });
}

/** Files of this machine that may be watched. */
export function useFolderFiles(wanted: boolean) {
  return useQuery({
    queryKey: ["folder-files"],
    queryFn: () => ask(client.GET("/api/folder-files")),
    enabled: wanted,
    staleTime: 0,
  });
}

/** What the newest comparison of draft and final found; asked again while one is being made. */
export function useFinals() {
  const revision = useDocument((store) => store.state?.revision);
  return useGet("/api/projects/{project_id}/finals", {
    stamp: [revision],
    options: {
      placeholderData: keepPreviousData,
      refetchInterval: (query) => (query.state.data?.job ? 700 : false),
    },
  });
}

export function useKits() {
  return useQuery({ queryKey: ["kits"], queryFn: () => ask(client.GET("/api/kits")) });
}

/** Points of what is scattered: rows of east, south, height, size, turn. */

export function useScatterPoints(scatter: string | null) {
  const state = useDocument((store) => store.state);
  return useQuery({
    queryKey: ["scatter", state?.id, scatter, state?.revision],
    queryFn: async (): Promise<Points> =>
      readPoints(await fetch(`/api/projects/${state?.id ?? ""}/scatters/${scatter ?? ""}/points`)),
    enabled: state !== null && scatter !== null,
    placeholderData: (before, query) => (query?.queryKey[2] === scatter ? before : undefined),
    staleTime: Infinity,
    retry: false,
  });
}
