import type { Step, StepInfo } from "../../api/types";
import { newId } from "../../document/document";

/** A step of a kind as it is when it is added, with some numbers of its own. */
export function newStep(kinds: StepInfo[], kind: string, numbers: Record<string, unknown> = {}): Step {
  const found = kinds.find((item) => item.kind === kind);
  return { ...found?.fresh, kind, ...numbers, id: newId("step") } as unknown as Step;
}

/** Gaps must go before anything is measured on the ground: a step that fills them comes first. */
export function placeOf(kinds: StepInfo[], step: Step): { at?: number } {
  return kinds.find((item) => item.kind === step.kind)?.fills ? { at: 0 } : {};
}
