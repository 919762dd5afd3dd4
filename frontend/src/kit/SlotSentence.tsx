import { Fragment, type ReactNode } from "react";
import type { Slot } from "../api/types";
import { phrases } from "./sentence";

interface SlotSentenceProps {
  sentence: string;
  slots: Slot[];
  /** What stands in a slot. */
  children: (slot: Slot) => ReactNode;
}

/** A sentence of the catalogue with whatever can be changed in its places. */
export function SlotSentence({ sentence, slots, children }: SlotSentenceProps) {
  return (
    <span>
      {phrases(sentence).map((phrase, i) => {
        if (phrase.kind === "text") return <Fragment key={i}>{phrase.text}</Fragment>;
        if (phrase.kind === "bold") return <b key={i}>{phrase.text}</b>;
        const slot = slots.find((item) => item.name === phrase.text);
        return <Fragment key={i}>{slot && children(slot)}</Fragment>;
      })}
    </span>
  );
}
