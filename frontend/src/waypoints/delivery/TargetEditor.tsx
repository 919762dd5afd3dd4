import { Alert, Box, Button, DialogActions, DialogContent, DialogTitle, TextField, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { ask, client, sentence, type Schemas } from "../../api/client";
import { useRules } from "../../document/queries";
import type { Target } from "../../api/types";
import { Heading } from "../../kit/Card";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { useProject } from "../../document/document";
import { MONO } from "../../kit/theme";
import { FormsToken } from "./FormsToken";
import { RuleSentence } from "./RuleSentence";
import { TextRows } from "./TextRows";

type Rules = Target["rules"];
type Checked = Schemas["CheckOut"];
type KindRule = Rules["masks"];

interface EditorProps {
  rules: Rules;
  onClose: () => void;
  onKeep: (rules: Rules) => Promise<void>;
}

const REQUIRED: { value: Rules["required"][number]; label: string }[] = [
  { value: "weights", label: "weights" },
  { value: "colour", label: "a colour map" },
  { value: "colour_far", label: "a far colour map" },
  { value: "occlusion", label: "occlusion" },
  { value: "normal", label: "a normal map" },
  { value: "roughness", label: "roughness" },
  { value: "classes", label: "a map of classes" },
];

/** The rules of an own target, with what they would make of this project as they are changed. */
export function TargetEditor({ rules: first, onClose, onKeep }: EditorProps) {
  const kinds = useRules().data;
  const [rules, setRules] = useState(first);
  const checked = useChecked(rules);
  if (!kinds) return null;
  const set = (part: Partial<Rules>) => setRules({ ...rules, ...part });
  const samples = (
    label: string,
    value: KindRule["registration"],
    onChange: (value: KindRule["registration"]) => void,
  ) => (
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
  const kind = (title: string, name: "masks" | "colour" | "detail") => {
    const rule = rules[name];
    const put = (part: Partial<KindRule>) => set({ [name]: { ...rule, ...part } });
    return (
      <Row title={title}>
        Samples {samples(`Samples of ${title}`, rule.registration, (registration) => put({ registration }))}.{" "}
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
  };
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
  const place = (name: keyof Rules["position"], label: string, choices: [string, string][]) => (
    <ChoiceToken
      label={label}
      value={rules.position[name]}
      choices={choices.map(([value, text]) => ({ value, label: text }))}
      onChange={(value) => set({ position: { ...rules.position, [name]: value } })}
    />
  );
  const rule = (title: string, name: "sizes" | "sheets" | "tiles" | "distances" | "mixing") => (
    <Row title={title}>
      <RuleSentence
        label={title}
        value={rules[name]}
        kinds={kinds.places[name] ?? []}
        onChange={(value) => set({ [name]: value } as Partial<Rules>)}
      />
    </Row>
  );
  return (
    <>
      <DialogTitle>Rules of {rules.title || "a target"}</DialogTitle>
      <DialogContent sx={{ display: "grid", gridTemplateColumns: "1fr 250px", gap: 2 }}>
        <Box sx={{ minWidth: 0 }}>
          <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
            <TextField
              size="small"
              label="Title"
              value={rules.title}
              onChange={(event) => set({ title: event.target.value })}
            />
            <TextField
              size="small"
              fullWidth
              label="In one sentence"
              value={rules.sentence}
              onChange={(event) => set({ sentence: event.target.value })}
            />
          </Box>
          {rule("Sizes", "sizes")}
          <Row title="Height">
            Samples{" "}
            {samples("Samples of the height", rules.height.registration, (registration) =>
              set({ height: { ...rules.height, registration } }),
            )}
            .{" "}
            <RuleSentence
              label="Heights"
              value={rules.height.coding}
              kinds={kinds.places["coding"] ?? []}
              onChange={(coding) => set({ height: { ...rules.height, coding: coding as Rules["height"]["coding"] } })}
            />{" "}
            Written as{" "}
            <FormsToken
              label="Formats of the height"
              value={rules.height.forms}
              forms={kinds.forms}
              onChange={(forms) => set({ height: { ...rules.height, forms } })}
            />
          </Row>
          {kind("Masks", "masks")}
          {kind("Colour", "colour")}
          {kind("Detail", "detail")}
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
          {rule("Weights", "sheets")}
          <Row title="Layers">
            At most{" "}
            <NumberToken
              label="Layers in all"
              value={rules.most_layers}
              unit=""
              min={1}
              max={64}
              step={1}
              decimals={0}
              onCommit={(v) => Promise.resolve(set({ most_layers: Math.round(v) })).then(() => true)}
            />{" "}
            in all,{" "}
            <ChoiceToken
              label="Limit in one block"
              value={rules.most_per_block ? "some" : "none"}
              choices={[
                { value: "none", label: "no limit a block" },
                { value: "some", label: "and in one block" },
              ]}
              onChange={(value) => set({ most_per_block: value === "some" ? 8 : null })}
            />
            {rules.most_per_block ? (
              <NumberToken
                label="Layers in one block"
                value={rules.most_per_block}
                unit=""
                min={1}
                max={64}
                step={1}
                decimals={0}
                onCommit={(v) => Promise.resolve(set({ most_per_block: Math.round(v) })).then(() => true)}
              />
            ) : null}
          </Row>
          {rule("Mixing", "mixing")}
          {rule("Tiles", "tiles")}
          {rule("Far and near", "distances")}
          <Row title="Needs">
            <FormsToken
              label="Maps that are needed"
              none="nothing"
              value={rules.required}
              forms={REQUIRED}
              onChange={(required) => set({ required: required as Rules["required"] })}
            />
          </Row>
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
          <TextRows
            title="Switch off, or set to"
            fields={[
              ["setting", "Setting"],
              ["to", "To"],
              ["because", "Because"],
            ]}
            rows={rules.neutral}
            onChange={(neutral) => set({ neutral: neutral as Rules["neutral"] })}
          />
          <TextRows
            title="After the import"
            fields={[
              ["do", "Do"],
              ["because", "Because"],
            ]}
            rows={rules.after}
            onChange={(after) => set({ after: after as Rules["after"] })}
          />
        </Box>
        <Example checked={checked} />
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Back
        </Button>
        <Button variant="contained" disabled={!checked?.rules} onClick={() => void onKeep(rules)}>
          Keep it
        </Button>
      </DialogActions>
    </>
  );
}

function Row({ title, children }: { title: string; children: React.ReactNode }) {
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

/** What the rules would make of this project, asked anew when they rest; an older answer is let go. */
function useChecked(rules: Rules): Checked | null {
  const { id } = useProject();
  const [checked, setChecked] = useState<Checked | null>(null);
  const text = JSON.stringify(rules);
  useEffect(() => {
    const stop = new AbortController();
    const timer = setTimeout(() => {
      ask(
        client.POST("/api/projects/{project_id}/targets/check", {
          params: { path: { project_id: id } },
          body: JSON.parse(text) as Record<string, never>,
          signal: stop.signal,
        }),
      )
        .then(setChecked)
        .catch((error: unknown) => {
          if (!stop.signal.aborted)
            setChecked({ trouble: sentence(error), rules: null, sizes: [], names: [], numbers: [], sentences: [] });
        });
    }, 250);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [id, text]);
  return checked;
}

function Example({ checked }: { checked: Checked | null }) {
  if (!checked) return <Typography color="textSecondary">Looking at it…</Typography>;
  return (
    <Box role="status" aria-label="What it makes of this project" sx={{ fontSize: 12.5 }}>
      {checked.trouble && !checked.rules && <Alert severity="error">{checked.trouble}</Alert>}
      {checked.rules && <Alert severity="success">It holds together.</Alert>}
      {checked.trouble && checked.rules && <Alert severity="warning">For this project: {checked.trouble}</Alert>}
      {checked.sizes.length > 0 && <Heading>Sizes near by</Heading>}
      {checked.sizes.map((text) => (
        <div key={text}>{text}</div>
      ))}
      {checked.names.length > 0 && <Heading>Files</Heading>}
      {checked.names.map((text) => (
        <Box key={text} sx={{ fontFamily: MONO, overflowWrap: "anywhere" }}>
          {text}
        </Box>
      ))}
      {checked.numbers.length > 0 && <Heading>On the note</Heading>}
      {checked.numbers.map(({ title, value }) => (
        <Box key={title} sx={{ display: "flex", justifyContent: "space-between", gap: 1 }}>
          <span>{title}</span>
          <Box component="span" sx={{ fontFamily: MONO, textAlign: "right" }}>
            {value}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
