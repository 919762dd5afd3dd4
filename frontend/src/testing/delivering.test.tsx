import { cleanup, fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Delivery, ProjectState } from "../api/types";
import { DeliveryCard } from "../waypoints/delivery/DeliveryCard";
import { FitCard } from "../waypoints/fit/FitCard";
import { ApartDialog } from "../waypoints/packing/ApartDialog";
import { PackingCard } from "../waypoints/packing/PackingCard";
import { useView } from "../viewport/view";
import { renderCard } from "./card";
import { testState } from "./state";

afterEach(cleanup);

const P = "/api/projects/{project_id}";
const click = (name: string | RegExp) => fireEvent.click(screen.getByRole("button", { name }));
const pick = (name: string | RegExp) => fireEvent.click(screen.getByRole("menuitem", { name }));

function with_(change: (state: ProjectState) => void): ProjectState {
  const state = testState();
  change(state);
  return state;
}

/** What the server answers to a file that is sent from now on. */
function answering(body: object, status = 200) {
  vi.stubGlobal("fetch", () => Promise.resolve(new Response(JSON.stringify(body), { status })));
}

describe("the packing card", () => {
  it("says that weights add up, and not while one is missing or filled by the rest", () => {
    renderCard(<PackingCard />);
    expect(screen.getByText(/The weights of splat_a add up to full scale/)).toBeTruthy();
    cleanup();
    const without = with_((made) => {
      const [sheet] = made.document.sheets;
      if (sheet) sheet.g = null;
    });
    renderCard(<PackingCard />, without);
    expect(screen.queryByText(/add up to full scale/)).toBeNull();
    cleanup();
    const turned = with_((made) => {
      const source = made.document.sheets[0]?.g;
      if (source) source.turned = true;
    });
    renderCard(<PackingCard />, turned);
    expect(screen.queryByText(/add up to full scale/)).toBeNull();
  });

  it("puts another map into a channel and gives a sheet fewer channels", async () => {
    const { edits } = renderCard(<PackingCard />);
    click("What A of splat_a carries: empty");
    pick("Rest of this sheet");
    await waitFor(() => expect(edits.length).toBe(1));
    click(/^Channels of splat_a/);
    pick("RGB 8");
    expect(edits.map(([edit]) => (edit as { sheet: unknown }).sheet)).toMatchObject([
      { a: { kind: "rest" } },
      { layout: "rgb", bits: 8 },
    ]);
  });
});

const job = { id: "j", kind: "delivery", state: "done", progress: 1, message: "", cancel: false, number: 1 };
const delivery = (more: object = {}): Delivery =>
  ({
    number: 1,
    name: "",
    kept: "",
    revision: 7,
    job,
    folder: "somewhere",
    fit: null,
    fit_at: null,
    check: null,
    files: [
      { file: "moor_height.png", bytes: 2000000, key: "a1" },
      { file: "moor_splat.png", bytes: 1000000, key: "old" },
    ],
    ...more,
  }) as unknown as Delivery;
const lists = (deliveries: Delivery[]) =>
  [
    [`${P}/jobs`, {}, []],
    [`${P}/deliveries`, { stamp: [""] }, deliveries],
  ] as Parameters<typeof renderCard>[2];

