import { create } from "zustand";
import { partly } from "./partly";
import type { Palette } from "../viewport/ramps";
import { TINTS } from "../theme";

export const WAYPOINTS = ["ground", "readings", "masks", "layers", "colour", "packing", "delivery", "fit"] as const;
export type Waypoint = (typeof WAYPOINTS)[number];

export const PAINTED_MAPS = [
  "colour",
  "colour_far",
  "normal",
  "roughness",
  "occlusion",
  "curvature",
  "detail",
] as const;
export type PaintedMap = (typeof PAINTED_MAPS)[number];

export type Mode = "plan" | "relief" | "both";

/** What the view shows. It is looked at, not saved: no revision knows of it. */
export type Subject =
  | {
      kind: "ground";
      style: "heights" | "shade" | "wipe";
      /** Before | after: how many steps of preparation "before" has. */
      steps?: number;
      /** Where a finding is, instead. */
      finding?: string;
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

export interface Camera {
  /** Plan: centre in parts of the ground (0–1), and how much larger than fitting. */
  x: number;
  y: number;
  zoom: number;
}

/** A line on the ground, in rows and columns of the home grid (between samples too). */
export interface ProfileLine {
  row0: number;
  col0: number;
  row1: number;
  col1: number;
}

/** A part of the ground, in metres from its west and north border. */
export interface MapPart {
  west: number;
  north: number;
  width: number;
  length: number;
}

/** A file of the delivery that is looked at as it will be written: what it is called, how, and in which pieces. */
export interface Written {
  of: string;
  name: string;
  how: string;
  /** Tiles across and down. */
  tiles: [number, number];
  /** The part of the ground that is written, where it is not all of it. */
  trial: MapPart | null;
}

interface ViewStore {
  mode: Mode;
  subject: Subject;
  held: Subject[];
  tint: number;
  water: boolean;
  wipe: number;
  exaggeration: number;
  /** Whether the relief shows the layers' textures close by. */
  near: boolean;
  /** Whether the colour map lies over those textures. */
  over: boolean;
  /** The relief's light: degrees clockwise from north, and above the horizon. */
  sun: { azimuth: number; altitude: number };
  palette: Palette;
  /** Held views beside the current one, all moving together; or the first of them wiped against it. */
  compare: "off" | "beside" | "wipe";
  /** Whether single samples are those of the delivered size. */
  final: boolean;
  /** A second view that is painted anew while something is dragged. */
  pinned: Subject | null;
  /** A picture (by its reading) that overlays are laid on; null: hill shade. */
  backdrop: string | null;
  /** The colour that masks are laid over the ground in. */
  tintColour: string;
  /** A line that values are read along. */
  profile: ProfileLine | null;
  /** The water level while its number is dragged; null: as it is saved. */
  shore: number | null;
  /** A place of the home grid that is asked why it is as it is. */
  why: { row: number; col: number } | null;
  selectedLayer: string | null;
  selectedCoat: string | null;
  /** A part of the ground that is being chosen. */
  cropping: MapPart | null;
  written: Written | null;
  camera: Camera;
  selectedMask: string | null;
  selectedLine: string | null;
  singleKeys: boolean;
  show: (subject: Subject, written?: Written | null) => void;
  set: (
    part: Partial<
      Pick<
        ViewStore,
        | "mode"
        | "sun"
        | "palette"
        | "compare"
        | "backdrop"
        | "final"
        | "pinned"
        | "tintColour"
        | "profile"
        | "cropping"
        | "shore"
        | "why"
        | "selectedLayer"
        | "selectedCoat"
        | "tint"
        | "water"
        | "wipe"
        | "exaggeration"
        | "near"
        | "over"
        | "camera"
        | "selectedMask"
        | "selectedLine"
        | "singleKeys"
      >
    >,
  ) => void;
  hold: () => void;
  letGo: (index: number) => void;
  reset: () => void;
}

const fresh = {
  mode: "plan" as Mode,
  subject: { kind: "ground", style: "heights" } as Subject,
  held: [] as Subject[],
  tint: 0.6,
  water: true,
  wipe: 0.5,
  exaggeration: 1.5,
  near: true,
  over: true,
  sun: { azimuth: 315, altitude: 45 },
  palette: "own" as Palette,
  compare: "off" as "off" | "beside" | "wipe",
  backdrop: null as string | null,
  final: false,
  pinned: null as Subject | null,
  tintColour: TINTS[0].value,
  profile: null as ProfileLine | null,
  cropping: null as MapPart | null,
  written: null as Written | null,
  shore: null as number | null,
  why: null as { row: number; col: number } | null,
  selectedLayer: null as string | null,
  selectedCoat: null as string | null,
  camera: { x: 0.5, y: 0.5, zoom: 1 },
  selectedMask: null as string | null,
  selectedLine: null as string | null,
};

export const useView = create<ViewStore>((set) => ({
  ...fresh,
  singleKeys: localStorage.getItem("single-keys") !== "off",
  show: (subject, written = null) => set({ subject, written }),
  set: (part) => {
    if (part.singleKeys !== undefined) localStorage.setItem("single-keys", part.singleKeys ? "on" : "off");
    set(part);
  },
  hold: () =>
    set((now) => {
      const text = JSON.stringify(now.subject);
      const others = now.held.filter((held) => JSON.stringify(held) !== text);
      return { held: [now.subject, ...others].slice(0, 4) };
    }),
  letGo: (index) => set((now) => ({ held: now.held.filter((_, i) => i !== index) })),
  reset: () => set(fresh),
}));

export const useViewParts = partly(useView);
