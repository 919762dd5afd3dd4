import { useLineKinds } from "../../document/queries";
import type { Line } from "../../api/types";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { useProject } from "../../document/document";
import { numbersOf } from "./lines";
import type { Tell } from "./tell";

type PieceLine = Extract<Line, { verb: "piece" }>;

const HOW = [
  { value: "follow", label: "going on from here" },
  { value: "take", label: "instead of this" },
  { value: "add", label: "added to this" },
  { value: "leave_out", label: "left out of this" },
  { value: "keep_within", label: "keeping this within it" },
  { value: "strongest", label: "whichever is stronger" },
  { value: "weakest", label: "whichever is weaker" },
  { value: "multiply", label: "multiplied" },
  { value: "difference", label: "as the difference" },
];

/** Which piece, how it is put to what is there, and the numbers it lets its users set. */
export function PieceTokens({ line: any, tell }: { line: Line; tell: Tell }) {
  const line = any as PieceLine;
  const { document } = useProject();
  const kinds = useLineKinds();
  const pieces = document.pieces ?? [];
  const piece = pieces.find((item) => item.id === line.piece);
  const strength = Math.round((line.strength ?? 1) * 100);
  return (
    <>
      <ChoiceToken
        label="Which piece"
        value={line.piece}
        choices={pieces.map((item) => ({ value: item.id, label: item.name }))}
        onChange={(value) => void tell.commit({ ...line, piece: value, numbers: {} })}
      />{" "}
      <ChoiceToken
        label="How it is used"
        value={line.how ?? "follow"}
        choices={HOW}
        onChange={(value) => void tell.commit({ ...line, how: value as NonNullable<PieceLine["how"]> })}
      />{" "}
      at{" "}
      <NumberToken
        label="Strength"
        value={strength}
        unit="%"
        min={0}
        max={100}
        step={1}
        decimals={0}
        onPreview={(v) => tell.preview(v === null ? null : { ...line, strength: v / 100 })}
        onCommit={(v, key) => tell.commit({ ...line, strength: v / 100 }, key, "strength")}
      />
      {(piece?.exposed ?? []).map((exposed) => {
        const inner = piece?.lines.find((item) => item.id === exposed.line);
        const number = inner && numbersOf(inner, kinds).find((item) => item.field === exposed.field);
        if (!number) return null;
        const times = number.slot?.unit === "%" ? 100 : 1;
        const value = line.numbers?.[exposed.id] ?? number.value;
        const set = (v: number): Line => ({ ...line, numbers: { ...line.numbers, [exposed.id]: v / times } });
        const span = Math.max(Math.abs(number.value), 1);
        return (
          <span key={exposed.id}>
            , {exposed.title.toLowerCase()}{" "}
            <NumberToken
              label={exposed.title}
              value={Number((value * times).toFixed(4))}
              unit={number.slot?.unit ?? ""}
              min={(number.slot?.low ?? number.value - 4 * span) * times}
              max={(number.slot?.high ?? number.value + 4 * span) * times}
              step={number.slot ? number.slot.step * times : Number((span / 50).toPrecision(1))}
              onPreview={(v) => tell.preview(v === null ? null : set(v))}
              onCommit={(v, key) => tell.commit(set(v), key, exposed.id)}
            />
          </span>
        );
      })}
    </>
  );
}
