import { named } from "../../api/mapNames";
import { Box } from "@mui/material";
import type { Operation, Param, Reading } from "../../api/types";
import { ChoiceToken, type Choice } from "../../kit/ChoiceToken";
import { ColourToken } from "../../kit/ColourToken";
import { NumberToken } from "../../kit/NumberToken";
import { SeedToken } from "../../kit/SeedToken";
import { useDocument, useProject } from "../../document/document";
import { trialPicture } from "../../viewport/trials";

/** The numbers of a reading as tokens; each change is saved, all keys of a token together. */
export function ParamTokens({ reading }: { reading: Reading }) {
  const { document, readings } = useProject();
  const edit = useDocument((store) => store.edit);
  const id = reading.numbers_of;
  const saved = document.readings?.find((item) => item.id === id);
  const set = (param: Param, value: number | string): Operation[] => [
    {
      op: "set_reading",
      setting: {
        id,
        kind: saved?.kind ?? id,
        name: saved?.name ?? null,
        numbers: { ...saved?.numbers, [param.name]: value },
      },
    },
  ];
  const change = (param: Param, value: number | string, key: boolean) =>
    edit(set(param, value), {
      merge: key ? `reading ${id}:${param.name}` : "",
      what: `${param.title.toLowerCase()} of ${reading.title}`,
    });
  const shown = reading.params.filter((param) => param.kind !== "file");
  if (shown.length === 0) return null;
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", gap: "4px 12px", mt: 0.8, fontSize: 13 }}>
      {shown.map((param) => (
        <span key={param.name}>
          {param.title}{" "}
          {param.kind === "number" ? (
            <ParamNumber param={param} reading={reading} change={change} set={set} />
          ) : param.kind === "colour" ? (
            <ColourToken
              label={`${param.title} of ${reading.title.toLowerCase()}`}
              value={String(param.value)}
              onCommit={(value) => void change(param, value, false)}
            />
          ) : (
            <ChoiceToken
              label={`${param.title} of ${reading.title.toLowerCase()}`}
              value={String(param.value)}
              choices={choicesOf(param, document, readings, reading)}
              onChange={(value) => void change(param, value, false)}
            />
          )}
        </span>
      ))}
    </Box>
  );
}

interface ParamNumberProps {
  param: Param;
  reading: Reading;
  change: (param: Param, value: number, key: boolean) => Promise<boolean>;
  set: (param: Param, value: number) => Operation[];
}

function ParamNumber({ param, reading, change, set }: ParamNumberProps) {
  const state = useProject();
  const token = {
    label: `${param.title} of ${reading.title.toLowerCase()}`,
    value: Number(param.value),
    unit: param.unit,
    min: param.low,
    max: param.high,
    step: param.step,
    decimals: param.decimals,
    first: typeof param.default === "number" ? param.default : undefined,
    onCommit: (value: number, key: boolean) => change(param, value, key),
  };
  if (param.name !== "seed") return <NumberToken {...token} />;
  const tried = (seed: number) => ({
    operations: set(param, seed),
    map: named.reading(reading.name),
    subject: { kind: "reading" as const, name: reading.name, over: false },
    draft: reading.whole_ground,
  });
  return <SeedToken {...token} picture={(seed, slot, signal) => trialPicture(state, tried(seed), slot, signal)} />;
}

function choicesOf(
  param: Param,
  document: ReturnType<typeof useProject>["document"],
  readings: Reading[],
  reading: Reading,
): Choice[] {
  if (param.kind === "choice") return param.choices;
  if (param.kind === "map") return mapChoices(document, readings, reading);
  const pictures = readings.filter((item) => item.kind === "picture");
  return [{ value: "", label: "none" }, ...pictures.map((item) => ({ value: item.name, label: item.title }))];
}

/** Maps from 0 to 1 that can steer a reading: masks, and readings that have both ends fixed there. */
function mapChoices(document: ReturnType<typeof useProject>["document"], readings: Reading[], reading: Reading) {
  return [
    { value: "", label: "even" },
    ...document.masks.map((mask) => ({ value: named.mask(mask.id), label: mask.name, group: "Masks" })),
    ...readings
      .filter((item) => item.steers && item.name !== reading.name)
      .map((item) => ({ value: named.reading(item.name), label: item.title, group: "Readings" })),
  ];
}
