import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { client } from "../api/client";
import type { Inspection } from "../api/types";
import { ReplaceDialog } from "../waypoints/ground/ReplaceDialog";
import { useReplacing } from "../document/replacing";
import { renderCard } from "./card";
import { testState } from "./state";

afterEach(cleanup);

const { ground } = testState().document;
const found = {
  asset: "1".repeat(64),
  name: "hills.png",
  format: "png",
  depth: "16",
  rows: ground.rows,
  columns: ground.cols,
  low: ground.stored_low,
  high: ground.stored_high,
  levels: 40000,
  findings: [],
  channels: [],
  notes: [],
  sizes: [],
} as unknown as Inspection;

it("stops comparing heights when asked to, tells so, and compares again", async () => {
  useReplacing.setState({ coming: { kind: "watched", found } });
  const asked: AbortSignal[] = [];
  vi.spyOn(client, "POST").mockImplementation(((path: string, sent: { signal: AbortSignal }) => {
    if (path.endsWith("/height-change")) asked.push(sent.signal);
    return new Promise(() => undefined);
  }) as unknown as typeof client.POST);
  renderCard(<ReplaceDialog />);
  const told = screen.getByTestId("what-changes");
  fireEvent.click(await screen.findByRole("button", { name: "Stop" }));
  await waitFor(() => expect(told.textContent).toContain("Not compared."));
  fireEvent.click(screen.getByRole("button", { name: "Compare the heights" }));
  await waitFor(() => expect(asked.map((signal) => signal.aborted)).toEqual([true, false]));
  // It can be replaced without having been compared.
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Replace" }).disabled).toBe(false);
});