describe("the delivery card", () => {
  const choice = { deliver: null, form: null, turn: "none", resampling: "box", alpha: true, packed: true, blocks: 0 };
  const form = { id: "png8", title: "PNG 8", loss: null, remark: "", endings: false, orders: false, packs: false };
  const item = {
    of: "sheet:splat",
    kind: "sheet",
    title: "splat_a",
    group: "weights",
    name: "moor_splat.png",
    files: 1,
    form: "png8",
    format: "PNG 8",
    bits: 8,
    channels: ["r", "g", "b", "a"],
    rows: 1009,
    cols: 1009,
    bytes: 9,
    space: "data",
    ends: "",
    resampled: "on the samples of the ground",
    registration: "vertex",
    tiles: [1, 1],
    free_size: false,
    choice: { of: "sheet:splat", ...choice },
    forms: [form, { ...form, id: "bmp24", title: "BMP 24", loss: "A of splat_a would be lost." }],
  };
  const height = {
    ...item,
    of: "height",
    kind: "height",
    name: "moor_height.png",
    ends: "black 38 m, white 458 m",
    choice: { of: "height", ...choice },
  };
  const planned = {
    refused: null,
    groups: [
      { id: "height", title: "Height", items: [height] },
      { id: "weights", title: "Weights", items: [item] },
    ],
    others: [{ of: "mask:scree", title: "Scree", group: "By itself", choice: { of: "mask:scree", ...choice } }],
    bytes: 3e6,
    files: 2,
    numbers: [{ title: "Metres a step", value: "0.0064 m", why: "" }],
    trial: null,
    tokens: ["{map}"],
    pattern: "{map}",
    height_tiles: [2, 2],
    tile_names: { ends: "_x{x}_y{y}", first: 0, digits: 1, rows: "as_files", columns: "as_files" },
    kinds: [
      { kind: "weights", title: "Weights", rows: 9, cols: 9, registration: "vertex", free: true, own: true, says: "" },
      {
        kind: "colour",
        title: "Near colour",
        rows: 4,
        cols: 4,
        registration: "area",
        free: false,
        own: false,
        says: "",
      },
    ],
  };
  it("lists what will be written, and what an earlier delivery lacks since", () => {
    const made = delivery({ maps: 2, only: [], placed: null });
    renderCard(<DeliveryCard />, testState(), [[`${P}/plan`, { stamp: [7] }, planned], ...(lists([made]) ?? [])]);
    expect(screen.getByRole("button", { name: "Deliver 2 files" })).toHaveProperty("disabled", false);
    expect(screen.getByText("black 38 m, white 458 m")).toBeTruthy();
    expect(screen.getByText("0.0064 m")).toBeTruthy();
    const piece = screen.getByRole("group", { name: "Delivery 1" });
    expect(piece.textContent).toContain("The project has changed since: moor_splat.png");
    expect(within(piece).getByRole("link", { name: "Zip, 3.0 MB" })).toBeTruthy();
  });

  it("tells what a format would lose, opens one file, and changes several at once", () => {
    const { last } = renderCard(<DeliveryCard />, testState(), [
      [`${P}/plan`, { stamp: [7] }, planned],
      ...(lists([]) ?? []),
    ]);
    click("Format of moor_splat.png: PNG 8");
    expect(screen.getByRole("menuitem", { name: "BMP 24: A of splat_a would be lost." })).toBeTruthy();
    fireEvent.keyDown(screen.getByRole("menu"), { key: "Escape" });
    click("Look at moor_splat.png");
    expect(useView.getState().written).toMatchObject({ name: "moor_splat.png", tiles: [1, 1] });
    const details = within(screen.getByRole("group", { name: "Details of moor_splat.png" }));
    fireEvent.change(details.getByLabelText(/^Name/), { target: { value: "splat_of_mine" } });
    fireEvent.blur(details.getByLabelText(/^Name/));
    expect(last()).toMatchObject({ op: "set_items", items: [{ of: "sheet:splat", file: "splat_of_mine" }] });
    fireEvent.click(screen.getByRole("checkbox", { name: "Choose moor_height.png" }));
    fireEvent.click(screen.getByRole("checkbox", { name: "Choose moor_splat.png" }));
    click("Leave them out");
    expect(last()).toMatchObject({
      items: [
        { of: "height", deliver: false },
        { of: "sheet:splat", deliver: false },
      ],
    });
    click("Another map: choose…");
    pick("Scree");
    expect(last()).toMatchObject({ op: "set_items", items: [{ of: "mask:scree", deliver: true }] });
  });

  it("shows what black and white stand for as the server says, and only where they can be typed", () => {
    const typed = { black: 16, white: 9000, unit: "m²", log: true };
    const flow = {
      ...item,
      of: "reading:flow",
      kind: "map",
      name: "moor_flow.png",
      channels: ["r"],
      typed,
      choice: { of: "reading:flow", ...choice },
    };
    const groups = [{ id: "alone", title: "By itself", items: [{ ...height, typed: null }, flow] }];
    const { last } = renderCard(<DeliveryCard />, testState(), [
      [`${P}/plan`, { stamp: [7] }, { ...planned, groups }],
      ...(lists([]) ?? []),
    ]);
    click("Look at moor_height.png");
    expect(screen.queryByLabelText("Black stands for")).toBeNull();
    click("Look at moor_flow.png");
    expect(screen.getByLabelText("White stands for").getAttribute("aria-valuenow")).toBe("9000");
    fireEvent.keyDown(screen.getByLabelText("White stands for"), { key: "ArrowUp" });
    fireEvent.blur(screen.getByLabelText("White stands for"));
    expect(last()).toMatchObject({ items: [{ of: "reading:flow", black: 16, white: 9900 }] });
    expect(screen.getByText(/on the logarithm/)).toBeTruthy();
  });

  it("names and leaves out many at once, chooses tiles, and numbers what the ground is made of", () => {
    const free = { ...planned, groups: [{ id: "w", title: "W", items: [{ ...item, free_size: true }] }] };
    const { last } = renderCard(<DeliveryCard />, testState(), [
      [`${P}/plan`, { stamp: [7] }, free],
      ...(lists([]) ?? []),
    ]);
    fireEvent.click(screen.getByRole("checkbox", { name: "Choose moor_splat.png" }));
    const several = within(screen.getByRole("group", { name: "1 files chosen" }));
    const name = several.getByLabelText("Name of all that are chosen");
    fireEvent.change(name, { target: { value: "{map}_{size}" } });
    fireEvent.keyDown(name, { key: "Enter" });
    expect(last()).toMatchObject({ op: "set_items", items: [{ of: "sheet:splat", file: "{map}_{size}" }] });
    fireEvent.keyDown(several.getByRole("spinbutton", { name: "Columns of all that are chosen" }), { key: "ArrowUp" });
    expect(last()).toMatchObject({ items: [{ cols: item.cols + 1, rows: item.rows }] });

    click("Only some tiles…");
    click("Tile 2 from the west, 1 from the north");
    expect(screen.getByRole("button", { name: "Write them again" })).toHaveProperty("disabled", false);

    click(/^One more class of the ground/);
    pick("Scree");
    expect(last()).toMatchObject({
      op: "set_classes",
      classes: { classes: [{ number: 1, name: "Scree" }], holes: null },
    });
    click(/^Where the ground is open/);
    pick("Scree is above a half");
    expect(last()).toMatchObject({ op: "set_classes", classes: { holes: "scree" } });
  });

  it("gives kinds of maps sizes of their own, and numbers tiles", () => {
    const { last } = renderCard(<DeliveryCard />, testState(), [
      [`${P}/plan`, { stamp: [7] }, planned],
      ...(lists([]) ?? []),
    ]);
    click(/^Size: /);
    fireEvent.keyDown(screen.getByRole("spinbutton", { name: "Rows of Weights" }), { key: "ArrowUp" });
    expect(last()).toMatchObject({ delivery: { sizes: [{ kind: "weights", cols: 9, rows: 10 }] } });
    click("as the target has it");
    expect(last()).toMatchObject({ delivery: { sizes: [] } });
    expect(screen.queryByRole("spinbutton", { name: "Rows of Near colour" })).toBeNull();
    cleanup();
    const names = renderCard(<DeliveryCard />, testState(), [[`${P}/plan`, { stamp: [7] }, planned]]);
    click(/^Names of files/);
    fireEvent.keyDown(screen.getByRole("spinbutton", { name: "First number of tiles" }), { key: "ArrowUp" });
    expect(names.last()).toMatchObject({ delivery: { tile_names: { first: 1, digits: 1 } } });
    click(/^Where rows of tiles are counted from/);
    pick("the south");
    expect(names.last()).toMatchObject({ delivery: { tile_names: { rows: "south" } } });
  });

  it("refuses with the reason, and cannot be started then", () => {
    renderCard(<DeliveryCard />, testState(), [
      [`${P}/plan`, { stamp: [7] }, { ...planned, refused: "The size is not legal.", groups: [] }],
      ...(lists([]) ?? []),
    ]);
    expect(screen.getByRole("button", { name: /^Deliver/ })).toHaveProperty("disabled", true);
    expect(screen.getByText("The size is not legal.")).toBeTruthy();
  });
});

