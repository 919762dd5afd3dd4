import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeAll, describe, expect, it, vi } from "vitest";
import type { Line, LineKind, Slot, Source } from "../../api/types";
import { getOptions } from "../../document/useGet";
import { useDocument } from "../../document/document";
import { testSlot, testState } from "../../testing/state";
import { maskHolder } from "../../document/holder";
import { LineSentence } from "./LineSentence";

const kind = (verb: string, sentence: string, ...slots: Slot[]): LineKind => ({
  verb,
  title: verb,
  family: "tone",
  hint: "",
  sentence,
  slots,
  bound: false,
  in_piece: true,
  offered: true,
  holds: 0.3,
  fresh: {},
});
const number = (name: string, title: string, unit = "", high = 1, step = 0.01) =>
  testSlot(name, "number", { title, unit, high, step });
const KINDS: LineKind[] = [
  kind(
    "take",
    "**Take** {source} at {strength}",
    testSlot("source", "source", { title: "What is read", start: "band" }),
    number("strength", "Strength", "%"),
  ),
  kind("fray", "**Fray** its edges by {reach}", number("reach", "Reach", "m", 100, 0.5)),
  kind(
    "cut",
    "**Cut into** {count} bands, {how} {edges}",
    number("count", "Bands", "", 16, 1),
    testSlot("how", "choice", {
      title: "How",
      choices: [
        { value: "even", label: "evenly" },
        { value: "own", label: "at own edges" },
      ],
    }),
    testSlot("edges", "edges", { title: "Edge", where: ["how", "own"] }),
  ),
  kind(
    "drift",
    "**Drift** it as strongly as {steered}",
    testSlot("steered", "source", { title: "What steers it", none: "everywhere alike" }),
  ),
  kind(
    "touch_up",
    "**Touch up** by hand, {count}, {only}",
    testSlot("count", "strokes"),
    testSlot("only", "source", { title: "Only where", none: "everywhere", lead: "only where: " }),
  ),
  kind("piece", "**Use the piece** {piece}", testSlot("piece", "piece")),
];

const state = testState();
const { document } = state;
const project = {
  ...state,
  bands: { flow: 3 },
  document: {
    ...document,
    masks: [
      { id: "scree", name: "Scree", lines: [] },
      {
        id: "flow",
        name: "Flow",
        lines: [{ id: "c", verb: "cut", muted: false, note: "", count: 3, how: "even", edges: [] }],
      },
    ],
    features: [{ id: "f", name: "Old wall", kind: "wall", closed: false, points: [] }],
    pieces: [
      {
        id: "hung",
        name: "Hung",
        note: "",
        lines: [{ id: "p", verb: "fray", muted: false, note: "", reach: 12, size: 60, seed: 1 }],
        exposed: [{ id: "n", title: "Ragged", line: "p", field: "reach" }],
      },
    ],
  },
} as unknown as typeof state;

const FITTED = { low: 12, high: 90, fade_low: 3, fade_high: 0, black: 1, white: 50, share: 0.3 };
const measured = { by: Promise.resolve() };
vi.mock("./fit", async (actual) => ({ ...(await actual<object>()), fit: () => measured.by.then(() => FITTED) }));

beforeAll(() => {
  Object.assign(Element.prototype, { setPointerCapture: () => undefined });
  vi.stubGlobal(
    "IntersectionObserver",
    class {
      observe = () => undefined;
      disconnect = () => undefined;
    },
  );
  vi.stubGlobal("fetch", () => new Promise(() => undefined));
});
afterEach(cleanup);

function sentence(line: Partial<Line> & { verb: string }) {
  useDocument.setState({ state: project });
  const client = new QueryClient();
  client.setQueryData(
    getOptions("/api/projects/{project_id}/lines", project.id, { stamp: [project.home] }).queryKey,
    KINDS,
  );
  const tell = { preview: vi.fn(), commit: vi.fn(() => Promise.resolve(true)) };
  const whole = { id: "l", muted: false, note: "", ...line } as Line;
  const mask = project.document.masks[0];
  if (!mask) throw new Error("no mask");
  const shown = (now: Line) => (
    <QueryClientProvider client={client}>
      <LineSentence line={now} holder={maskHolder(mask)} tell={tell} />
    </QueryClientProvider>
  );
  const { container, rerender } = render(shown(whole));
  const saved = () => (tell.commit.mock.lastCall as unknown[] | undefined)?.[0];
  const change = (more: object) => rerender(shown({ ...whole, ...more } as Line));
  return { tell, saved, change, text: () => container.textContent.replace(/\s+/g, " ") };
}

