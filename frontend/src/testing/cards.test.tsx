import { cleanup, fireEvent, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeAll, describe, expect, it, vi } from "vitest";
import type { Coat, CoatKind, Painting, ProjectState, StepInfo } from "../api/types";
import { ColourCard } from "../waypoints/colour/ColourCard";
import { GroundCard } from "../waypoints/ground/GroundCard";
import { LayersCard } from "../waypoints/layers/LayersCard";
import { MasksCard } from "../waypoints/masks/MasksCard";
import { ReadingsCard } from "../waypoints/readings/ReadingsCard";
import { useView } from "../viewport/view";
import { renderCard } from "./card";
import { testSlot, testState } from "./state";

const FITTED = { low: 900, high: 1e9, fade_low: 1, fade_high: 0, black: 16, white: 9000, share: 0.3 };
vi.mock("../waypoints/recipe/fit", async (actual) => ({
  ...(await actual<object>()),
  fit: () => Promise.resolve(FITTED),
}));

beforeAll(() => {
  Object.assign(Element.prototype, { setPointerCapture: () => undefined, scrollIntoView: () => undefined });
});
afterEach(cleanup);

const P = "/api/projects/{project_id}";
type Answer = NonNullable<Parameters<typeof renderCard>[2]>[number];
const click = (name: string | RegExp) => fireEvent.click(screen.getByRole("button", { name }));
const pick = (name: string | RegExp) => fireEvent.click(screen.getByRole("menuitem", { name }));

function with_(change: (state: ProjectState) => void): ProjectState {
  const state = testState();
  change(state);
  return state;
}