describe("the fit card", () => {
  const finding = {
    kind: "orientation",
    severity: "error",
    file: "moor_splat.png",
    message: "It is flipped.",
    fix: "Flip it.",
    title: "Another orientation",
    share: 1,
    remedy: "deliver",
    typed: false,
  };
  const map = { kind: "sheet", compared: "samples", shown: "", channels: ["r"], full: 255, words: "as meant" };
  const fit = {
    fits: false,
    files: 2,
    findings: [finding],
    maps: [
      { ...map, of: "height", title: "Height", files: ["moor_height.png"], state: "exact" },
      {
        ...map,
        of: "sheet:a",
        title: "splat",
        files: ["moor_splat.png"],
        state: "wrong",
        words: "up to 250 steps off",
      },
    ],
    facts: [],
    check_points: [],
    height_error_steps: 0,
    height_step: 1,
  };
  it("waits for files, then for a check", () => {
    renderCard(<FitCard />, testState(), lists([]));
    expect(screen.getByRole("button", { name: "Check the fit" })).toHaveProperty("disabled", true);
    cleanup();
    renderCard(<FitCard />, testState(), lists([delivery()]));
    expect(screen.getByText(/Not checked yet/)).toBeTruthy();
  });

  it("names how many files do not fit, what is wrong and what to do", () => {
    renderCard(<FitCard />, testState(), lists([delivery({ fit })]));
    const told = "One thing does not fit1 of 2 maps are as they were meant.";
    expect(screen.getByTestId("verdict").textContent).toContain(told);
    expect(screen.getByText("It is flipped.").parentElement?.textContent).toContain("Explains 100.0 %");
    expect(screen.getByRole("button", { name: "Write it again" })).toBeTruthy();
    expect(screen.getByRole("list", { name: "Maps read back" }).textContent).toContain("up to 250 steps off");
    cleanup();
    const both = { ...fit, findings: [finding, { ...finding, kind: "gamma", message: "It is bent, too." }] };
    renderCard(<FitCard />, testState(), lists([delivery({ fit: both })]));
    expect(screen.getByTestId("verdict").textContent).toContain("One thing does not fit2 faults in it. 1 of 2 maps");
  });
});

