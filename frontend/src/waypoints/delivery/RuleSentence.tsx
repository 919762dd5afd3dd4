import { TextField } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useRules } from "../../document/queries";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { MONO } from "../../kit/theme";

type RuleKind = Schemas["RuleKindOut"];
type Rule = { kind: string } & Record<string, unknown>;

interface RuleProps {
  label: string;
  value: { kind: string };
  kinds: RuleKind[];
  onChange: (value: Rule) => void;
}

/** One rule of a target: which class it is, and its own numbers, as its sentence names them. */
export function RuleSentence({ label, value, kinds, onChange }: RuleProps) {
  const rule = value as Rule;
  const places = useRules().data?.places;
  const kind = kinds.find((item) => item.kind === rule.kind);
  return (
    <>
      <ChoiceToken
        label={label}
        value={rule.kind}
        choices={kinds.map((item) => ({ value: item.kind, label: item.title }))}
        onChange={(next) => {
          const found = kinds.find((item) => item.kind === next);
          if (found) onChange(found.fresh as Rule);
        }}
      />
      {kind?.fields.map((field) => {
        const set = (next: unknown) => onChange({ ...rule, [field.name]: next });
        const title = `${label}: ${field.title}`;
        if (field.kind === "choice")
          return (
            <span key={field.name}>
              {" "}
              {field.title.toLowerCase()}{" "}
              <ChoiceToken
                label={title}
                value={String(rule[field.name])}
                choices={field.choices}
                onChange={(next) => set(typeof rule[field.name] === "number" ? Number(next) : next)}
              />
            </span>
          );
        if (field.kind === "rule")
          return (
            <span key={field.name}>
              {" "}
              {field.title.toLowerCase()}{" "}
              <RuleSentence
                label={title}
                value={rule[field.name] as { kind: string }}
                kinds={places?.["map_size"] ?? []}
                onChange={set}
              />
            </span>
          );
        if (field.kind === "numbers")
          return <WholeNumbers key={field.name} label={title} value={rule[field.name] as number[]} onChange={set} />;
        return (
          <span key={field.name}>
            {" "}
            {field.title.toLowerCase()}{" "}
            <NumberToken
              label={title}
              value={rule[field.name] as number}
              unit={field.unit}
              min={-20000}
              max={20000}
              step={field.decimals ? 10 ** -Math.min(field.decimals, 3) : 1}
              decimals={field.decimals}
              onCommit={(next) => {
                set(field.decimals ? next : Math.round(next));
                return Promise.resolve(true);
              }}
            />
          </span>
        );
      })}
    </>
  );
}

/** Several whole numbers in one field, with commas between them. */
function WholeNumbers({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number[];
  onChange: (value: number[]) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const keep = () => {
    if (text !== null)
      onChange(
        text
          .split(/[\s,]+/)
          .map(Number)
          .filter((n) => Number.isInteger(n) && n > 0),
      );
    setText(null);
  };
  return (
    <TextField
      variant="standard"
      fullWidth
      value={text ?? value.join(", ")}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === "Enter") keep();
      }}
      slotProps={{
        htmlInput: { "aria-label": label, style: { fontFamily: MONO, fontSize: 12.5, height: 24, padding: 0 } },
      }}
    />
  );
}