describe("the ground's card", () => {
  const smooth: StepInfo = {
    kind: "smooth",
    title: "Smooth",
    hint: "calm the ground",
    sentence: "**Smooth** over {radius}, {keep}",
    slots: [
      testSlot("radius", "number", { title: "Radius", unit: "m", high: 100, step: 1 }),
      testSlot("keep", "optional", { title: "Edges kept", unit: "m", none: "edges too", some: "but not", value: 2 }),
    ],
    makes_grid: false,
    graded: true,
    moves: false,
    fills: false,
    tool: "",
    shows: "",
    fresh: { kind: "smooth", muted: false, amount: 1, where: [], radius: 12, keep: null },
  };
  const size: StepInfo = {
    ...smooth,
    kind: "resample",
    title: "Resample",
    fresh: { kind: "resample", rows: 2, cols: 2 },
  };
  const diagnosis = {
    low: 10,
    high: 90,
    findings: [
      {
        code: "noise",
        severity: "attention",
        title: "Rough",
        message: "It scatters.",
        where: false,
        mend: { kind: "smooth", radius: 7 },
      },
    ],
    steps: [
      {
        id: "s",
        stretched_before: 0.2,
        stretched_after: 0.1,
        low: 10,
        high: 88,
        rows: 2,
        cols: 2,
        says: "at rest: steepest face 30.0°",
      },
    ],
    legal: [
      { target: "Block grid", legal: false, message: "takes 9 × 9", mend: { kind: "resample", rows: 9, cols: 9 } },
    ],
  };
  const answers = (state: ProjectState) =>
    renderCard(<GroundCard />, state, [
      [`${P}/diagnosis`, { stamp: ["g1"] }, diagnosis],
      [`${P}/steps`, { stamp: ["g1"] }, [smooth, size]],
    ]);

  it("offers what mends an oddity and an illegal size, with the numbers that were found", () => {
    const { edits } = answers(testState());
    expect(screen.getByText("1 to look at")).toBeTruthy();
    click("Smooth");
    click("Resample");
    expect(edits.map(([edit]) => (edit as { step: unknown }).step)).toMatchObject([
      { kind: "smooth", radius: 7, keep: null },
      { kind: "resample", rows: 9, cols: 9 },
    ]);
  });

  it("adds a step as its kind begins, and changes it by its sentence", () => {
    const state = with_((made) => {
      made.document.ground.steps = [
        { id: "s", kind: "smooth", muted: false, amount: 1, where: [], radius: 12, keep: null },
      ];
    });
    const { last } = answers(state);
    expect(screen.getByTestId("step-smooth").textContent).toContain("Smooth over 12\u202fm, edges too");
    expect(screen.getByTestId("step-smooth").textContent).toContain("at rest: steepest face 30.0°");
    click("+ Then…");
    pick(/^Smooth/);
    expect(last()).toMatchObject({ op: "add_step", step: { kind: "smooth", radius: 12 } });
    click("Edges kept, or none: edges too");
    pick("but not");
    expect(last()).toMatchObject({ op: "set_step", step: { id: "s", keep: 2 } });
    click("Mute this step");
    expect(last()).toMatchObject({ op: "set_step", step: { muted: true } });
  });

  it("tells heights in another way without moving any, and what keeps its metres under another file", () => {
    const { last } = answers(testState());
    click("How heights are taken: from low to high");
    pick("by metres a step");
    expect(last()).toMatchObject({ op: "set_ground", heights: "step", metres_a_step: 80 / 65535, at_zero: 10 });
    click("How heights are taken: from low to high");
    pick("from black to white of the format");
    expect(last()).toMatchObject({ op: "set_ground", heights: "ends", at_black: 10, at_white: 90 });
    click(/^What keeps its metres under another file/);
    pick("its own lowest and highest stand for these");
    expect(last()).toMatchObject({ on_replace: "ends" });
    cleanup();
    const coded = answers(
      with_((made) => Object.assign(made.document.ground, { heights: "ends", at_black: 10, at_white: 90 })),
    );
    fireEvent.keyDown(screen.getByRole("spinbutton", { name: "White is" }), { key: "ArrowUp" });
    expect(coded.last()).toMatchObject({ op: "set_ground", at_white: 91 });
    expect(screen.queryByRole("button", { name: /^What keeps its metres/ })).toBeNull();
  });

  it("offers what takes an oddity of the document away", () => {
    const edit = { op: "set_ground", cells_reach: true };
    const finding = { code: "short-of-cells", severity: "attention", title: "Cut", message: "Cells.", where: false };
    const { last } = renderCard(<GroundCard />, testState(), [
      [
        `${P}/diagnosis`,
        { stamp: ["g1"] },
        { ...diagnosis, findings: [{ ...finding, mend: null, edit, offers: "Take cells as cells" }] },
      ],
      [`${P}/steps`, { stamp: ["g1"] }, [smooth, size]],
    ]);
    click("Take cells as cells");
    expect(last()).toEqual(edit);
  });

  it("types heights, and sets and takes away a water level", () => {
    const { last } = answers(testState({ water: 30 }));
    fireEvent.keyDown(screen.getByRole("spinbutton", { name: "High" }), { key: "ArrowUp" });
    expect(last()).toMatchObject({ op: "set_ground", high: 91 });
    click("No water");
    expect(last()).toMatchObject({ no_water: true });
    cleanup();
    const dry = answers(testState());
    click("Set a level");
    expect(dry.last()).toMatchObject({ water: 14 });
  });

  it("keeps the ratio of both spacings while it is locked", () => {
    const { last } = answers(with_((made) => void (made.document.ground.spacing_y = 2)));
    const west = screen.getByRole("spinbutton", { name: "Spacing east–west" });
    fireEvent.keyDown(west, { key: "ArrowUp", shiftKey: true });
    expect(last()).toMatchObject({ spacing_x: 5, spacing_y: 2.5 });
  });
});

