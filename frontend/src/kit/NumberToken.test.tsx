import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeAll, describe, expect, it, vi } from "vitest";
import { NumberToken, type NumberTokenProps } from "./NumberToken";

beforeAll(() => {
  Object.assign(Element.prototype, { setPointerCapture: () => undefined });
});
afterEach(cleanup);

function token(part: Partial<NumberTokenProps> = {}) {
  const onCommit = vi.fn<NumberTokenProps["onCommit"]>(() => Promise.resolve(true));
  const onPreview = vi.fn();
  const props: NumberTokenProps = {
    label: "Lower edge",
    value: 32,
    unit: "°",
    min: 0,
    max: 90,
    step: 0.5,
    onCommit,
    onPreview,
    ...part,
  };
  const shown = render(<NumberToken {...props} />);
  const element = () => screen.getByRole("spinbutton", { name: "Lower edge", hidden: true });
  const change = (more: Partial<NumberTokenProps>) => shown.rerender(<NumberToken {...props} {...more} />);
  return { element, onCommit: vi.mocked(props.onCommit), onPreview, change };
}

function drag(element: HTMLElement, by: number, more: object = {}) {
  fireEvent.pointerDown(element, { button: 0, clientX: 100, pointerId: 1 });
  fireEvent.pointerMove(element, { clientX: 100 + by, pointerId: 1, ...more });
}

describe("a number in a sentence", () => {
  it("says what it is to everybody", () => {
    const { element } = token();
    expect(element().textContent).toBe("32°");
    expect(element().getAttribute("aria-valuenow")).toBe("32");
    expect(element().getAttribute("aria-valuetext")).toBe("32 °");
  });

  it.each([
    ["ArrowUp", {}, 32.5],
    ["ArrowLeft", {}, 31.5],
    ["ArrowRight", { altKey: true }, 32.05],
    ["ArrowDown", { shiftKey: true }, 27],
    ["PageUp", {}, 37],
  ])("steps with %s %o", (key, more, expected) => {
    const { element, onCommit } = token();
    fireEvent.keyDown(element(), { key, ...more });
    expect(onCommit).toHaveBeenCalledWith(expected, true);
  });

  it("stops at what it may be", () => {
    const { element, onCommit } = token({ value: 90 });
    fireEvent.keyDown(element(), { key: "ArrowUp" });
    expect(onCommit).not.toHaveBeenCalled();
    fireEvent.keyDown(element(), { key: "ArrowDown" });
    expect(onCommit).toHaveBeenCalledWith(89.5, true);
  });

  it("shows where it is dragged, and is saved once, when let go", () => {
    const { element, onCommit, onPreview } = token();
    drag(element(), 30);
    expect(element().textContent).toBe("37°");
    fireEvent.pointerMove(element(), { clientX: 70, pointerId: 1 });
    expect(onPreview).toHaveBeenLastCalledWith(27);
    expect(onCommit).not.toHaveBeenCalled();
    fireEvent.pointerUp(element(), { pointerId: 1 });
    expect(onCommit).toHaveBeenCalledTimes(1);
    expect(onCommit).toHaveBeenCalledWith(27, false);
  });

  it("moves in fine steps with Alt", () => {
    const { element, onPreview } = token();
    drag(element(), 30, { altKey: true });
    expect(onPreview).toHaveBeenLastCalledWith(33);
  });

  it("goes back on Escape without being saved", () => {
    const { element, onCommit, onPreview } = token();
    drag(element(), 60);
    fireEvent.keyDown(element(), { key: "Escape" });
    expect(element().textContent).toBe("32°");
    expect(onPreview).toHaveBeenLastCalledWith(null);
    fireEvent.pointerUp(element(), { pointerId: 1 });
    expect(onCommit).not.toHaveBeenCalled();
  });

  it("gives way to every newly saved value, an undone one included", async () => {
    const { element, change } = token();
    fireEvent.keyDown(element(), { key: "ArrowUp" });
    fireEvent.keyDown(element(), { key: "ArrowUp" });
    expect(element().textContent).toBe("33°");
    change({ value: 33 });
    change({ value: 32 });
    await waitFor(() => expect(element().textContent).toBe("32°"));
  });

  it("loses no step while earlier ones are being saved", async () => {
    const answers: ((saved: boolean) => void)[] = [];
    const onCommit = vi.fn<NumberTokenProps["onCommit"]>(() => new Promise((answer) => answers.push(answer)));
    const { element, change } = token({ onCommit });
    fireEvent.keyDown(element(), { key: "ArrowUp" });
    fireEvent.keyDown(element(), { key: "ArrowUp" });
    answers[0]?.(true);
    change({ value: 32.5, onCommit });
    await Promise.resolve();
    fireEvent.keyDown(element(), { key: "ArrowUp" });
    expect(onCommit.mock.calls.map(([saved]) => saved)).toEqual([32.5, 33, 33.5]);
    answers[1]?.(true);
    answers[2]?.(true);
    change({ value: 33.5, onCommit });
    await waitFor(() => expect(element().textContent).toBe("33.5°"));
  });

  it("goes back when it was refused", async () => {
    const { element } = token({ onCommit: () => Promise.resolve(false) });
    fireEvent.keyDown(element(), { key: "ArrowUp" });
    expect(element().textContent).toBe("32.5°");
    await waitFor(() => expect(element().textContent).toBe("32°"));
  });

  it.each([
    ["41.5", 41.5],
    ["41,5", 41.5],
  ])("takes %s typed as %d", (typed, expected) => {
    const { element, onCommit } = token();
    fireEvent.pointerDown(element(), { button: 0, clientX: 0, pointerId: 1 });
    fireEvent.pointerUp(element(), { pointerId: 1 });
    const field = screen.getByLabelText("Lower edge, typed");
    fireEvent.change(field, { target: { value: typed } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(onCommit).toHaveBeenCalledWith(expected, false);
  });

  it.each([
    ["400", "At most 90°, the upper edge."],
    ["-3", "At least 0°."],
  ])("moves nothing to take %s, and says why", (typed, why) => {
    const { element, onCommit } = token({ bounds: { max: "the upper edge" } });
    element().focus();
    // A digit opens the field with itself, and goes no farther: to the page it would be a waypoint.
    const passed = fireEvent.keyDown(element(), { key: "4" });
    expect(passed).toBe(false);
    const field = screen.getByLabelText<HTMLInputElement>("Lower edge, typed");
    expect(field.value).toBe("4");
    fireEvent.change(field, { target: { value: typed } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(screen.getByRole("alert").textContent).toBe(why);
    expect(onCommit).not.toHaveBeenCalled();
  });

  it("takes what was entered once the other edge, still being saved, has made room", () => {
    const { element, onCommit, change } = token({ min: 20, bounds: { min: "the lower edge" } });
    fireEvent.click(element(), { detail: 0 });
    const field = screen.getByLabelText("Lower edge, typed");
    fireEvent.change(field, { target: { value: "4" } });
    // What was typed but not entered stays open.
    change({ min: 3 });
    expect(onCommit).not.toHaveBeenCalled();
    change({ min: 20 });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(onCommit).not.toHaveBeenCalled();
    change({ min: 0 });
    expect(onCommit).toHaveBeenCalledExactlyOnceWith(4, false);
  });

  it.each(["", "steep", "1e"])("leaves it alone when %j is typed", (typed) => {
    const { element, onCommit } = token();
    fireEvent.click(element(), { detail: 0 });
    const field = screen.getByLabelText("Lower edge, typed");
    fireEvent.change(field, { target: { value: typed } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(onCommit).not.toHaveBeenCalled();
    expect(element().textContent).toBe("32°");
  });
});
