import { Box, Button, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { ItemChoice, PlanItem } from "../../api/types";
import { Inset } from "../../kit/Card";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { MONO } from "../../kit/theme";
import { megabytes } from "../../kit/megabytes";
import { SideToken } from "./SideToken";
import { TURNS } from "./turns";

interface ItemProps {
  item: PlanItem;
  onChange: (choice: ItemChoice) => Promise<boolean>;
}

/** Everything that can be chosen of one file. */
export function ItemInset({ item, onChange }: ItemProps) {
  const { choice } = item;
  const form = item.forms.find((one) => one.id === item.form);
  const put = (part: Partial<ItemChoice>) => onChange({ ...choice, ...part });
  const set = (part: Partial<ItemChoice>) => void put(part);
  const side = (label: string, value: number, part: (samples: number) => Partial<ItemChoice>) => (
    <SideToken label={label} value={value} onCommit={(samples) => put(part(samples))} />
  );
  const picture = item.kind !== "points";
  return (
    <Inset chosen role="group" aria-label={`Details of ${item.name}`}>
      <Typography variant="caption" component="div" sx={{ lineHeight: 2.1, fontSize: 12.5 }}>
        <FileName item={item} onChange={set} />
        {picture && (
          <>
            {item.cols} × {item.rows}, {item.registration === "vertex" ? "on vertices" : "on cells"},{" "}
            {megabytes(item.bytes)}
            {item.resampled && <>; {item.resampled}. </>}
          </>
        )}
        {item.free_size && (
          <>
            Size {side("Columns", item.cols, (cols) => ({ cols, rows: choice.rows ?? item.rows }))}×{" "}
            {side("Rows", item.rows, (rows) => ({ rows, cols: choice.cols ?? item.cols }))}.{" "}
          </>
        )}
        {picture && item.kind !== "look" && (
          <>
            Turned{" "}
            <ChoiceToken
              label="How it is turned"
              value={choice.turn}
              choices={TURNS}
              onChange={(turn) => set({ turn: turn as ItemChoice["turn"] })}
            />
            .{" "}
          </>
        )}
        {item.sharpens && item.resampled.startsWith("reduced") && (
          <>
            Reduced by{" "}
            <ChoiceToken
              label="How it is reduced"
              value={choice.resampling}
              choices={[
                { value: "box", label: "the mean of what a sample stands for" },
                { value: "sharp", label: "a sharper filter" },
              ]}
              text={choice.resampling === "box" ? "the mean" : "a sharper filter"}
              onChange={(resampling) => set({ resampling: resampling as ItemChoice["resampling"] })}
            />
            .{" "}
          </>
        )}
        {(item.channels.includes("a") || !choice.alpha) && (
          <>
            Alpha is{" "}
            <ChoiceToken
              label="Alpha"
              value={choice.alpha ? "kept" : "stripped"}
              choices={[
                { value: "kept", label: "kept, as straight data" },
                { value: "stripped", label: "left out" },
              ]}
              onChange={(value) => set({ alpha: value === "kept" })}
            />
            .{" "}
          </>
        )}
        {form?.orders && (
          <>
            Bytes{" "}
            <ChoiceToken
              label="Byte order"
              value={choice.order ?? "little"}
              choices={[
                { value: "little", label: "little end first" },
                { value: "big", label: "big end first" },
              ]}
              onChange={(order) => set({ order: order as "little" | "big" })}
            />
            .{" "}
          </>
        )}
        {form?.packs && (
          <>
            Packed{" "}
            <ChoiceToken
              label="Packing of the file"
              value={`${choice.packed ? "packed" : "plain"}-${choice.blocks}`}
              choices={[
                { value: "packed-0", label: "without loss" },
                { value: "plain-0", label: "not at all" },
                ...(form.tiled
                  ? [
                      { value: "packed-256", label: "without loss, in tiles of 256 inside the file" },
                      { value: "plain-256", label: "not at all, in tiles of 256 inside the file" },
                    ]
                  : []),
              ]}
              onChange={(value) => {
                const [packed, blocks] = value.split("-");
                set({ packed: packed === "packed", blocks: Number(blocks) as ItemChoice["blocks"] });
              }}
            />
            .{" "}
          </>
        )}
        {item.kind === "height" && form?.floats && (
          <>
            Heights as{" "}
            <ChoiceToken
              label="How heights are stored"
              value={choice.stored ?? (choice.black === null || choice.black === undefined ? "metres" : "unit")}
              choices={[
                { value: "metres", label: "metres" },
                { value: "unit", label: "0 to 1 between black and white" },
                { value: "signed", label: "−1 to 1 about the middle of both" },
                { value: "mean", label: "metres about the mean" },
              ]}
              onChange={(stored) =>
                set({
                  stored: stored as NonNullable<ItemChoice["stored"]>,
                  ...(stored === "metres" || stored === "mean" ? { black: null, white: null } : {}),
                })
              }
            />
            .{" "}
          </>
        )}
        <Ends item={item} onChange={put} />
        {item.files > 1 || choice.whole ? (
          <>
            Written in{" "}
            <ChoiceToken
              label="Tiles"
              value={choice.whole ? "whole" : "tiles"}
              choices={[
                { value: "tiles", label: "tiles, as the target has it" },
                { value: "whole", label: "one file" },
              ]}
              onChange={(value) => set({ whole: value === "whole" })}
            />
            .
          </>
        ) : null}
      </Typography>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button size="small" color="inherit" onClick={() => set({ deliver: false })}>
          Leave it out
        </Button>
      </Box>
    </Inset>
  );
}

/** The name of a file, as the pattern has it or typed over; of raw files the ending too. */
function FileName({ item, onChange }: { item: PlanItem; onChange: (part: Partial<ItemChoice>) => void }) {
  const form = item.forms.find((one) => one.id === item.form);
  const dot = item.name.lastIndexOf(".");
  // Of tiles, every file has another name.
  const own = item.choice.file ?? (item.files > 1 ? "" : item.name.slice(0, dot));
  const [text, setText] = useState<string | null>(null);
  const [ending, setEnding] = useState<string | null>(null);
  const keep = () => {
    if (text !== null && text !== own) onChange({ file: text.trim() === "" ? null : text.trim() });
    if (ending !== null && ending !== item.name.slice(dot + 1)) onChange({ ending: ending.trim() || null });
    setText(null);
    setEnding(null);
  };
  const keys = (event: React.KeyboardEvent) => {
    if (event.key === "Enter") keep();
    if (event.key === "Escape") {
      setText(null);
      setEnding(null);
    }
  };
  const style = { htmlInput: { style: { fontFamily: MONO, fontSize: 12.5 } } };
  return (
    <Box sx={{ display: "flex", gap: 1, mb: 0.5 }}>
      <TextField
        size="small"
        fullWidth
        label="Name; empty: as the pattern has it"
        value={text ?? own}
        placeholder={item.name.slice(0, dot)}
        onChange={(event) => setText(event.target.value)}
        onBlur={keep}
        onKeyDown={keys}
        slotProps={style}
      />
      {form?.endings && (
        <TextField
          size="small"
          label="Ending"
          value={ending ?? item.name.slice(dot + 1)}
          onChange={(event) => setEnding(event.target.value)}
          onBlur={keep}
          onKeyDown={keys}
          sx={{ width: 90 }}
          slotProps={style}
        />
      )}
    </Box>
  );
}

/** What black and white stand for, where the target does not fix it. */
function Ends({ item, onChange }: { item: PlanItem; onChange: (part: Partial<ItemChoice>) => Promise<boolean> }) {
  const { choice, typed } = item;
  if (!typed) return null;
  const { black, white } = typed;
  const typedIn = choice.black !== null && choice.black !== undefined;
  const measured = item.kind !== "height" && item.forms.find((one) => one.id === item.form)?.floats;
  const token = (label: string, value: number, part: "black" | "white") => (
    <NumberToken
      label={label}
      value={value}
      unit={typed.unit}
      min={typed.log ? 1e-6 : -20000}
      max={typed.log ? 1e12 : 1e9}
      step={typed.log ? Math.max(1, Math.round(value / 10)) : Math.abs(white - black) > 10 ? 1 : 0.01}
      decimals={3}
      onCommit={(v) => onChange({ black, white, [part]: v })}
    />
  );
  const way = measured && (
    <>
      Values{" "}
      <ChoiceToken
        label="How values are stored"
        value={typed.as_is ? "measured" : "unit"}
        choices={[
          { value: "measured", label: "as measured" },
          { value: "unit", label: "0 to 1 between black and white" },
        ]}
        onChange={(next) => void onChange(next === "unit" ? { black, white } : { black: null, white: null })}
      />
      .{" "}
    </>
  );
  if (typed.as_is) return way;
  return (
    <>
      {way}
      Black is {token("Black stands for", black, "black")}, white is {token("White stands for", white, "white")}
      {typed.log && ", on the logarithm"}
      {typedIn && !measured && (
        <Button size="small" color="inherit" onClick={() => void onChange({ black: null, white: null })}>
          as before it was typed
        </Button>
      )}
      . {item.kind === "height" && HELD[typed.by]}
    </>
  );
}

/** What holds black and white of heights, and what another heightmap does to them. */
const HELD: Record<string, string> = {
  target: "",
  typed: "Another heightmap is stored by the same steps. ",
  codes: "Both are the heightmap\u2019s own: another one of its kind is stored by the same steps. ",
  extremes: "Both are its extremes: a new highest or lowest place rescales all others, unless they are typed. ",
};