describe("the readings' card", () => {
  it("shows what is read first, finds others by what they are good for, and starts a mask", async () => {
    const state = with_((made) => {
      made.readings = made.readings.map((item) => ({ ...item, good_for: item.name === "flow" ? "stream beds" : "" }));
    });
    const { last } = renderCard(<ReadingsCard />, state);
    expect(screen.getByRole("button", { name: "Slope" }).getAttribute("aria-pressed")).toBe("true");
    fireEvent.change(screen.getByLabelText("Find a reading"), { target: { value: "stream" } });
    expect(screen.queryByRole("button", { name: "Slope" })).toBeNull();
    click("Flow");
    click("Start a mask from it");
    await waitFor(() =>
      expect(last()).toMatchObject({
        op: "add_mask",
        mask: { name: "By flow", lines: [{ verb: "take", source: { reading: "flow", low: 900, high: 1e9 } }] },
      }),
    );
  });
});

describe("the masks' card", () => {
  it("makes a mask under a free name and says where the chosen one goes", () => {
    const { last } = renderCard(<MasksCard />);
    expect(screen.getByText("Where it goes").parentElement?.textContent).toContain("Scree→layer Rock→splat_a · R");
    click("New mask");
    click("Make it");
    expect(last()).toMatchObject({ op: "add_mask", mask: { name: "Mask 2", lines: [] } });
  });

  it("asks what shall become of its users before a used mask goes", () => {
    const state = with_((made) => void made.document.masks.push({ id: "b", name: "Bracken", lines: [] }));
    const { edits, last } = renderCard(<MasksCard />, state);
    click("More for Scree");
    pick("Delete");
    const dialog = screen.getByRole("dialog");
    expect(dialog.textContent).toContain("by the layer Rock, channel B of the sheet splat_a.");
    expect(edits).toEqual([]);
    fireEvent.click(within(dialog).getByRole("button", { name: "Delete and replace" }));
    expect(last()).toEqual({ op: "delete_mask", mask: "scree", uses: "replace", other: "b" });
  });
});

const sharings = [
  { value: "cover", label: "by cover", sentence: "Upper layers hide lower ones.", by_relief: false },
  { value: "by_strength", label: "by strength", sentence: "In proportion.", by_relief: false },
];
const rampKind: CoatKind = {
  kind: "ramp",
  title: "Ramp",
  family: "ground",
  hint: "colours along a reading",
  sentence: "**Ramp** along {along}, laid on {mode} at {strength}, {within} {stops}",
  slots: [
    testSlot("along", "source", { title: "Along what", start: "mapped" }),
    testSlot("mode", "choice", { title: "Laid on", choices: [{ value: "normal", label: "as it is" }] }),
    testSlot("strength", "number", { title: "Strength", unit: "%", high: 1, step: 0.01 }),
    testSlot("within", "source", { title: "Where it lies", none: "everywhere", lead: "within " }),
    testSlot("stops", "stops", { title: "Colours of the ramp" }),
  ],
  fresh: {},
};
const painting: Painting = {
  coats: [rampKind],
  surface: [],
  surface_maps: [],
  looks: [
    { id: "scree", name: "Scree", own: false, size: 5, mean: "#908d84", maps: ["albedo"], told: [], missing: false },
  ],
  sharings,
  outcomes: [],
  troubles: [],
  sizes: [],
  depths: [],
  pictures: [],
};
const painted: Answer = [`${P}/painting`, { stamp: [7] }, painting];

