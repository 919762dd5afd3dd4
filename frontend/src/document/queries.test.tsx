import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, waitFor } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { useDocument } from "./document";
import { testState } from "../testing/state";
import { client } from "../api/client";
import { useDeliveries, useJobActions } from "./queries";
import { getOptions } from "./useGet";

const JOBS = "/api/projects/{project_id}/jobs";

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

it("gives up an answer that was on its way when something was started", async () => {
  // The first list is asked for before the delivery begins, and comes after it.
  const waiting: ((list: object[]) => void)[] = [];
  const answer = (async (path: string) => ({
    data: path.endsWith("/jobs") ? [] : await new Promise((resolve) => waiting.push(resolve)),
    response: new Response(),
  })) as unknown as typeof client.GET;
  vi.spyOn(client, "GET").mockImplementation(answer);
  let look: () => Promise<unknown> = () => Promise.resolve();
  let shown: number | undefined;
  function Looking() {
    look = useJobActions().look;
    shown = useDeliveries().data?.length;
    return null;
  }
  useDocument.setState({ state: testState() });
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Looking />
    </QueryClientProvider>,
  );
  // Once before the jobs are known, once with them.
  await waitFor(() => expect(waiting.length).toBe(2));
  const looked = look();
  await waitFor(() => expect(waiting.length).toBe(3));
  waiting.forEach((resolve, k) => resolve(k < 2 ? [] : [{ number: 1, job: { state: "done" } }]));
  await looked;
  await waitFor(() => expect(shown).toBe(1));
});

it("shows no list of deliveries again that was there before a job", async () => {
  const delivery = (check: string | null, fit: object | null) => [{ number: 1, job: { state: "done" }, check, fit }];
  let jobs: object[] = [];
  let deliveries: object[] = delivery(null, null);
  const answer = ((path: string) =>
    Promise.resolve({
      data: path.endsWith("/jobs") ? jobs : deliveries,
      response: new Response(),
    })) as unknown as typeof client.GET;
  vi.spyOn(client, "GET").mockImplementation(answer);
  const seen: string[] = [];
  let look: () => Promise<unknown> = () => Promise.resolve();
  function Looking() {
    look = useJobActions().look;
    const [one] = useDeliveries().data ?? [];
    const now = one ? (one.fit ? "checked" : one.check ? "checking" : "not checked") : "nothing";
    if (seen.at(-1) !== now) seen.push(now);
    return null;
  }
  const state = testState();
  const cache = new QueryClient();
  useDocument.setState({ state });
  render(
    <QueryClientProvider client={cache}>
      <Looking />
    </QueryClientProvider>,
  );
  await waitFor(() => expect(seen.at(-1)).toBe("not checked"));
  jobs = [{ id: "j" }];
  deliveries = delivery("running", null);
  await look();
  await waitFor(() => expect(seen.at(-1)).toBe("checking"));
  // The deliveries happen to be looked at first after the end, and only then the jobs.
  deliveries = delivery(null, {});
  await waitFor(() => expect(seen.at(-1)).toBe("checked"), { timeout: 5000 });
  jobs = [];
  await waitFor(() => expect(cache.getQueryData(getOptions(JOBS, state.id).queryKey)).toEqual([]));
  await waitFor(() => expect(cache.isFetching()).toBe(0));
  expect(seen).toEqual(["nothing", "not checked", "checking", "checked"]);
});
