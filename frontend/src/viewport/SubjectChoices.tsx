import { Segments } from "../parts/Segments";
import { useProject } from "../state/document";
import { PAINTED_MAPS, type PaintedMap, useViewParts } from "../state/view";
import { ChoiceToken } from "../parts/ChoiceToken";
import { PAINTED_TITLES } from "./subjects";

/** The ways in which the current subject can be looked at. */
export function SubjectChoices() {
  const { subject, show } = useViewParts("subject", "show");
  const { in_place: prepared } = useProject();
  switch (subject.kind) {
    case "ground":
      return (
        <Segments
          label="Ground as"
          options={[
            { value: "heights", label: "Heights" },
            { value: "shade", label: "Shade" },
            ...(prepared ? [{ value: "wipe" as const, label: "Before | after" }] : []),
          ]}
          value={subject.style}
          onChange={(style) => show({ kind: "ground", style, steps: subject.steps ?? 0 })}
        />
      );
    case "reading":
    case "picture":
      return <ReadingChoices />;
    case "layers":
    case "weight":
    case "strongest":
      return <LayerChoices />;
    case "coat":
    case "acts":
      return null;
    case "colour":
      return <ColourChoices />;
    case "mask":
      return (
        <Segments
          label="Mask as"
          options={[
            { value: "over", label: "Over" },
            { value: "alone", label: "Alone" },
            { value: "bands", label: "Bands" },
            { value: "wipe", label: "Before | after" },
          ]}
          value={subject.style}
          onChange={(style) => show({ ...subject, style })}
        />
      );
    case "band":
    case "final":
      return (
        <Segments
          label="Mask as"
          options={[
            { value: "this", label: subject.kind === "band" ? `Band ${subject.band + 1}` : "Difference" },
            { value: "over", label: "Over" },
            { value: "alone", label: "Alone" },
            { value: "bands", label: "Bands" },
          ]}
          value="this"
          onChange={(style) => {
            if (style !== "this") show({ kind: "mask", id: subject.mask, style, lines: null });
          }}
        />
      );
    case "together":
    case "scatter":
      return null;
    case "sums":
    case "mixed":
    case "sheet":
      return <SheetChoices />;
    case "channel":
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
    case "fit":
      return <FitChoices />;
  }
}

const FIT_STYLES = [
  { value: "rebuilt" as const, label: "Rebuilt" },
  { value: "meant" as const, label: "Meant" },
  { value: "difference" as const, label: "Difference" },
  { value: "wipe" as const, label: "Wipe" },
  { value: "checker" as const, label: "Checker" },
];

/** A delivered map beside what was meant, one channel or all. */
function FitChoices() {
  const { subject, show } = useViewParts("subject", "show");
  if (subject.kind !== "fit") return null;
  const letters = subject.channels.map((letter) => letter.toUpperCase());
  return (
    <>
      <Segments
        label="Compared"
        options={FIT_STYLES}
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

/** Channels of a sheet, their sum over all sheets, or the grounds that come of them. */
function SheetChoices() {
  const { subject, show } = useViewParts("subject", "show");
  const { sheets } = useProject().document;
  const id = subject.kind === "sheet" ? subject.id : sheets[0]?.id;
  const value = subject.kind === "sheet" ? subject.style : subject.kind === "mixed" ? subject.how : "sums";
  const weights = sheets.some((sheet) =>
    [sheet.r, sheet.g, sheet.b, sheet.a].some((source) => source && ["weight", "base", "step"].includes(source.kind)),
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

/** Layers together, one of them, or who is strongest. */
function LayerChoices() {
  const { subject, show, selectedLayer } = useViewParts("subject", "show", "selectedLayer");
  const { layers } = useProject().document;
  const id = subject.kind === "weight" ? subject.id : (selectedLayer ?? layers.at(-1)?.id ?? "base");
  const value = subject.kind === "weight" ? subject.style : subject.kind === "strongest" ? "strongest" : "layers";
  return (
    <Segments
      label="Layers as"
      options={[
        { value: "layers", label: "Layers" },
        { value: "strongest", label: "Strongest" },
        { value: "after", label: "Weight" },
        { value: "wipe", label: "Before | after" },
      ]}
      value={value === "before" ? "wipe" : value}
      onChange={(next) => {
        if (next === "layers") show({ kind: "layers", over: true });
        else if (next === "strongest") show({ kind: "strongest" });
        else show({ kind: "weight", id, style: id === "base" ? "after" : (next as "after" | "wipe") });
      }}
    />
  );
}

/** Which painted map is looked at, and in what light. */
function ColourChoices() {
  const { subject, show } = useViewParts("subject", "show");
  if (subject.kind !== "colour") return null;
  const colour = subject.map.startsWith("colour");
  return (
    <>
      <ChoiceToken
        label="Map"
        value={subject.map}
        choices={PAINTED_MAPS.map((map) => ({ value: map, label: PAINTED_TITLES[map] }))}
        onChange={(map) => show({ kind: "colour", map: map as PaintedMap, style: "lit", coats: 0 })}
      />
      {colour && (
        <Segments
          label="Light"
          options={[
            { value: "lit", label: "Lit" },
            { value: "flat", label: "Flat" },
            { value: "wipe", label: "Before | after" },
          ]}
          value={subject.style === "after" ? "flat" : subject.style}
          onChange={(style) => show({ ...subject, style })}
        />
      )}
    </>
  );
}

/** A reading over the shade or alone; a picture also in true colour, and with its samples taken both ways. */
function ReadingChoices() {
  const { subject, show } = useViewParts("subject", "show");
  const { readings } = useProject();
  if (subject.kind !== "reading" && subject.kind !== "picture") return null;
  const { name } = subject;
  const picture = readings.find((item) => item.name === name)?.kind === "picture";
  const value = subject.kind === "picture" ? subject.style : subject.over ? "channel" : "alone";
  return (
    <Segments
      label="Laid"
      options={[
        ...(picture
          ? [
              { value: "colour", label: "In colour" },
              { value: "over", label: "Half through" },
            ]
          : []),
        { value: "channel", label: picture ? "Channel" : "Over shade" },
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