describe("the layers' card", () => {
  const reported = (error: number, over = 0): Answer => [
    `${P}/layers/report`,
    { stamp: [7] },
    {
      layers: [
        { id: "base", name: "Moor grass", colour: "#8d9a57", before: null, after: 0.75, strongest: 0.8 },
        { id: "rock", name: "Rock", colour: "#9c9a92", before: 0.3, after: 0.25, strongest: 0.2 },
      ],
      overlap: 0.1,
      total: 2,
      allowed: 16,
      sum_error: error,
      blocks: { rows: 1, cols: 2, counts: [2, 9], most: 8, over },
    },
  ];
  const two = () =>
    with_((made) => {
      const [rock] = made.document.layers;
      if (rock) made.document.layers.push({ ...rock, id: "mud", name: "Mud" });
    });

  it("says whether weights add up, what is left of each layer, and which blocks hold too many", () => {
    renderCard(<LayersCard />, testState(), [reported(3e-8), painted]);
    expect(screen.getByTestId("sum-check").textContent).toContain("Weights add up to 1 everywhere");
    expect(screen.getByRole("listitem", { name: "Layer Rock" }).textContent).toContain("25.0\u00a0%");
    cleanup();
    renderCard(<LayersCard />, testState(), [reported(0.02, 1), painted]);
    expect(screen.getByTestId("sum-check").textContent).toContain("off 1 by 2.0e-2");
    expect(screen.getByTestId("budget").textContent).toContain("1 block has too many");
    expect(screen.getByRole("button", { name: "Merge layers…" })).toBeTruthy();
  });

  it("moves a layer by Alt and an arrow, mutes, dresses and deletes it", () => {
    const { edits, last } = renderCard(<LayersCard />, two(), [reported(0), painted]);
    fireEvent.keyDown(screen.getByRole("listitem", { name: "Layer Rock" }), { key: "ArrowUp", altKey: true });
    click("Switch Mud off");
    click("More for Mud");
    pick("Delete");
    expect(edits.map(([edit]) => edit)).toMatchObject([
      { op: "move_layer", layer: "rock", to: 1 },
      { op: "set_layer", layer: { id: "mud", muted: true } },
      { op: "delete_layer", layer: "mud" },
    ]);
    click("Open Rock");
    click("Look of Rock: a plain colour");
    pick("Scree");
    expect(last()).toMatchObject({ op: "set_layer", layer: { colour: "#908d84", dressing: { look: "scree" } } });
    click("Sharing: by cover");
    pick("by strength");
    expect(last()).toMatchObject({ op: "set_mixing", mixing: { sharing: "by_strength" } });
  });

  it("merges the ticked layers by how much of the ground each covers", () => {
    const { last } = renderCard(<LayersCard />, two(), [reported(0), painted]);
    click("More for layers");
    pick("Merge layers…");
    for (const name of ["Merge Rock", "Merge Mud"]) fireEvent.click(screen.getByRole("checkbox", { name }));
    click("Merge 2…");
    click("Merge");
    expect(last()).toMatchObject({ op: "merge_layers", layers: ["rock", "mud"], shares: [0.25, 0] });
  });
});

describe("the colour's card", () => {
  const ramp: Coat = {
    kind: "ramp",
    id: "r",
    muted: false,
    note: "",
    seen: "both",
    within: null,
    strength: 0.5,
    mode: "normal",
    along: { kind: "reading", reading: "slope", black: 0, white: 60 },
    stops: [
      { at: 0, colour: "#102030" },
      { at: 1, colour: "#d0e0f0" },
    ],
  };

  it("offers a first colour while there are no coats", () => {
    const { last } = renderCard(<ColourCard />, testState(), [painted]);
    click("A first colour");
    expect(last()).toEqual({ op: "begin_colour" });
  });

  it("tells a coat briefly until it is opened, then lets its stops be moved and added", () => {
    const state = with_((made) => (made.document.coats = [ramp]));
    useView.setState({ selectedCoat: null });
    const { last } = renderCard(<ColourCard />, state, [painted]);
    const card = screen.getByRole("listitem", { name: "Coat 1, Ramp" });
    expect(card.textContent).toContain("Ramp along slope at");
    expect(card.textContent).not.toContain("everywhere");
    fireEvent.click(card);
    expect(card.textContent).toContain("nothing at");
    fireEvent.keyDown(within(card).getByRole("slider", { name: "Stop 2" }), { key: "ArrowLeft" });
    expect(last()).toMatchObject({ op: "set_coat", coat: { stops: [{ at: 0 }, { at: 0.99 }] } });
    click("Add");
    const coat = last()?.["coat"] as { stops: { at: number }[] } | undefined;
    expect(coat?.stops.length).toBe(3);
  });
});
