import { Box, Button, TextField } from "@mui/material";
import { useState } from "react";
import type { ItemChoice, PlanItem } from "../../api/types";
import { Inset } from "../../kit/Card";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { MONO } from "../../kit/theme";
import { SideToken } from "./SideToken";
import { TURNS } from "./turns";

interface SeveralProps {
  items: PlanItem[];
  tokens: string[];
  onChange: (choices: ItemChoice[]) => Promise<boolean>;
  onDone: () => void;
}

/** What can be changed of many files at once: what all of them can have. */
export function SeveralInset({ items, tokens, onChange, onDone }: SeveralProps) {
  const [first] = items;
  const [name, setName] = useState("");
  const shared = first?.forms.filter((form) =>
    items.every((item) => item.forms.some((other) => other.id === form.id && !other.loss)),
  );
  const all = (part: (item: PlanItem) => Partial<ItemChoice>) =>
    onChange(items.map((item) => ({ ...item.choice, ...part(item) })));
  const free = items.every((item) => item.free_size);
  const turned = items.every((item) => item.kind !== "points" && item.kind !== "look");
  const alike = items.every((item) => item.choice.turn === first?.choice.turn);
  const alpha = items.some((item) => item.channels.includes("a") || !item.choice.alpha);
  const side = (label: string, value: number, which: "rows" | "cols") => (
    <SideToken
      label={label}
      value={value}
      onCommit={(samples) => all((item) => ({ rows: item.rows, cols: item.cols, [which]: samples }))}
    />
  );
  return (
    <Inset chosen aria-label={`${items.length} files chosen`} role="group">
      <Box sx={{ fontSize: 13, lineHeight: 2.2 }}>
        {items.length} chosen: write all as{" "}
        <ChoiceToken
          label="Format of all that are chosen"
          value=""
          text="one format"
          choices={(shared ?? []).map((form) => ({ value: form.id, label: form.title }))}
          onChange={(form) => void all(() => ({ form }))}
        />
        {free && first && (
          <>
            , {side("Columns of all that are chosen", first.cols, "cols")}×{" "}
            {side("Rows of all that are chosen", first.rows, "rows")}
          </>
        )}
        {turned && (
          <>
            , turned{" "}
            <ChoiceToken
              label="How all that are chosen are turned"
              value={alike ? (first?.choice.turn ?? "none") : ""}
              text={alike ? undefined : "each in its own way"}
              choices={TURNS}
              onChange={(turn) => void all(() => ({ turn: turn as ItemChoice["turn"] }))}
            />
          </>
        )}
        {alpha && (
          <>
            , alpha{" "}
            <ChoiceToken
              label="Alpha of all that are chosen"
              value={items.every((item) => item.choice.alpha) ? "kept" : "stripped"}
              choices={[
                { value: "kept", label: "kept" },
                { value: "stripped", label: "left out" },
              ]}
              onChange={(value) => void all(() => ({ alpha: value === "kept" }))}
            />
          </>
        )}
        .
      </Box>
      <TextField
        size="small"
        fullWidth
        label="Name of all that are chosen"
        value={name}
        placeholder="{map}_{size}"
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && name.trim()) void all(() => ({ file: name.trim() }));
        }}
        helperText={`${tokens.join(", ")} stand for what they say; Enter takes it`}
        sx={{ my: 1 }}
        slotProps={{ htmlInput: { style: { fontFamily: MONO, fontSize: 12.5 } } }}
      />
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button size="small" color="inherit" onClick={() => void all(() => ({ deliver: false })).then(onDone)}>
          Leave them out
        </Button>
        <Button
          size="small"
          color="inherit"
          onClick={() =>
            void all(() => ({ file: null, form: null, rows: null, cols: null, turn: "none", alpha: true }))
          }
        >
          As the target has them
        </Button>
        <Button size="small" color="inherit" onClick={onDone}>
          Choose none
        </Button>
      </Box>
    </Inset>
  );
}
