import { named } from "../../api/mapNames";
import type { Reading } from "../../api/types";
import { useProject } from "../../document/document";
import { trim, withUnit } from "../../kit/numbers";
import { Segments } from "../../kit/Segments";
import { single } from "../imaging";
import { HEIGHT, pictured, shadeBase, SHADE } from "../overlays";
import { rampOf } from "../ramps";
import { bendOf, ends, middleOf, ramped, readingEnds } from "../ramped";
import { readingTitle, type ChoicesProps, type Probed, type SubjectKind } from "./kind";
import type { Of } from "./subject";

type OfReading = Of<"reading">;
type OfPicture = Of<"picture">;

const WORDS: Record<string, string> = {
  "°": "degrees",
  m: "metres",
  "m²": "square metres",
  "1/m": "per metre",
  "×": "times as long",
};

function unitWord(reading: Reading | undefined): string {
  if (!reading) return "";
  const [low, high] = [reading.low, reading.high];
  return WORDS[reading.unit] ?? (low !== null && high !== null ? `${low} to ${high}` : "no unit");
}

/** A reading as the probe tells it. */
export function probedReading(name: string, readings: Reading[]): Probed {
  const found = readings.find((item) => item.name === name);
  return {
    title: found?.title ?? name,
    name: named.reading(name),
    unit: found?.unit ?? "",
    decimals: found?.decimals ?? 1,
  };
}

/** A reading in its colours, over hill shade or alone. */
export const reading: SubjectKind<OfReading> = {
  needs: ({ name, over }) => (over ? [named.reading(name), SHADE, HEIGHT] : [named.reading(name)]),
  title: ({ name }, _, readings) => {
    const found = readings.find((item) => item.name === name);
    const size = found?.params.find((param) => ["width", "radius", "size"].includes(param.name));
    const over = size && typeof size.value === "number" ? ` · ${size.title.toLowerCase()} ${trim(size.value)} m` : "";
    return [found?.title ?? name, `${unitWord(found)}${over}`];
  },
  paint: (subject, { maps, readings, options }) => {
    const map = maps(named.reading(subject.name));
    const whole = options.whole?.(named.reading(subject.name)) ?? map;
    const declared = readings.find((item) => item.name === subject.name);
    const [low, high] = readingEnds(whole, declared);
    const shade = subject.over && !declared?.light ? maps(SHADE) : null;
    const name = rampOf(declared?.ramp ?? "grey", declared?.signed ?? false, options.palette ?? "own");
    const log = declared?.scale === "log";
    const bend = bendOf(whole, declared, low, high);
    const image = ramped(map, name, low, high, log, shade, bend);
    const unit = declared?.unit ?? "";
    const decimals = log ? 0 : Math.min(declared?.decimals ?? 0, unit === "1/m" ? 4 : 2);
    const middle = bend === 1 ? {} : { middle: withUnit(middleOf(low, high, log, bend), unit, decimals) };
    const beyond = ends(whole)[1] > high + Math.abs(high) * 1e-6;
    const top = `${beyond ? "≥\u202f" : ""}${withUnit(high, unit, decimals)}`;
    const legend = { ramp: name, low: withUnit(low, unit, decimals), high: top, ...middle };
    return single(image, legend, shade !== null || declared?.light === true);
  },
  exists: ({ name }, state) => state.readings.some((item) => item.name === name),
  probed: ({ name }, rows, _, readings) =>
    rows.some((row) => row.name === named.reading(name)) ? rows : [...rows, probedReading(name, readings)],
  Choices: ReadingChoices,
};

/** A picture in true colour: as it is, half through over the shade, or with its samples taken both ways. */
export const picture: SubjectKind<OfPicture> = {
  needs: ({ name, style }) => [
    named.picture(name),
    ...(style === "both" ? [named.picture(name, true)] : []),
    SHADE,
    HEIGHT,
  ],
  title: ({ name, style }, _, readings) => {
    const how = {
      colour: "in true colour",
      over: "half through, over hill shade",
      both: "its samples the other way | as they are taken",
    };
    return [readingTitle(readings, name) ?? "Picture", how[style]];
  },
  paint: ({ name, style }, { maps, state, options }) => {
    const shade = shadeBase(maps, state, false);
    const image = pictured(shade, maps(named.picture(name)), style === "over" ? options.tint : 1);
    const other = style === "both" ? pictured(shade, maps(named.picture(name, true)), 1) : null;
    return single(image, null, false, other);
  },
  exists: ({ name }, state) => state.readings.some((item) => item.name === name),
  colourAt: ({ name }) => ({ name: named.picture(name), title: "Picture" }),
  tinted: ({ style }) => style === "over",
  wet: ({ style }) => style === "over",
  Choices: ReadingChoices,
};

/** A reading over the shade or alone; a picture also in true colour, and with its samples taken both ways. */
function ReadingChoices({ subject, show }: ChoicesProps<OfReading | OfPicture>) {
  const { readings } = useProject();
  const { name } = subject;
  const laid = readings.find((item) => item.name === name)?.kind === "picture";
  const value = subject.kind === "picture" ? subject.style : subject.over ? "channel" : "alone";
  return (
    <Segments
      label="Laid"
      options={[
        ...(laid
          ? [
              { value: "colour", label: "In colour" },
              { value: "over", label: "Half through" },
            ]
          : []),
        { value: "channel", label: laid ? "Channel" : "Over shade" },
        { value: "alone", label: "Alone" },
      ]}
      value={value}
      onChange={(next) => {
        if (next === "colour" || next === "over") show({ kind: "picture", name, style: next });
        else show({ kind: "reading", name, over: next === "channel" });
      }}
    />
  );
}
