import { Typography } from "@mui/material";
import { useReadings } from "../../document/queries";
import type { ChannelSource } from "../../api/types";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";

type ReadingSource = Extract<ChannelSource, { kind: "reading" }>;

interface MappingProps {
  source: ReadingSource;
  name: string;
  onSet: (source: ChannelSource) => Promise<boolean>;
}

/** How a reading becomes black to white, and what the ends stand for. */
export function ReadingMapping({ source, name, onSet }: MappingProps) {
  const reading = useReadings().find((item) => item.name === source.reading);
  const log = reading?.scale === "log";
  const choices: { value: ReadingSource["mapping"]; label: string }[] = reading?.wraps
    ? [
        { value: "east", label: "how far east its arrow reaches" },
        { value: "north", label: "how far north its arrow reaches" },
        { value: "own", label: "degrees, black to white" },
      ]
    : [
        { value: "own", label: log ? "on the logarithm" : "evenly" },
        ...(log
          ? [{ value: "even" as const, label: "evenly" }]
          : [{ value: "log" as const, label: "on the logarithm" }]),
        { value: "stretch", label: "stretched to this ground" },
        { value: "signed", label: "signed, 0 in the middle" },
      ];
  const onLog = source.mapping === "log" || (source.mapping === "own" && log);
  const end = (label: string, field: "black" | "white") => (
    <NumberToken
      label={`${label} of ${name}`}
      value={source[field]}
      unit={reading?.unit ?? ""}
      min={onLog ? 0.000001 : -20000}
      max={onLog ? 1e12 : 1e9}
      step={onLog ? Math.max(1, Math.round(source[field] / 10)) : 10 ** -Math.min(reading?.decimals ?? 1, 4)}
      decimals={Math.max(reading?.decimals ?? 2, 2)}
      onCommit={(v) => onSet({ ...source, [field]: v })}
    />
  );
  const choose = (mapping: string) => {
    const next = { ...source, mapping: mapping as ReadingSource["mapping"] };
    if (mapping === "signed") next.white = Math.max(Math.abs(source.black), Math.abs(source.white), 1e-6);
    if (mapping === "log" && next.black <= 0) next.black = Math.max(next.white / 1000, 1e-6);
    void onSet(next);
  };
  const ends = source.mapping === "own" || source.mapping === "even" || source.mapping === "log";
  return (
    <Typography variant="caption" component="div" sx={{ lineHeight: 2 }}>
      <ChoiceToken label={`How ${name} is mapped`} value={source.mapping} choices={choices} onChange={choose} />
      {ends && (
        <>
          , black is {end("Black", "black")}, white is {end("White", "white")}
        </>
      )}
      {source.mapping === "signed" && <>, white is {end("White", "white")}, black its opposite</>}
    </Typography>
  );
}
