import { renderHook } from "@testing-library/react";
import { expect, it, vi } from "vitest";
import { useDocument } from "../../document/document";
import type { MenuAction } from "../../kit/MoreMenu";
import { testState } from "../../testing/state";
import { useOwnFile } from "./useOwnFile";

const act = (action: MenuAction) => "act" in action && typeof action.act === "function" && action.act();

it("a map that was never chosen goes out as every file begins; a chosen one keeps its choices", () => {
  const edit = vi.fn();
  const state = testState();
  useDocument.setState({ state, edit });
  const plain = renderHook(() => useOwnFile("mask:scree")).result.current;
  expect([plain.goes, plain.file]).toEqual([false, null]);
  act(plain.action);
  // The same as the application takes for what is left out.
  const begun = { packed: true, blocks: 0, turn: "none", resampling: "box", alpha: true, whole: false };
  const none = { file: null, form: null, rows: null, cols: null, ending: null, order: null, black: null, white: null };
  expect(edit).toHaveBeenLastCalledWith([
    { op: "set_items", items: [{ of: "mask:scree", ...begun, ...none, deliver: true }] },
  ]);
  const items = [{ of: "mask:scree", ...begun, ...none, deliver: true, file: "wet", rows: 9 }] as never;
  const { document } = state;
  useDocument.setState({
    state: { ...state, document: { ...document, delivery: { ...document.delivery, items } } },
  });
  const own = renderHook(() => useOwnFile("mask:scree")).result.current;
  expect([own.goes, own.file]).toEqual([true, "wet"]);
  act(own.action);
  expect(edit).toHaveBeenLastCalledWith([
    { op: "set_items", items: [{ of: "mask:scree", ...begun, ...none, deliver: null, file: "wet", rows: 9 }] },
  ]);
});
