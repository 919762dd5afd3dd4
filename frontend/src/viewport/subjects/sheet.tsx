import { named } from "../../api/mapNames";
import type { ProjectState, Reading } from "../../api/types";
import { useProject } from "../../document/document";
import { sourceTitle } from "../../document/sourceTitle";
import { Segments } from "../../kit/Segments";
import { grey, single, together } from "../imaging";
import { coloured, SHADE } from "../overlays";
import { share, type ChoicesProps, type Probed, type SubjectKind } from "./kind";
import type { Of } from "./subject";

type OfSheet = Of<"sheet">;
type OfSums = Of<"sums">;
type OfMixed = Of<"mixed">;

const sheetOf = (state: ProjectState, id: string) => state.document.sheets.find((item) => item.id === id);

/** Every channel of a sheet by what it carries. */
function probedChannels(id: string, state: ProjectState, readings: Reading[]): Probed[] {
  const found = sheetOf(state, id);
  const letters = found?.layout === "grey" ? "r" : found?.layout === "rgb" ? "rgb" : "rgba";
  return ([...letters] as ("r" | "g" | "b" | "a")[]).map((letter) => {
    const source = found?.[letter];
    const carries = source ? sourceTitle(source, state.document, readings) : "empty";
    return share(`${letter.toUpperCase()} ${carries}`, named.channel(id, letter), 0);
  });
}

/** A packed sheet: each channel alone, or three of them together. */
export const sheet: SubjectKind<OfSheet> = {
  needs: ({ id }) => [named.sheet(id)],
  title: ({ id, style }, state) => [
    sheetOf(state, id)?.name ?? "Sheet",
    style === "each" ? "each channel alone" : "R, G and B together, alpha left out",
  ],
  paint: ({ id, style }, { maps }) => {
    const map = maps(named.sheet(id));
    if (style === "together") return single(together(map), null, false);
    const letters = ["R", "G", "B", "A"].slice(0, map.channels);
    const panels = letters.map((letter, i) => ({ title: letter, image: grey(map, i) }));
    return { panels, before: null, legend: null, shaded: false };
  },
  exists: ({ id }, state) => sheetOf(state, id) !== undefined,
  probed: ({ id }, _, state, readings) => probedChannels(id, state, readings),
  Choices: SheetChoices,
};

/** One channel of a sheet. */
export const channel: SubjectKind<Of<"channel">> = {
  needs: (subject) => [named.channel(subject.sheet, subject.channel)],
  title: (subject, state) => [
    `${sheetOf(state, subject.sheet)?.name ?? "Sheet"} · ${subject.channel.toUpperCase()}`,
    "one channel, 0 to 255",
  ],
  paint: (subject, { maps }) =>
    single(grey(maps(named.channel(subject.sheet, subject.channel))), { ramp: "grey", low: "0", high: "255" }, false),
  exists: (subject, state) => sheetOf(state, subject.sheet) !== undefined,
  probed: (subject, _, state, readings) => probedChannels(subject.sheet, state, readings),
  Choices: ChannelChoices,
};

/** Whether the weights in all sheets add up. */
export const sums: SubjectKind<OfSums> = {
  needs: () => [named.sums()],
  title: () => ["Sum over all sheets", "white where weights add up exactly, darker where they do not"],
  paint: (_, { maps }) => single(grey(maps(named.sums())), { ramp: "grey", low: "off", high: "exact" }, false),
  Choices: SheetChoices,
};

/** The grounds put together of the sheets: by weights, or each laid over what is below it. */
export const mixed: SubjectKind<OfMixed> = {
  needs: ({ how }) => [named.mixed(how), SHADE],
  title: ({ how }) => [
    "Grounds",
    how === "chain" ? "of the sheets, each laid over what is below it" : "of the sheets, added up by weight",
  ],
  paint: ({ how }, { maps }) => single(coloured(maps(named.mixed(how)), maps(SHADE).values), null, true),
  Choices: SheetChoices,
};

/** Channels of a sheet, their sum over all sheets, or the grounds that come of them. */
function SheetChoices({ subject, show }: ChoicesProps<OfSheet | OfSums | OfMixed>) {
  const { sheets } = useProject().document;
  const id = subject.kind === "sheet" ? subject.id : sheets[0]?.id;
  const value = subject.kind === "sheet" ? subject.style : subject.kind === "mixed" ? subject.how : "sums";
  const weights = sheets.some((item) =>
    [item.r, item.g, item.b, item.a].some((source) => source && ["weight", "base", "step"].includes(source.kind)),
  );
  return (
    <Segments
      label="Channels"
      options={[
        { value: "each", label: "Each alone" },
        { value: "together", label: "Together" },
        ...(weights
          ? [
              { value: "sums", label: "Sum" },
              { value: "sum", label: "Mixed by weight" },
              { value: "chain", label: "Laid over" },
            ]
          : []),
      ]}
      value={value}
      onChange={(next) => {
        if (next === "sums") show({ kind: "sums" });
        else if (next === "sum" || next === "chain") show({ kind: "mixed", how: next });
        else if (id) show({ kind: "sheet", id, style: next as "each" | "together" });
      }}
    />
  );
}

function ChannelChoices({ subject, show }: ChoicesProps<Of<"channel">>) {
  return (
    <Segments
      label="Channels"
      options={[
        { value: "channel", label: subject.channel.toUpperCase() },
        { value: "each", label: "Each alone" },
        { value: "together", label: "Together" },
      ]}
      value="channel"
      onChange={(value) => {
        if (value !== "channel") show({ kind: "sheet", id: subject.sheet, style: value });
      }}
    />
  );
}
