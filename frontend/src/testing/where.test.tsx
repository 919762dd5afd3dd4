import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { client } from "../api/client";
import { DestinationToken } from "../waypoints/delivery/DestinationToken";
import { SizeDialog } from "../waypoints/delivery/SizeDialog";
import { TargetDialog } from "../waypoints/delivery/TargetDialog";
import { Trial } from "../waypoints/delivery/Trial";
import { useView } from "../viewport/view";
import { renderCard } from "./card";
import { testState } from "./state";

afterEach(cleanup);

const P = "/api/projects/{project_id}";
const click = (name: string | RegExp) => fireEvent.click(screen.getByRole("button", { name }));

describe("where it goes and how large", () => {
  const rules = { id: "block-grid", title: "Block grid", sizes: { kind: "blocks" } };
  const place = {
    id: "block-grid",
    title: "Block grid",
    sentence: "Equal blocks.",
    own: false,
    sentences: [{ title: "Sizes", sentence: "Blocks of 63 cells." }],
    rules,
  };
  const anywhere = { ...place, id: "plain", title: "Plain", rules: { ...rules, id: "plain", sizes: { kind: "any" } } };
  const own = { ...anywhere, id: "ours", title: "Ours", own: true };
  const targets = [`${P}/targets`, { stamp: ["[]"] }, [place, anywhere, own]];
  const answers = (...more: unknown[]) => [targets, ...more] as Parameters<typeof renderCard>[2];
  const size = (cols: number, own = false) => ({ rows: cols, cols, spacing_x: 2, spacing_y: 2, bytes: 2e6, own });
  const every = [size(1009, true), size(505), size(2017)];
  const sizes = (near: number | null) => [`${P}/sizes`, { query: { near }, stamp: [7] }, every];
  const project = (target = "block-grid") => {
    const state = testState();
    Object.assign(state.document, { targets: [] });
    Object.assign(state.home, { width: 4032, length: 4032 });
    state.document.delivery.target = target;
    return state;
  };

  it("puts sizes near to what is typed first, and takes one", async () => {
    const { edits, last } = renderCard(
      <SizeDialog open onClose={() => undefined} />,
      project(),
      answers(sizes(null), sizes(2000)),
    );
    const offered = () => screen.getAllByRole("option").map((item) => item.querySelector("b")?.textContent);
    expect(offered()).toEqual(["1009 × 1009", "505 × 505", "2017 × 2017"]);
    expect(screen.getByRole("option", { name: /the ground's own/ }).getAttribute("aria-selected")).toBe("true");
    fireEvent.change(screen.getByRole("textbox"), { target: { value: "2000" } });
    expect(offered()).toEqual(["2017 × 2017", "1009 × 1009", "505 × 505"]);
    expect(screen.queryByRole("button", { name: /^Take/ })).toBeNull();
    fireEvent.click(screen.getByRole("option", { name: /^2017/ }));
    await waitFor(() => expect(edits.length).toBe(1));
    expect(last()).toMatchObject({ op: "set_delivery", delivery: { rows: 2017, cols: 2017, target: "block-grid" } });
  });

  it("takes any size, also one that is not square, where the rules let it", () => {
    const { last } = renderCard(
      <SizeDialog open onClose={() => undefined} />,
      project("plain"),
      answers(sizes(null), sizes(640)),
    );
    fireEvent.change(screen.getByRole("textbox"), { target: { value: "640 x 320" } });
    click("Take 640 × 320");
    expect(last()).toMatchObject({ delivery: { cols: 640, rows: 320 } });
  });

  it("says what choosing a target changes before it is chosen", () => {
    const change = { sentences: ["The size becomes 1024 × 1024."] };
    const { last } = renderCard(
      <TargetDialog open onClose={() => undefined} />,
      project(),
      answers([`${P}/target-change`, { query: { target: "plain" }, stamp: [7] }, change]),
    );
    expect(screen.getByRole("button", { name: "Deliver to Block grid" })).toHaveProperty("disabled", true);
    fireEvent.click(screen.getByRole("option", { name: "Plain" }));
    expect(screen.getByText("The size becomes 1024 × 1024.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Delete" })).toBeNull();
    click("Deliver to Plain");
    expect(last()).toMatchObject({ op: "choose_target", target: "plain" });
    fireEvent.click(screen.getByRole("option", { name: /^Ours/ }));
    click("Delete");
    expect(last()).toMatchObject({ op: "delete_target", target: "ours" });
  });

  it("refuses a file that is no target, with the server's reason", async () => {
    renderCard(<TargetDialog open onClose={() => undefined} />, project(), answers());
    const bring = (text: string) =>
      fireEvent.change(screen.getByTestId("target-file"), { target: { files: [new File([text], "mine.json")] } });
    bring("{");
    expect(await screen.findByText(/^mine.json is no JSON/)).toBeTruthy();
    const asked = vi.spyOn(client, "POST").mockResolvedValue({
      data: { trouble: "The target: sizes: Field required.", rules: null },
      response: new Response(),
    } as never);
    bring('{"id": "mine"}');
    expect(await screen.findByText("The target: sizes: Field required.")).toBeTruthy();
    expect(asked).toHaveBeenCalledTimes(1);
    expect(screen.getByRole("listbox", { name: "Targets" })).toBeTruthy();
  });

  it("delivers a part: put on the plan, kept within the ground, given up again", () => {
    useView.setState({ cropping: null });
    const { last } = renderCard(<Trial trial={null} />, project());
    click("Only a part, to try…");
    expect(useView.getState().cropping).toMatchObject({ width: 4032 * 0.3 });
    cleanup();
    useView.setState({ cropping: { west: -40, north: 10, width: 300, length: 200 } });
    const second = renderCard(<Trial trial={null} />, project());
    click("Deliver only this");
    expect(second.last()).toMatchObject({ delivery: { region: { east: 0, south: 10, width: 260, length: 200 } } });
    cleanup();
    useView.setState({ cropping: null });
    const part = { rows: 129, cols: 129, east: 0, south: 10, width: 256, length: 256 } as never;
    const third = renderCard(<Trial trial={part} />, project());
    expect(screen.getByText(/Only a part, to try: 129 × 129 samples/)).toBeTruthy();
    click("Deliver all of the ground");
    expect(third.last()).toMatchObject({ delivery: { region: null } });
    expect(last()).toBeUndefined();
  });

  it("offers folders of this machine only where some were allowed", () => {
    const at = [`${P}/destination`, {}];
    renderCard(<DestinationToken />, project(), [[...at, { allowed: false, chosen: null, places: [] }]] as never);
    expect(screen.queryByRole("button")).toBeNull();
    cleanup();
    const places = [{ folder: 0, name: "game/terrain", root: "work" }];
    renderCard(<DestinationToken />, project(), [
      [...at, { allowed: true, chosen: { folder: 0, name: "game/terrain" }, places }],
    ] as never);
    click("Folder of this machine: work / game / terrain");
    expect(screen.getAllByRole("menuitem").map((item) => item.textContent)).toEqual([
      "no folder",
      "work / game / terrain",
    ]);
  });

  it("says that sizes are coming, why they cannot be had, and asks again", async () => {
    const waiting: ((answer: object) => void)[] = [];
    vi.spyOn(client, "GET").mockImplementation(
      ((path: string) =>
        new Promise((answer) => path.endsWith("/sizes") && waiting.push(answer))) as unknown as typeof client.GET,
    );
    const { edits } = renderCard(<SizeDialog open onClose={() => undefined} />);
    expect(screen.getByText("Sizes are coming…")).toBeTruthy();
    waiting[0]?.({ error: { detail: "The store is busy." }, response: new Response(null, { status: 503 }) });
    fireEvent.click(await screen.findByRole("button", { name: "Ask again" }));
    expect(screen.getByRole("alert").textContent).toContain("The store is busy.");
    await waitFor(() => expect(waiting).toHaveLength(2));
    waiting[1]?.({ data: [size(1009), size(505)], response: new Response() });
    expect(await screen.findByRole("option", { name: /^1009/ })).toHaveProperty("disabled", false);
    expect(screen.queryByRole("alert")).toBeNull();
    // The first is none of those near to what is typed before they are here: it cannot be taken by mistake.
    fireEvent.change(screen.getByRole("textbox"), { target: { value: "31" } });
    fireEvent.click(screen.getAllByRole("option")[0] as HTMLElement);
    expect(edits).toEqual([]);
    await waitFor(() => expect(waiting).toHaveLength(3));
    waiting[2]?.({ data: [size(33), size(17)], response: new Response() });
    fireEvent.click(await screen.findByRole("option", { name: /^33/ }));
    await waitFor(() => expect(edits[0]?.[0]).toMatchObject({ delivery: { cols: 33 } }));
  });
});