describe("a packed image taken apart", () => {
  const seen = (channel: string, more: object = {}) => ({
    channel,
    low: 0,
    high: 1,
    mean: 0.4,
    same: "",
    picture: "data:,",
    ...more,
  });
  const image = {
    asset: "a".repeat(64),
    name: "old_splat.png",
    rows: 9,
    cols: 9,
    bits: 8,
    samples: "border",
    alpha: "Alpha is data here.",
    channels: [seen("r"), seen("g", { same: "r" }), seen("b", { high: 0 }), seen("a")],
  };

  it("takes what differs, under names that are free, as masks in one edit", async () => {
    const { edits } = renderCard(<ApartDialog open onClose={() => undefined} />);
    answering(image);
    fireEvent.change(screen.getByTestId("apart-file"), { target: { files: [new File(["x"], "old_splat.png")] } });
    expect(await screen.findByText("Alpha is data here.")).toBeTruthy();
    const taken = () => screen.getAllByRole("checkbox").map((box) => (box as HTMLInputElement).checked);
    expect(taken()).toEqual([true, false, false, true]);
    expect(screen.getByText(/the same as R/)).toBeTruthy();
    expect(screen.getByText(/the same everywhere/)).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Name of A"), { target: { value: "Snow" } });
    click("Make 2 masks");
    await waitFor(() => expect(edits.length).toBe(1));
    const [first, , , last] = (edits[0] ?? []) as unknown as Record<string, Record<string, unknown>>[];
    expect(edits[0]?.map((edit) => edit.op)).toEqual(["add_reading", "add_mask", "add_reading", "add_mask"]);
    expect(first?.["setting"]?.["numbers"]).toMatchObject({ asset: image.asset, channel: "r", samples: "border" });
    expect(last?.["mask"]?.["name"]).toBe("Snow");
  });

  it("tells why an image cannot be taken, and makes nothing of it", async () => {
    const { edits } = renderCard(<ApartDialog open onClose={() => undefined} />);
    answering({ code: "bad-file", detail: "The file ends early." }, 422);
    fireEvent.change(screen.getByTestId("apart-file"), { target: { files: [new File(["x"], "cut.png")] } });
    expect(await screen.findByText(/The file ends early/)).toBeTruthy();
    expect(screen.getByRole("button", { name: /^Make/ })).toHaveProperty("disabled", true);
    expect(edits).toEqual([]);
  });
});
