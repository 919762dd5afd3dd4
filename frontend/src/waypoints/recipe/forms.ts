import type { Band } from "../../api/types";

/** A band is open above ("32° or steeper"), open below ("20° or gentler"), or lies between two edges. */
export type Form = "more" | "less" | "between";

export const FORMS: Form[] = ["more", "less", "between"];

/** What there can be of a reading (`least`, `most`), and what there is (`low`, `high`). */
export interface Ends {
  least: number;
  most: number;
  low: number;
  high: number;
  log: boolean;
}

export function formOf(band: Band, ends: Ends): Form {
  if (band.high >= ends.most && band.fade_high === 0) return "more";
  return band.low <= ends.least && band.fade_low === 0 ? "less" : "between";
}

function middle(a: number, b: number, log: boolean): number {
  const value = log ? Math.sqrt(Math.max(a, 1e-6) * Math.max(b, 1e-6)) : (a + b) / 2;
  return Number(value.toPrecision(3));
}

/** The band in another form: turned about, its edge and its fade stay where they are. */
export function turnedTo(band: Band, form: Form, ends: Ends): Band {
  const now = formOf(band, ends);
  if (now === form) return band;
  const open = { ...band };
  if (form === "more") {
    const [low, fade_low] = now === "less" ? [band.high, band.fade_high] : [band.low, band.fade_low];
    return { ...open, low, fade_low, high: ends.most, fade_high: 0 };
  }
  if (form === "less") {
    const [high, fade_high] = now === "more" ? [band.low, band.fade_low] : [band.high, band.fade_high];
    return { ...open, high, fade_high, low: ends.least, fade_low: 0 };
  }
  return now === "more"
    ? { ...open, high: Math.max(middle(band.low, ends.high, ends.log), band.low), fade_high: band.fade_low }
    : { ...open, low: Math.min(middle(ends.low, band.high, ends.log), band.high), fade_low: band.fade_high };
}
