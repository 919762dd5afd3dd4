import { act, renderHook } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { useNumber } from "./useNumber";

const commit = vi.fn<(value: number, keyStep: boolean) => Promise<boolean>>(() => Promise.resolve(true));
const preview = vi.fn();
function number(more: Partial<Parameters<typeof useNumber>[0]> = {}) {
  commit.mockClear();
  preview.mockClear();
  const start = { value: 10, min: 0, max: 100, step: 0.5, onPreview: preview, onCommit: commit, ...more };
  return renderHook((limits) => useNumber(limits), { initialProps: start });
}
const key = (name: string, more: object = {}) =>
  ({ key: name, altKey: false, shiftKey: false, preventDefault: vi.fn(), stopPropagation: vi.fn(), ...more }) as never;
const at = (clientX: number, more: object = {}) =>
  ({
    clientX,
    button: 0,
    pointerId: 1,
    altKey: false,
    currentTarget: { setPointerCapture: vi.fn() },
    ...more,
  }) as never;

describe("a number under the hand", () => {
  it.each([
    ["ArrowUp", {}, 10.5],
    ["ArrowRight", {}, 10.5],
    ["ArrowDown", {}, 9.5],
    ["ArrowLeft", {}, 9.5],
    ["PageUp", {}, 15],
    ["PageDown", {}, 5],
    ["ArrowUp", { shiftKey: true }, 15],
    ["ArrowUp", { altKey: true }, 10.05],
    ["PageUp", { shiftKey: true }, 60],
  ])("goes by steps with %s", (name, more, value) => {
    const { result } = number();
    act(() => result.current.onKeyDown(key(name, more)));
    expect(commit).toHaveBeenCalledWith(value, true);
  });

  it("stays within its limits, is nothing new where it was already, and goes on from the last step", async () => {
    const { result } = number({ max: 10.7 });
    await act(async () => {
      result.current.onKeyDown(key("PageUp"));
      await Promise.resolve();
    });
    expect(commit).toHaveBeenLastCalledWith(10.7, true);
    act(() => result.current.keep(10));
    expect(commit).toHaveBeenCalledTimes(1);
    expect(preview).toHaveBeenLastCalledWith(null);
    let answer: (made: boolean) => void = () => undefined;
    commit.mockImplementationOnce(() => new Promise((done) => (answer = done)));
    act(() => result.current.onKeyDown(key("ArrowDown")));
    expect(result.current.shown).toBe(9.5);
    act(() => result.current.onKeyDown(key("ArrowDown")));
    expect(commit).toHaveBeenLastCalledWith(9, true);
    await act(async () => {
      answer(true);
      await Promise.resolve();
    });
    expect(result.current.shown).toBe(10);
  });

  it("moves with a drag from four pixels on, a step for three of them, finer with Alt, and is saved when let go", () => {
    const { result } = number();
    act(() => result.current.onPointerDown(at(100)));
    act(() => result.current.onPointerMove(at(103)));
    expect(preview).not.toHaveBeenCalled();
    act(() => result.current.onPointerMove(at(104)));
    expect(preview).toHaveBeenLastCalledWith(10.5);
    act(() => result.current.onPointerMove(at(112)));
    expect([result.current.shown, preview.mock.lastCall]).toEqual([12, [12]]);
    act(() => result.current.onPointerMove(at(80, { altKey: true })));
    expect(result.current.shown).toBe(9.5);
    act(() => expect(result.current.letGo()).toBe(false));
    expect(commit).toHaveBeenCalledWith(9.5, false);
    act(() => result.current.onPointerMove(at(300)));
    expect(commit).toHaveBeenCalledTimes(1);
  });

  it("was only pressed where it did not move, by the first button alone; Escape takes it back", () => {
    const { result } = number();
    act(() => result.current.onPointerDown(at(100)));
    act(() => result.current.onPointerMove(at(97)));
    expect(result.current.letGo()).toBe(true);
    act(() => result.current.onPointerDown(at(100, { button: 2 })));
    expect(result.current.letGo()).toBe(false);
    act(() => result.current.onPointerDown(at(100)));
    act(() => result.current.onPointerMove(at(130)));
    expect(result.current.shown).toBe(15);
    act(() => result.current.onKeyDown(key("Escape")));
    expect([result.current.shown, preview.mock.lastCall, commit.mock.calls]).toEqual([10, [null], []]);
  });
});
