import { useLineKinds } from "../../document/queries";
import type { Line, Slot, Source } from "../../api/types";
import { NumberSlot, type SlotValue } from "../../kit/NumberSlot";
import { NumberToken } from "../../kit/NumberToken";
import { SlotSentence } from "../../kit/SlotSentence";
import type { Holder } from "../../document/holder";
import { evenEdges, fields, withFields } from "./lines";
import { PieceTokens } from "./PieceTokens";
import { SourceTokens } from "./SourceTokens";
import type { Tell } from "./tell";

interface LineSentenceProps {
  line: Line;
  holder: Holder;
  tell: Tell;
}

/** A line as the sentence that the catalogue gives it, with what can be changed as tokens. */
export function LineSentence({ line, holder, tell }: LineSentenceProps) {
  const kind = useLineKinds().find((item) => item.verb === line.verb);
  if (!kind) return null;
  return (
    <SlotSentence sentence={kind.sentence} slots={kind.slots}>
      {(slot) => <LineSlot slot={slot} slots={kind.slots} line={line} holder={holder} tell={tell} />}
    </SlotSentence>
  );
}

function LineSlot({ slot, slots, line, holder, tell }: LineSentenceProps & { slot: Slot; slots: Slot[] }) {
  const value = fields(line)[slot.name];
  const set = (next: SlotValue) => withEdges(withFields(line, { [slot.name]: next }), slots);
  switch (slot.kind) {
    case "source":
      return (
        <>
          {value ? slot.lead : ""}
          <SourceTokens
            source={(value as Source | null | undefined) ?? null}
            mask={holder.mask}
            steps={holder.steps}
            label={slot.title}
            {...(slot.none ? { none: slot.none } : {})}
            onPreview={(next) => tell.preview(next && withFields(line, { [slot.name]: next }))}
            onCommit={(next, key, field) =>
              tell.commit(withFields(line, { [slot.name]: next }), key, `${slot.name}.${field}`)
            }
          />
        </>
      );
    case "piece":
      return <PieceTokens line={line} tell={tell} />;
    case "strokes":
      return <b>{value === 0 ? "no strokes yet" : value === 1 ? "1 stroke" : `${String(value)} strokes`}</b>;
    case "curve":
      return <>with {(value as unknown[]).length} points</>;
    case "edges":
      return shown(slot, line) ? <EdgeTokens slot={slot} line={line} tell={tell} /> : null;
    default:
      return (
        <NumberSlot
          slot={slot}
          value={value as SlotValue}
          onPreview={(next) => tell.preview(next === undefined ? null : set(next))}
          onCommit={(next, key) => tell.commit(set(next), key, slot.name)}
          trial={
            tell.trial && ((seed, at, signal) => tell.trial?.(set(seed), at, signal) ?? Promise.reject(new Error()))
          }
        />
      );
  }
}

/** Whether a slot that belongs to one choice of another has its place now. */
function shown(slot: Slot, line: Line): boolean {
  return slot.where === null || fields(line)[slot.where[0] ?? ""] === slot.where[1];
}

/** Own edges are as many as the bands need: even ones stand in for those that are missing. */
function withEdges(line: Line, slots: Slot[]): Line {
  const slot = slots.find((item) => item.kind === "edges");
  if (!slot || !shown(slot, line)) return line;
  const count = Math.round(Number(fields(line)["count"]));
  if ((fields(line)[slot.name] as number[]).length === count - 1) return line;
  return withFields(line, { [slot.name]: evenEdges(count) });
}

function EdgeTokens({ slot, line, tell }: { slot: Slot; line: Line; tell: Tell }) {
  const edges = fields(line)[slot.name] as number[];
  const moved = (index: number, value: number) =>
    withFields(line, { [slot.name]: edges.map((edge, i) => (i === index ? value : edge)) });
  return (
    <>
      {edges.map((edge, i) => (
        <NumberToken
          key={i}
          label={`${slot.title} ${i + 1}`}
          value={edge}
          unit=""
          min={Number(((edges[i - 1] ?? -0.01) + 0.01).toFixed(3))}
          max={Number(((edges[i + 1] ?? 1.01) - 0.01).toFixed(3))}
          step={0.01}
          onPreview={(v) => tell.preview(v === null ? null : moved(i, v))}
          onCommit={(v, key) => tell.commit(moved(i, v), key, `edge${i}`)}
        />
      ))}
    </>
  );
}
