import { ownChoice, useChoices, valueOf } from "./sourceChoices";
import { readOn } from "../../document/holder";
import { readName } from "../../api/mapNames";
import { useEffect, useRef, useState } from "react";
import { useReadings, useStats } from "../../document/queries";
import type { Band, Mask, Reading, Source } from "../../api/types";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { NumberToken } from "../../kit/NumberToken";
import { useDocument, useProject } from "../../document/document";
import { sentence } from "../../api/client";
import { axisOf } from "./band";
import { formOf, FORMS, turnedTo, type Form } from "./forms";
import { fit, fittedBand, fittedMapping } from "./fit";
import { SourcePicker } from "../../viewport/SourcePicker";

interface SourceTokensProps {
  source: Source | null;
  /** The mask whose line reads it, if one does: it cannot read itself. */
  mask: Mask | null;
  /** What goes before the name of a reading of the ground at hand: the prepared one, or that before a step. */
  steps?: number | null;
  label: string;
  /** What stands there without a source, where there need not be one. */
  none?: string;
  onPreview: (next: Source | null) => void;
  onCommit: (next: Source | null, keyStep: boolean, field: string) => Promise<boolean>;
}

/** What a line reads, as tokens: which map, and its edges, ends or widths. */
export function SourceTokens(props: SourceTokensProps) {
  const { source, label, none } = props;
  const { document, home, id } = useProject();
  const readings = useReadings();
  const choices = useChoices(props.mask, none);
  const say = useDocument((store) => store.tell);
  // What is chosen is measured before it is taken: what it replaces is not there to be edited any more, and the line
  // may have been changed elsewhere by then.
  const [coming, setComing] = useState<string | null>(null);
  const latest = useRef(props);
  useEffect(() => {
    latest.current = props;
  });
  const choose = async (value: string) => {
    const chosen = readName(value);
    const { kind, name } = ownChoice(value);
    const reading = readings.find((item) => item.name === (chosen?.kind === "reading" ? chosen.reading : name));
    let next: Source | null = null;
    if (chosen?.kind === "mask") next = { kind: "mask", mask: chosen.mask, band: null };
    else if (chosen?.kind === "band") next = { kind: "mask", mask: chosen.mask, band: chosen.band };
    else if (kind === "plain") next = { kind: "plain", value: 0.5 };
    else if (kind === "feature") {
      const spacing = Math.max(home.spacing_x, home.spacing_y);
      next = { kind: "feature", feature: name, width: tidy(1.5 * spacing), fade: tidy(spacing), smooth: false };
    } else if (reading) {
      try {
        const before = source?.kind === "band" ? source : null;
        const found = await fit(id, reading.name, props.steps, before);
        next =
          kind === "map" ? fittedMapping(reading, found) : fittedBand(reading.name, found, before?.smooth ?? false);
      } catch (error) {
        return say(sentence(error));
      }
    } else if (kind !== "none") return say("That map is no longer there.");
    await latest.current.onCommit(next, false, "source");
  };
  const take = (value: string) => {
    setComing(value);
    void choose(value).finally(() => setComing(null));
  };
  const token = (
    <SourcePicker
      label={label}
      value={coming ?? valueOf(source)}
      choices={choices}
      text={!coming && source?.kind === "reading" ? sourceName(source, document, readings) : undefined}
      onChange={take}
    />
  );
  // It stays where it is whatever is chosen, so that it keeps the focus.
  return (
    <>
      {coming || !source ? "" : (LEADS[source.kind] ?? "")}
      {token}
      {coming ? <span role="status"> is coming…</span> : source && <RestTokens {...props} source={source} />}
    </>
  );
}

const LEADS: Partial<Record<Source["kind"], string>> = { mask: "the mask ", band: "ground where " };

