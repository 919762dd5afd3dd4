import { fitMap, type FitPart } from "../../api/maps";
import type { MapText } from "../../api/mapNames";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { Segments } from "../../kit/Segments";
import { fitPicture } from "../paintFit";
import { type ChoicesProps, type SubjectKind } from "./kind";
import { probedReading } from "./reading";
import type { FitStyle, FitSubject } from "./subject";

/** Which pictures of a fit check a style is painted from. */
function fitParts(style: FitStyle): FitPart[] {
  if (style === "wipe" || style === "checker") return ["rebuilt", "meant"];
  // Both are coloured between the same ends.
  return style === "rebuilt" || style === "meant" ? [style] : ["difference"];
}

/** The name of a picture of a fit check among all maps. */
export const fitName = (subject: FitSubject, part: FitPart): MapText => fitMap(subject.number, subject.map, part);

/** A map of a delivery as the fit check saw it. */
export const fit: SubjectKind<FitSubject> = {
  needs: (subject) => fitParts(subject.style).map((part) => fitName(subject, part)),
  title: (subject) => {
    const how = {
      rebuilt: "as the files hold it",
      meant: "as it was meant",
      difference: subject.exact ? "rebuilt − meant: every sample is as meant" : "rebuilt − meant",
      wipe: "meant | rebuilt",
      checker: "meant and rebuilt in squares",
    };
    const letter = subject.channel === null ? "" : ` · ${subject.channels[subject.channel]?.toUpperCase() ?? ""}`;
    return [`${subject.title}${letter}`, `${how[subject.style]} · delivery ${subject.number}`];
  },
  paint: (subject, { maps }) => fitPicture(subject, (part) => maps(fitName(subject, part))),
  probed: (subject, _, __, readings) =>
    subject.metres ? [{ ...probedReading("height", readings), title: "Project now", decimals: 4 }] : [],
  Choices: FitChoices,
};

const STYLES = [
  { value: "rebuilt" as const, label: "Rebuilt" },
  { value: "meant" as const, label: "Meant" },
  { value: "difference" as const, label: "Difference" },
  { value: "wipe" as const, label: "Wipe" },
  { value: "checker" as const, label: "Checker" },
];

/** A delivered map beside what was meant, one channel or all. */
function FitChoices({ subject, show }: ChoicesProps<FitSubject>) {
  const letters = subject.channels.map((letter) => letter.toUpperCase());
  return (
    <>
      <Segments
        label="Compared"
        options={STYLES}
        value={subject.style}
        onChange={(style) => show({ ...subject, style })}
      />
      {letters.length > 1 && (
        <ChoiceToken
          label="Channel"
          value={String(subject.channel ?? "all")}
          choices={[
            { value: "all", label: "all channels" },
            ...letters.map((letter, at) => ({ value: String(at), label: `${letter} alone` })),
          ]}
          onChange={(value) => show({ ...subject, channel: value === "all" ? null : Number(value) })}
        />
      )}
    </>
  );
}
