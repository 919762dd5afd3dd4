import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen, within } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, describe, expect, it } from "vitest";
import type { Delivery, Fit, Job, ProjectState } from "../api/types";
import { getOptions } from "../document/useGet";
import { useDocument } from "../document/document";
import { testState } from "../testing/state";
import { WAYPOINTS } from "../waypoints/register";
import { Trail } from "./Trail";

afterEach(cleanup);

function job(state: Job["state"], progress = 1): Job {
  return {
    id: "j",
    kind: "delivery",
    state,
    attempt: 1,
    progress,
    message: "",
    error: null,
    cancel: false,
    number: 1,
    created_at: "",
    started_at: null,
    finished_at: null,
  };
}

function delivery(part: Partial<Delivery> = {}): Delivery {
  return {
    number: 1,
    name: "",
    kept: "",
    revision: 7,
    job: job("done"),
    files: [
      { file: "a.png", bytes: 1, key: "a1" },
      { file: "b.png", bytes: 1, key: "b1" },
    ],
    maps: 2,
    only: [],
    tiles: [],
    again: false,
    placed: null,
    folder: "",
    fit: null,
    fit_at: null,
    check: null,
    ...part,
  };
}

function fit(errors: number): Fit {
  const finding = { kind: "orientation", severity: "error", message: "", fix: "" } as const;
  const more = { title: "", share: null, remedy: "deliver", typed: false } as const;
  return {
    fits: errors === 0,
    files: 2,
    compared_in_full: true,
    // Two findings of one file are one thing that does not fit.
    findings: Array.from({ length: errors }, (_, i) => ({ ...finding, ...more, file: `${i}.png` })).flatMap((one) => [
      one,
      { ...one, kind: "gamma" },
    ]),
    facts: [],
    check_points: [],
    typed_in: { numbers: {}, left_on: [], points: [] },
    height_step: 1,
    height_error_steps: 0,
    target: "Block grid",
  };
}

/** The trail of a project with these deliveries; answers sign and words of a waypoint. */
function trail(change: (state: ProjectState) => void = () => undefined, deliveries: Delivery[] = []) {
  const state = testState();
  change(state);
  useDocument.setState({ state });
  const cache = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity, retry: false } } });
  cache.setQueryData(getOptions("/api/projects/{project_id}/jobs", state.id).queryKey, []);
  const listed = getOptions("/api/projects/{project_id}/deliveries", state.id, { stamp: [""] });
  cache.setQueryData(listed.queryKey, deliveries);
  render(
    <QueryClientProvider client={cache}>
      <MemoryRouter>
        <Trail here={WAYPOINTS[2] ?? null} />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return (name: string) => {
    const link = screen.getByRole("link", { name: new RegExp(name) });
    return `${within(link).getByRole("img").getAttribute("aria-label") ?? ""}: ${link.textContent.replace(name, "")}`;
  };
}

describe("the trail says how far everything is, in sign and words", () => {
  it("of a project that has everything but files", () => {
    const says = trail();
    expect(says("Ground")).toBe("done: 16-bit, 4 m apart");
    expect(says("Readings")).toBe("done: 3 ready");
    expect(says("Masks")).toBe("done: 1");
    expect(says("Layers")).toBe("done: 1 + base");
    expect(says("Packing")).toBe("done: 1 sheet");
    expect(says("Delivery")).toBe("waiting: not run yet");
    expect(says("Fit check")).toBe("waiting: waits for files");
    expect(screen.getByRole("link", { current: "step" }).textContent).toContain("Masks");
  });

  it("of an empty project", () => {
    const says = trail((state) => {
      Object.assign(state.document, { masks: [], layers: [], sheets: [] });
    });
    expect(says("Masks")).toBe("waiting: none yet");
    expect(says("Layers")).toBe("waiting: only the base");
    expect(says("Packing")).toBe("waiting: no sheets yet");
  });

  it("counts masks that nothing uses", () => {
    const says = trail((state) => {
      const extra = { id: "old", name: "Old walls", lines: [] };
      Object.assign(state.document, { masks: [...state.document.masks, extra] });
    });
    expect(says("Masks")).toBe("done: 2 · 1 unused");
  });

  it("asks for attention where something is missing or not legal", () => {
    const says = trail((state) => {
      state.cautions.push({ waypoint: "packing", message: "Channel A is empty.", short: "empty channels" });
      state.cautions.push({ waypoint: "delivery", message: "The ground has gaps.", short: "gaps to fill" });
    });
    expect(says("Packing")).toBe("needs attention: 1 to look at");
    expect(says("Delivery")).toBe("needs attention: gaps to fill");
  });

  it.each([
    ["in part: 40 %", delivery({ job: job("running", 0.4) }), "waiting: waits for files"],
    ["needs attention: failed", delivery({ job: job("failed") }), "waiting: waits for files"],
    ["waiting: not run yet", delivery({ job: job("cancelled") }), "waiting: waits for files"],
    ["done: 2 files, whole", delivery(), "in part: not checked yet"],
    [
      "needs attention: needs running again",
      delivery({ files: [{ file: "a.png", bytes: 1, key: "older" }], fit: fit(0) }),
      "done: all fit",
    ],
    ["done: 2 files, whole", delivery({ fit: fit(0), check: job("failed") }), "needs attention: check failed"],
    ["done: 2 files, whole", delivery({ fit: fit(0), check: job("running") }), "done: all fit"],
    ["needs attention: a file does not fit", delivery({ fit: fit(1) }), "needs attention: 1 does not fit"],
    ["needs attention: a file does not fit", delivery({ fit: fit(2) }), "needs attention: 2 do not fit"],
  ])("says %s of a delivery", (expected, item, checked) => {
    const says = trail(undefined, [item]);
    expect(says("Delivery")).toBe(expected);
    expect(says("Fit check")).toBe(checked);
  });

  it("keeps speaking of the last whole delivery while a new one runs", () => {
    const says = trail(undefined, [
      delivery({ number: 2, job: job("running", 0.1) }),
      delivery({ number: 1, fit: fit(0) }),
    ]);
    expect(says("Delivery")).toBe("in part: 10 %");
    expect(says("Fit check")).toBe("done: all fit");
  });
});
