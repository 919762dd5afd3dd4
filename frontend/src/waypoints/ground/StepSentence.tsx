import { named } from "../../api/mapNames";
import { useStepKinds } from "../../document/queries";
import type { Slot, Step } from "../../api/types";
import { NumberSlot, type SlotValue } from "../../kit/NumberSlot";
import { NumberToken } from "../../kit/NumberToken";
import { SlotSentence } from "../../kit/SlotSentence";
import { useDocument, useProject } from "../../document/document";
import { trialPicture } from "../../viewport/trials";

/** The fields of a step by name: what they are is told by the slots of its kind. */
function fields(step: Step): Record<string, SlotValue> {
  return step as unknown as Record<string, SlotValue>;
}

/** A step of preparation as the sentence that the catalogue gives it, with what can be changed as tokens. */
export function StepSentence({ step, index }: { step: Step; index: number }) {
  const state = useProject();
  const edit = useDocument((store) => store.edit);
  const kind = useStepKinds().find((item) => item.kind === step.kind);
  if (!kind) return null;
  const change = (next: Record<string, SlotValue>, field: string, key: boolean) =>
    edit([{ op: "set_step", step: { ...step, ...next } as Step }], {
      merge: key ? `step:${step.id}:${field}` : "",
      what: "a step",
    });
  return (
    <SlotSentence sentence={kind.sentence} slots={kind.slots}>
      {(slot) =>
        slot.kind === "spacing" ? (
          <SpacingToken slot={slot} step={step} change={(next, key) => change(next, slot.name, key)} />
        ) : (
          <NumberSlot
            slot={slot}
            value={fields(step)[slot.name] ?? null}
            onCommit={(value, key) => change({ [slot.name]: value }, slot.name, key)}
            trial={(seed, at, signal) =>
              trialPicture(
                state,
                {
                  operations: [{ op: "set_step", step: { ...step, [slot.name]: seed } as Step }],
                  map: named.at(index + 1, "shade"),
                  subject: { kind: "reading", name: "shade", over: false },
                  draft: true,
                },
                at,
                signal,
              )
            }
          />
        )
      }
    </SlotSentence>
  );
}

interface SpacingTokenProps {
  slot: Slot;
  step: Step;
  change: (next: Record<string, SlotValue>, key: boolean) => Promise<boolean>;
}

/** Rows and columns by the metres between them. */
function SpacingToken({ slot, step, change }: SpacingTokenProps) {
  const { home } = useProject();
  const count = (span: number, metres: number) => Math.max(Math.round(span / metres) + 1, 8);
  return (
    <NumberToken
      label={slot.title}
      value={home.width / (Number(fields(step)["cols"]) - 1)}
      unit="m"
      min={0.001}
      max={10000}
      step={0.1}
      decimals={3}
      onCommit={(metres, key) => change({ cols: count(home.width, metres), rows: count(home.length, metres) }, key)}
    />
  );
}
