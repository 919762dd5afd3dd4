import { Box, TextField } from "@mui/material";
import type { Target } from "../../api/types";
import type { useRules } from "../../document/queries";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { MONO } from "../../kit/theme";
import { FormsToken } from "./FormsToken";
import { RuleSentence } from "./RuleSentence";

type Rules = Target["rules"];
type KindRule = Rules["masks"];

/** The rules as they are, what they may be, and how they are changed. */
export interface RowProps {
  rules: Rules;
  kinds: NonNullable<ReturnType<typeof useRules>["data"]>;
  set: (part: Partial<Rules>) => void;
}

export function Row({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box
      role="group"
      aria-label={title}
      sx={{ display: "grid", gridTemplateColumns: "82px 1fr", gap: 1, mt: 1, fontSize: 13, lineHeight: 2 }}
    >
      <Box sx={{ color: "text.secondary" }}>{title}</Box>
      <div>{children}</div>
    </Box>
  );
}

interface SamplesProps {
  label: string;
  value: KindRule["registration"];
  onChange: (value: KindRule["registration"]) => void;
}

function SamplesToken({ label, value, onChange }: SamplesProps) {
  return (
    <ChoiceToken
      label={label}
      value={value}
      choices={[
        { value: "vertex", label: "on vertices" },
        { value: "area", label: "on cells" },
      ]}
      onChange={(next) => onChange(next as KindRule["registration"])}
    />
  );
}

/** A rule that is one of several kinds, as its sentence. */
export function RuleRow({
  title,
  name,
  rules,
  kinds,
  set,
}: RowProps & {
  title: string;
  name: "sizes" | "sheets" | "tiles" | "distances" | "mixing";
}) {
  return (
    <Row title={title}>
      <RuleSentence
        label={title}
        value={rules[name]}
        kinds={kinds.places[name] ?? []}
        onChange={(value) => set({ [name]: value } as Partial<Rules>)}
      />
    </Row>
  );
}

/** Samples, size and formats of one kind of map. */
export function KindRow({
  title,
  name,
  rules,
  kinds,
  set,
}: RowProps & {
  title: string;
  name: "masks" | "colour" | "detail";
}) {
  const rule = rules[name];
  const put = (part: Partial<KindRule>) => set({ [name]: { ...rule, ...part } });
  return (
    <Row title={title}>
      Samples{" "}
      <SamplesToken
        label={`Samples of ${title}`}
        value={rule.registration}
        onChange={(registration) => put({ registration })}
      />
      .{" "}
      <RuleSentence
        label={`Size of ${title}`}
        value={rule.size}
        kinds={kinds.places["map_size"] ?? []}
        onChange={(size) => put({ size: size as KindRule["size"] })}
      />{" "}
      Written as{" "}
      <FormsToken
        label={`Formats of ${title}`}
        value={rule.forms}
        forms={kinds.forms}
        onChange={(forms) => put({ forms })}
      />
    </Row>
  );
}

/** Samples, coding and formats of the height. */
export function HeightRow({ rules, kinds, set }: RowProps) {
  const put = (part: Partial<Rules["height"]>) => set({ height: { ...rules.height, ...part } });
  return (
    <Row title="Height">
      Samples{" "}
      <SamplesToken
        label="Samples of the height"
        value={rules.height.registration}
        onChange={(registration) => put({ registration })}
      />
      .{" "}
      <RuleSentence
        label="Heights"
        value={rules.height.coding}
        kinds={kinds.places["coding"] ?? []}
        onChange={(coding) => put({ coding: coding as Rules["height"]["coding"] })}
      />{" "}
      Written as{" "}
      <FormsToken
        label="Formats of the height"
        value={rules.height.forms}
        forms={kinds.forms}
        onChange={(forms) => put({ forms })}
      />
    </Row>
  );
}

