import type { Delivery, Finding, Fit, FitMap } from "../../api/types";
import type { FitStyle, FitSubject } from "../../viewport/subjects/subject";

/** A map of a delivery as something to look at; null where it has no pictures. */
export function fitSubject(delivery: Delivery, map: FitMap, style: FitStyle, channel: number | null = null) {
  if (!map.shown) return null;
  const subject: FitSubject = {
    kind: "fit",
    number: delivery.number,
    map: map.shown,
    title: map.title,
    // Without the project's own beside it there is only what the files hold.
    style: map.compared === "samples" ? style : "rebuilt",
    channel,
    channels: map.channels,
    metres: map.kind === "height",
    full: map.full,
    step: delivery.fit?.height_step ?? 0,
    exact: map.state === "exact",
  };
  return subject;
}

/** The map that a finding is about. */
export function mapOf(fit: Fit, finding: Finding): FitMap | undefined {
  return fit.maps?.find((map) => map.files.includes(finding.file));
}

/** How many things do not fit: files, the note, what was typed. */
export function wrongIn(fit: Fit): number {
  return new Set(fit.findings.filter((item) => item.severity === "error").map((item) => item.file)).size;
}

/** What came of a check, in words that claim no more than was done. */
export function verdict(fit: Fit): [string, string] {
  const wrong = wrongIn(fit);
  const maps = fit.maps ?? [];
  if (maps.length === 0)
    return [
      fit.fits ? "Everything fits" : "Not everything fits",
      `${fit.files} files were read back by an earlier check. Check again to see every map.`,
    ];
  const compared = maps.filter((map) => map.compared === "samples").length;
  const rest = maps.length - compared;
  const also = rest > 0 ? ` ${rest} more ${rest === 1 ? "is" : "are"} as delivered, by checksum.` : "";
  if (wrong === 0)
    return [
      "Everything fits",
      `${compared} ${compared === 1 ? "map lines" : "maps line"} up with the project, sample by sample.${also}`,
    ];
  const good = maps.filter((map) => map.state === "exact" || map.state === "unchanged").length;
  const faults = fit.findings.filter((item) => item.severity === "error").length;
  const more = faults > wrong ? `${faults} faults in ${wrong === 1 ? "it" : "them"}. ` : "";
  return [
    wrong === 1 ? "One thing does not fit" : `${wrong} things do not fit`,
    `${more}${good} of ${maps.length} maps are as they were meant.`,
  ];
}