/** What follows the name of what is read. */
function RestTokens(props: Omit<SourceTokensProps, "source"> & { source: Source }) {
  const { source, onPreview, onCommit } = props;
  const { document } = useProject();
  const readings = useReadings();
  const stats = useReadStats(source, props.steps ?? null);
  switch (source.kind) {
    case "mask":
      return null;
    case "plain":
      return (
        <>
          {" "}
          <NumberToken
            label="Value"
            value={source.value ?? 0.5}
            unit=""
            min={0}
            max={1}
            step={0.01}
            onPreview={(v) => onPreview(v === null ? null : { ...source, value: v })}
            onCommit={(v, key) => onCommit({ ...source, value: v }, key, "value")}
          />
        </>
      );
    case "feature":
      return <FeatureTokens {...props} source={source} closed={isClosed(document, source.feature)} />;
    case "reading":
      return <MappedTokens {...props} source={source} readings={readings} />;
    case "band":
      return (
        <>
          {" is "}
          <BandTokens
            band={source}
            reading={readings.find((item) => item.name === source.reading)}
            stats={stats}
            onPreview={onPreview}
            onCommit={onCommit}
          />
        </>
      );
  }
}

/** What is read, in a word or two. */
export function sourceName(
  source: Source,
  document: ReturnType<typeof useProject>["document"],
  readings: Reading[],
): string {
  switch (source.kind) {
    case "mask": {
      const name = document.masks.find((item) => item.id === source.mask)?.name ?? "a mask";
      return typeof source.band === "number" ? `${name}, band ${source.band + 1}` : name;
    }
    case "plain":
      return source.value === 1 ? "everything" : String(source.value ?? 0.5);
    case "feature":
      return document.features?.find((item) => item.id === source.feature)?.name ?? "a drawn line";
    default:
      return readings.find((item) => item.name === source.reading)?.title.toLowerCase() ?? source.reading;
  }
}

function tidy(value: number): number {
  return Number(value.toPrecision(2));
}

function isClosed(document: ReturnType<typeof useProject>["document"], id: string): boolean {
  return document.features?.find((item) => item.id === id)?.closed ?? false;
}

function useReadStats(source: Source | null, steps: number | null) {
  const name = source?.kind === "band" ? readOn(steps, source.reading) : null;
  return useStats(name).data;
}

type Of<K extends Source["kind"]> = Omit<SourceTokensProps, "source"> & {
  source: Extract<Source, { kind: K }>;
};

function FeatureTokens({ source, closed, onPreview, onCommit }: Of<"feature"> & { closed: boolean }) {
  const { home } = useProject();
  const most = Math.round(Math.max(home.width, home.length) / 4);
  const number = (label: string, field: "width" | "fade") => (
    <NumberToken
      label={label}
      value={source[field] ?? 0}
      unit="m"
      min={0}
      max={most}
      step={0.5}
      decimals={1}
      onPreview={(v) => onPreview(v === null ? null : { ...source, [field]: v })}
      onCommit={(v, key) => onCommit({ ...source, [field]: v }, key, field)}
    />
  );
  return (
    <>
      {closed ? " and" : " as wide as"} {number("Width of the line", "width")} {closed ? "around it" : ""}, fading over{" "}
      {number("Fade of the line", "fade")}
    </>
  );
}

function MappedTokens({
  source,
  readings,
  steps = null,
  onPreview,
  onCommit,
}: Of<"reading"> & { readings: Reading[] }) {
  const reading = readings.find((item) => item.name === source.reading);
  const stats = useStats(readOn(steps, source.reading)).data;
  const log = reading?.scale === "log";
  const low = Math.min(reading?.low ?? stats?.low ?? 0, source.black, source.white);
  const high = Math.max(reading?.high ?? stats?.high ?? 1, source.black, source.white);
  const step = log ? Math.max(1, Math.round(source.black / 20)) : Number(((high - low) / 100 || 0.01).toPrecision(1));
  // As far again as there is anything; until that is measured, anything may be typed.
  const room = stats ? high - low : Infinity;
  const number = (label: string, field: "black" | "white") => (
    <NumberToken
      label={label}
      value={source[field]}
      unit={reading?.unit ?? ""}
      min={log ? 1e-3 : low - room}
      max={high + room}
      step={step}
      decimals={Math.max(0, Math.min(5, Math.ceil(-Math.log10(step)) + 1))}
      onPreview={(v) => onPreview(v === null ? null : { ...source, [field]: v })}
      onCommit={(v, key) => onCommit({ ...source, [field]: v }, key, field)}
    />
  );
  return (
    <>
      , nothing at {number("Black at", "black")} and full at {number("White at", "white")}
    </>
  );
}

