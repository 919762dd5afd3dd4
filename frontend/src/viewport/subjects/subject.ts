import type { PaintedMap } from "../../document/sourceTitle";

/** What the view shows. It is looked at, not saved: no revision knows of it. */
export type Subject =
  | {
      kind: "ground";
      style: "heights" | "shade" | "wipe";
      /** Before | after: how many steps of preparation "before" has. */
      steps?: number;
      /** Where a finding is, instead. */
      finding?: string;
      /** Where heights lie below the first or above the second of two, in metres, instead. */
      beyond?: [number, number];
    }
  /** Where the step with this number (from 0) acts, over the ground before it. */
  | { kind: "acts"; step: number }
  | { kind: "reading"; name: string; over: boolean }
  | {
      kind: "mask";
      id: string;
      style: "over" | "alone" | "bands" | "wipe";
      lines: number | null;
      /** What it is laid over: hill shade, or the layers in their colours. */
      base?: "shade" | "colour";
    }
  /** A picture in true colour: as it is, half through over the shade, or with its samples taken both ways. */
  | { kind: "picture"; name: string; style: "colour" | "over" | "both" }
  /** One band of a mask that is cut into bands. */
  | { kind: "band"; mask: string; band: number }
  /** Where a mask differs at the delivered size. */
  | { kind: "final"; mask: string }
  /** Overlap and gaps between masks. */
  | { kind: "together"; masks: string[] }
  | { kind: "scatter"; id: string }
  /** All layers in their plain colours, or one of them alone over the base. */
  | { kind: "layers"; over: boolean; solo?: string | null }
  /** One layer's strength before sharing and its weight after it. */
  | { kind: "weight"; id: string; style: "after" | "before" | "wipe" }
  /** Which layer is the strongest. */
  | { kind: "strongest" }
  /** Whether the weights in all sheets add up. */
  | { kind: "sums" }
  /** The grounds put together of the sheets: by weights, or each laid over what is below it. */
  | { kind: "mixed"; how: "sum" | "chain" }
  /** Colour and surface maps. `coats`: how many lie in what is before, in before | after; or in all, in *after*. */
  | { kind: "colour"; map: PaintedMap; style: "lit" | "flat" | "wipe" | "after"; coats: number }
  /** How strongly a coat lies. */
  | { kind: "coat"; id: string }
  | { kind: "sheet"; id: string; style: "each" | "together" }
  | { kind: "channel"; sheet: string; channel: "r" | "g" | "b" | "a" }
  | FitSubject;

/** A map of a delivery as the fit check saw it: `map` is the name of its pictures, `full` stored full scale. */
export interface FitSubject {
  kind: "fit";
  number: number;
  map: string;
  title: string;
  style: FitStyle;
  /** One channel alone, or all together. */
  channel: number | null;
  channels: string[];
  metres: boolean;
  full: number;
  /** Metres between two stored heights. */
  step: number;
  /** Whether every sample was found to be as it was meant: then a difference has nothing to show. */
  exact: boolean;
}
export type FitStyle = "rebuilt" | "meant" | "difference" | "wipe" | "checker";

/** One kind of what the view shows. */
export type Of<K extends Subject["kind"]> = Extract<Subject, { kind: K }>;