const reading: Source = { kind: "reading", reading: "slope", black: 5, white: 40 };

describe("a sentence", () => {
  it("reads as the catalogue says, with its numbers in place", () => {
    expect(sentence({ verb: "fray", reach: 14 } as never).text()).toBe("Fray its edges by 14 m");
  });

  it("lets an edge go to the reading's fixed end before the histogram is there", () => {
    const source = { kind: "band", reading: "slope", low: 32, high: 90, fade_low: 6, fade_high: 0, smooth: false };
    sentence({ verb: "take", strength: 1, source } as never);
    expect(screen.getByRole("spinbutton", { name: "Lower edge" }).getAttribute("aria-valuemin")).toBe("0");
  });

  it.each([
    ["Lower edge", "-40", "low", { kind: "band", low: 150, high: 400, fade_low: 6, fade_high: 4, smooth: false }],
    ["Upper edge", "900", "high", { kind: "band", low: 150, high: 400, fade_low: 6, fade_high: 4, smooth: false }],
    ["Upper fade", "800", "fade_high", { kind: "band", low: 150, high: 400, fade_low: 6, fade_high: 4, smooth: false }],
    ["White at", "5000", "white", { kind: "reading", black: 1, white: 2 }],
  ])("takes what is typed into %s before the histogram is there", (label, typed, field, part) => {
    const { saved } = sentence({ verb: "take", strength: 1, source: { ...part, reading: "height" } } as never);
    fireEvent.click(screen.getByRole("spinbutton", { name: label }), { detail: 0 });
    const typing = screen.getByLabelText(`${label}, typed`);
    fireEvent.change(typing, { target: { value: typed } });
    fireEvent.keyDown(typing, { key: "Enter" });
    expect(saved()).toMatchObject({ source: { [field]: Number(typed) } });
  });

  it("never lets an edge pass the other, measured or not", () => {
    const source = { kind: "band", reading: "height", low: 150, high: 400, fade_low: 0, fade_high: 0, smooth: false };
    sentence({ verb: "take", strength: 1, source } as never);
    expect(screen.getByRole("spinbutton", { name: "Lower edge" }).getAttribute("aria-valuemax")).toBe("400");
  });

  it("shows shares in hundredths and saves them as shares", () => {
    const { tell, text } = sentence({ verb: "take", strength: 0.45, source: { kind: "plain", value: 0.5 } } as never);
    expect(text()).toContain("at 45 %");
    fireEvent.keyDown(screen.getByRole("spinbutton", { name: "Strength" }), { key: "ArrowUp" });
    expect(tell.commit).toHaveBeenCalledWith(expect.objectContaining({ strength: 0.46 }), true, "strength");
  });

  it.each([
    ["Flow, band 2", { kind: "mask", mask: "flow", band: 1 }],
    ["Old wall", { kind: "feature", feature: "f", width: 6, fade: 4 }],
    ["slope, from black to white", { kind: "reading", reading: "slope", black: 1, white: 50 }],
    ["slope", { kind: "band", reading: "slope", low: 12, high: 90, fade_low: 3 }],
    ["the number", { kind: "plain", value: 0.5 }],
  ])("can read %s, with numbers that fit the ground", async (label, source) => {
    const { saved } = sentence({ verb: "take", strength: 1, source: { kind: "mask", mask: "flow" } } as never);
    fireEvent.click(screen.getByLabelText(/^What is read/));
    fireEvent.click(within(screen.getByRole("menu")).getByRole("menuitem", { name: label }));
    await waitFor(() => expect(saved()).toMatchObject({ source }));
  });

  it("finds what can be read by words, and offers what was used lately first", () => {
    sentence({ verb: "take", strength: 1, source: { kind: "mask", mask: "flow" } } as never);
    fireEvent.click(screen.getByLabelText(/^What is read/));
    const [first] = within(screen.getByRole("menu")).getAllByRole("menuitem");
    expect(first?.getAttribute("aria-label")).toBe("the number");
    fireEvent.change(screen.getByLabelText("Find: What is read"), { target: { value: "wall" } });
    const found = within(screen.getByRole("menu")).getAllByRole("menuitem");
    expect(found.map((item) => item.getAttribute("aria-label"))).toEqual(["Old wall"]);
  });

  it("turns a band about its edge", () => {
    const source = { kind: "band", reading: "slope", low: 32, high: 90, fade_low: 6, fade_high: 0, smooth: false };
    const { saved, text } = sentence({ verb: "take", strength: 1, source } as never);
    expect(text()).toContain("32° or steeper, fading in over 6°");
    fireEvent.click(screen.getByLabelText(/^Which side of the edge/));
    fireEvent.click(screen.getByText("or gentler"));
    expect(saved()).toMatchObject({ source: { low: 0, high: 32, fade_low: 0, fade_high: 6 } });
  });

  it("keeps numbers back until what is chosen is measured, and what was changed meanwhile", async () => {
    let done = (): void => undefined;
    measured.by = new Promise((resolve) => (done = resolve));
    const { change, saved, text } = sentence({ verb: "take", strength: 1, source: reading } as never);
    fireEvent.click(screen.getByLabelText(/^What is read/));
    fireEvent.click(screen.getByRole("menuitem", { name: "slope" }));
    expect(text()).toContain("Take slope is coming… at");
    expect(screen.queryByRole("spinbutton", { name: "White at" })).toBeNull();
    change({ strength: 0.4 });
    done();
    await waitFor(() => expect(saved()).toMatchObject({ strength: 0.4, source: { kind: "band", low: FITTED.low } }));
    await waitFor(() => expect(text()).not.toContain("is coming"));
  });

  it("never offers a mask to itself", () => {
    sentence({ verb: "take", strength: 1, source: { kind: "plain", value: 0.5 } } as never);
    fireEvent.click(screen.getByLabelText(/^What is read/));
    expect(within(screen.getByRole("menu")).queryByText("Scree")).toBeNull();
  });

  it("tells where a reading is nothing and where it is full", () => {
    expect(sentence({ verb: "take", strength: 1, source: reading } as never).text()).toContain(
      "Take slope, nothing at 5° and full at 40°",
    );
  });

  it("can do without what steers it, and says so", () => {
    const { saved, text } = sentence({ verb: "drift", steered: reading } as never);
    expect(text()).toContain("nothing at 5°");
    fireEvent.click(screen.getByLabelText(/^What steers it/));
    fireEvent.click(screen.getByRole("menuitem", { name: "everywhere alike" }));
    expect(saved()).toMatchObject({ steered: null });
  });

  it("counts strokes in words", () => {
    expect(sentence({ verb: "touch_up", count: 1, asset: null, only: null } as never).text()).toContain("1 stroke,");
    cleanup();
    expect(sentence({ verb: "touch_up", count: 0, asset: null, only: null } as never).text()).toContain(
      "no strokes yet",
    );
  });

  it("gives bands as many own edges as they need", () => {
    const { saved } = sentence({ verb: "cut", count: 4, how: "even", edges: [] } as never);
    fireEvent.click(screen.getByLabelText(/^How/));
    fireEvent.click(screen.getByText("at own edges"));
    expect(saved()).toMatchObject({ how: "own", edges: [0.25, 0.5, 0.75] });
  });

  it("lets the numbers of a piece be set where it is used", () => {
    const { saved, text } = sentence({
      verb: "piece",
      piece: "hung",
      how: "follow",
      numbers: {},
      strength: 1,
    } as never);
    expect(text()).toContain("Hung going on from here at 100 %, ragged 12 m");
    fireEvent.keyDown(screen.getByRole("spinbutton", { name: "Ragged" }), { key: "ArrowUp" });
    expect(saved()).toMatchObject({ numbers: { n: 12.5 } });
  });
});