/** Where files begin, what alpha and colours are, and how files are called. */
export function FilesRow({ rules, set }: RowProps) {
  const choice = <Name extends "first_row" | "first_column" | "alpha" | "colour_space">(
    label: string,
    name: Name,
    choices: [Rules[Name], string][],
  ) => (
    <ChoiceToken
      label={label}
      value={rules[name]}
      choices={choices.map(([value, text]) => ({ value, label: text }))}
      onChange={(value) => set({ [name]: value } as Partial<Rules>)}
    />
  );
  return (
    <Row title="Files">
      Begin in the{" "}
      {choice("First row", "first_row", [
        ["north", "north"],
        ["south", "south"],
      ])}{" "}
      and the{" "}
      {choice("First column", "first_column", [
        ["west", "west"],
        ["east", "east"],
      ])}
      ; alpha{" "}
      {choice("Alpha", "alpha", [
        ["data", "holds data"],
        ["none", "is not taken"],
      ])}
      ; colours are{" "}
      {choice("Colours", "colour_space", [
        ["sRGB", "sRGB"],
        ["linear", "linear light"],
      ])}
      . Named{" "}
      <TextField
        variant="standard"
        value={rules.names}
        onChange={(event) => set({ names: event.target.value })}
        slotProps={{
          htmlInput: {
            "aria-label": "Names",
            style: { fontFamily: MONO, fontSize: 12.5, height: 24, padding: 0 },
          },
        }}
      />
    </Row>
  );
}

/** How many layers are taken, in all and in one block. */
export function LayersRow({ rules, set }: RowProps) {
  const count = (label: string, value: number, put: (value: number) => void) => (
    <NumberToken
      label={label}
      value={value}
      unit=""
      min={1}
      max={64}
      step={1}
      decimals={0}
      onCommit={(next) => {
        put(Math.round(next));
        return Promise.resolve(true);
      }}
    />
  );
  return (
    <Row title="Layers">
      At most {count("Layers in all", rules.most_layers, (most_layers) => set({ most_layers }))} in all,{" "}
      <ChoiceToken
        label="Limit in one block"
        value={rules.most_per_block ? "some" : "none"}
        choices={[
          { value: "none", label: "no limit a block" },
          { value: "some", label: "and in one block" },
        ]}
        onChange={(value) => set({ most_per_block: value === "some" ? 8 : null })}
      />
      {rules.most_per_block
        ? count("Layers in one block", rules.most_per_block, (most_per_block) => set({ most_per_block }))
        : null}
    </Row>
  );
}

/** In which units its numbers are typed. */
export function UnitsRow({ rules, kinds, set }: RowProps) {
  const unit = (name: keyof Rules["units"], label: string) => (
    <RuleSentence
      label={label}
      value={rules.units[name]}
      kinds={kinds.places["unit"] ?? []}
      onChange={(value) => set({ units: { ...rules.units, [name]: value } as Rules["units"] })}
    />
  );
  return (
    <Row title="Units">
      Heights in {unit("heights", "Unit of heights")}, lengths in {unit("lengths", "Unit of lengths")}, positions in{" "}
      {unit("positions", "Unit of positions")}.
    </Row>
  );
}

/** What a position names, and from where heights count. */
export function PositionRow({ rules, set }: RowProps) {
  const place = (name: keyof Rules["position"], label: string, choices: [string, string][]) => (
    <ChoiceToken
      label={label}
      value={rules.position[name]}
      choices={choices.map(([value, text]) => ({ value, label: text }))}
      onChange={(value) => set({ position: { ...rules.position, [name]: value } })}
    />
  );
  return (
    <Row title="Position">
      Names{" "}
      {place("anchor", "What its position names", [
        ["corner", "the south-west corner"],
        ["centre", "the centre"],
      ])}
      ; up is{" "}
      {place("up", "Up", [
        ["z", "z"],
        ["y", "y"],
      ])}
      ; heights count{" "}
      {place("heights", "Heights count", [
        ["project", "as in the project"],
        ["water", "from the water level"],
      ])}
      .
    </Row>
  );
}