interface BandTokensProps {
  band: Band;
  reading: Reading | undefined;
  stats: ReturnType<typeof useStats>["data"];
  onPreview: (next: Source | null) => void;
  onCommit: (next: Source, keyStep: boolean, field: string) => Promise<boolean>;
}

function BandTokens({ band, reading, stats, onPreview, onCommit }: BandTokensProps) {
  if (!reading) return null;
  const axis = axisOf(reading, stats, band);
  const span = axis.high - axis.low;
  const most = axis.log ? 1e9 : (reading.high ?? Math.max(Math.ceil(axis.high), band.high));
  const least = reading.wraps ? 0 : Math.min(reading.low ?? Math.floor(axis.low), band.low);
  // Until the histogram is there only fixed ends are known: nothing is refused, or stands still, at one that is not.
  const floor = axis.log ? 1 : stats || reading.wraps || reading.low !== null ? least : -Infinity;
  const ceiling = stats || axis.log || reading.high !== null ? most : Infinity;
  const widest = axis.log ? 12 : stats ? span : Infinity;
  const step = axis.log
    ? Math.max(1, Math.round(band.low / 20))
    : span > 200
      ? 1
      : span > 20
        ? 0.5
        : Math.min(0.05, 10 ** Math.floor(Math.log10(Math.max(span, 1e-6) / 20)));
  const decimals = Math.max(2, Math.ceil(-Math.log10(step)));
  const token = (label: string, field: "low" | "high" | "fade_low" | "fade_high") => {
    const fade = field.startsWith("fade");
    const set = (v: number): Band => ({ ...band, [field]: v });
    // Directions go round: a band may run through north. Otherwise one edge ends where the other stands.
    const from = field === "high" && !reading.wraps ? band.low : floor;
    const to = field === "low" && !reading.wraps ? band.high : ceiling;
    const bounds = {
      ...(from > floor ? { min: "the lower edge" } : {}),
      ...(to < ceiling ? { max: "the upper edge" } : {}),
    };
    return (
      <NumberToken
        label={label}
        value={band[field] ?? 0}
        unit={fade && axis.log ? "doublings" : reading.unit}
        min={fade ? 0 : from}
        max={fade ? Math.max(widest, band[field] ?? 0) : to}
        bounds={fade ? {} : bounds}
        step={fade && axis.log ? 0.25 : step}
        decimals={decimals}
        onPreview={(v) => onPreview(v === null ? null : set(v))}
        onCommit={(v, key) => onCommit(set(v), key, field)}
      />
    );
  };
  const shape = (
    <ChoiceToken
      label="Shape of the fades"
      value={band.smooth ? "smooth" : "straight"}
      choices={[
        { value: "straight", label: "straight" },
        { value: "smooth", label: "smooth" },
      ]}
      onChange={(v) => void onCommit({ ...band, smooth: v === "smooth" }, false, "smooth")}
    />
  );
  const ends = { least, most, log: axis.log, low: axis.low, high: axis.high };
  const form = reading.wraps ? "between" : formOf(band, ends);
  const words: Record<Form, string> = { more: `or ${reading.more}`, less: `or ${reading.less}`, between: "to" };
  const about = reading.wraps ? (
    " to "
  ) : (
    <ChoiceToken
      label="Which side of the edge"
      value={form}
      text={words[form]}
      choices={FORMS.map((value) => ({ value, label: value === "between" ? "between two edges" : words[value] }))}
      onChange={(next) => void onCommit(turnedTo(band, next as Form, ends), false, "form")}
    />
  );
  const low = token("Lower edge", "low");
  const high = token("Upper edge", "high");
  if (form === "more")
    return (
      <>
        {low} {about}, fading in over {token("Lower fade", "fade_low")} in a {shape} fade,
      </>
    );
  if (form === "less")
    return (
      <>
        {high} {about}, fading out over {token("Upper fade", "fade_high")} in a {shape} fade,
      </>
    );
  return (
    <>
      {low} {about} {high}, fading in over {token("Lower fade", "fade_low")} and out over{" "}
      {token("Upper fade", "fade_high")} in a {shape} fade,
    </>
  );
}
