import type { Slot } from "../api/types";
import { ChoiceToken } from "./ChoiceToken";
import { NumberToken } from "./NumberToken";
import { SeedToken, type SeedPicture } from "./SeedToken";

export type SlotValue = number | string | null;

interface NumberSlotProps {
  slot: Slot;
  value: SlotValue;
  onPreview?: (value: SlotValue | undefined) => void;
  onCommit: (value: SlotValue, keyStep: boolean) => Promise<boolean>;
  /** A small picture of what a seed would give. */
  trial?: SeedPicture | undefined;
}

/** A number, a choice, or a number that may be left out. Shares are shown in hundredths. */
export function NumberSlot({ slot, value, onPreview, onCommit, trial }: NumberSlotProps) {
  if (slot.kind === "choice")
    return (
      <ChoiceToken
        label={slot.title}
        value={String(value)}
        choices={slot.choices}
        // Among numbers the choice stays a number.
        onChange={(next) => void onCommit(typeof value === "number" ? Number(next) : next, false)}
      />
    );
  const share = slot.unit === "%";
  const times = share ? 100 : 1;
  const kept = (shown: number) => (slot.whole ? Math.round(shown / times) : Number((shown / times).toFixed(6)));
  const shown = typeof value === "number" && {
    label: slot.title,
    value: Number((value * times).toFixed(4)),
    unit: slot.unit,
    min: slot.low * times,
    max: slot.high * times,
    step: slot.step * times,
    first: typeof slot.value === "number" ? Number((slot.value * times).toFixed(4)) : undefined,
    decimals: share ? (slot.step < 0.01 ? 1 : 0) : slot.decimals,
    ...(onPreview && { onPreview: (v: number | null) => onPreview(v === null ? undefined : kept(v)) }),
    onCommit: (v: number, key: boolean) => onCommit(kept(v), key),
  };
  const seed = slot.name === "seed" && trial;
  const token = shown && (seed ? <SeedToken {...shown} picture={seed} /> : <NumberToken {...shown} />);
  if (slot.kind === "number") return token;
  return (
    <>
      <ChoiceToken
        label={`${slot.title}, or none`}
        value={typeof value === "number" ? "some" : "none"}
        choices={[
          { value: "none", label: slot.none },
          { value: "some", label: slot.some },
        ]}
        onChange={(next) => void onCommit(next === "some" ? slot.value : null, false)}
      />
      {token && " "}
      {token}
    </>
  );
}
