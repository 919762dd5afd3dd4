import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { client } from "../api/client";
import { SizeDialog } from "../delivery/SizeDialog";
import { renderCard } from "./card";

afterEach(cleanup);

const size = (cols: number) => ({ rows: cols, cols, spacing_x: 2, spacing_y: 2, bytes: 2e6, own: false });

it("says that sizes are coming, why they cannot be had, and asks again", async () => {
  const answers: ((answer: object) => void)[] = [];
  vi.spyOn(client, "GET").mockImplementation(
    ((path: string) =>
      new Promise((answer) => path.endsWith("/sizes") && answers.push(answer))) as unknown as typeof client.GET,
  );
  const { edits } = renderCard(<SizeDialog open onClose={() => undefined} />);
  expect(screen.getByText("Sizes are coming…")).toBeTruthy();
  answers[0]?.({ error: { detail: "The store is busy." }, response: new Response(null, { status: 503 }) });
  fireEvent.click(await screen.findByRole("button", { name: "Ask again" }));
  expect(screen.getByRole("alert").textContent).toContain("The store is busy.");
  await waitFor(() => expect(answers).toHaveLength(2));
  answers[1]?.({ data: [size(1009), size(505)], response: new Response() });
  expect(await screen.findByRole("option", { name: /^1009/ })).toHaveProperty("disabled", false);
  expect(screen.queryByRole("alert")).toBeNull();
  // The first is none of those near to what is typed before they are here: it cannot be taken by mistake.
  fireEvent.change(screen.getByRole("textbox"), { target: { value: "31" } });
  fireEvent.click(screen.getAllByRole("option")[0] as HTMLElement);
  expect(edits).toEqual([]);
  await waitFor(() => expect(answers).toHaveLength(3));
  answers[2]?.({ data: [size(33), size(17)], response: new Response() });
  fireEvent.click(await screen.findByRole("option", { name: /^33/ }));
  await waitFor(() => expect(edits[0]?.[0]).toMatchObject({ delivery: { cols: 33 } }));
});
