import { named } from "../../api/mapNames";
import type { Mask, Source } from "../../api/types";
import { useProject } from "../../document/document";
import { useReadings } from "../../document/queries";
import type { SourceChoice } from "../../viewport/SourcePicker";
import { FAMILY_TITLES } from "./families";

/** What is read, as one of the choices. */
export function valueOf(source: Source | null): string {
  if (!source) return "none";
  switch (source.kind) {
    case "mask":
      return typeof source.band === "number" ? named.band(source.mask, source.band) : named.mask(source.mask);
    case "plain":
      return "plain";
    case "feature":
      return `feature:${source.feature}`;
    case "reading":
      return `map:${source.reading}`;
    default:
      return named.reading(source.reading);
  }
}

/** A choice that is no map of its own: its kind, and what it is of. */
export function ownChoice(value: string): { kind: string; name: string } {
  const [kind = "", name = ""] = value.split(":");
  return { kind, name };
}

/** What a line can read, with pictures; `none`: what it is called where nothing may be read. */
export function useChoices(mask: Mask | null, none: string | undefined): SourceChoice[] {
  const readings = useReadings();
  const { document, bands: cuts } = useProject();
  return [
    ...(none ? [{ value: "none", label: none }] : []),
    ...readings.map((item) => ({
      value: named.reading(item.name),
      label: item.title.toLowerCase(),
      group: item.left ? "Left by a step" : (FAMILY_TITLES[item.family] ?? "Readings"),
      words: `${item.sentence} ${item.good_for}`,
      subject: { kind: "reading" as const, name: item.name, over: item.ramp_all && item.above },
    })),
    ...document.masks
      .filter((other) => other.id !== mask?.id)
      .flatMap((other) => {
        const bands = Array.from({ length: cuts[other.id] ?? 0 }, (_, k) => ({
          value: named.band(other.id, k),
          label: `${other.name}, band ${k + 1}`,
          group: "The mask",
          subject: { kind: "band" as const, mask: other.id, band: k },
        }));
        const subject = { kind: "mask" as const, id: other.id, style: "alone" as const, lines: null };
        return [{ value: named.mask(other.id), label: other.name, group: "The mask", subject }, ...bands];
      }),
    ...(document.features ?? []).map((item) => ({
      value: `feature:${item.id}`,
      label: item.name,
      group: "Drawn",
    })),
    ...readings
      .filter((item) => !item.wraps)
      .map((item) => ({
        value: `map:${item.name}`,
        label: `${item.title.toLowerCase()}, from black to white`,
        group: "As strong as",
      })),
    { value: "plain", label: "the number", group: "The same everywhere" },
  ];
}
