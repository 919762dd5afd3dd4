import { create } from "zustand";
import type { Subject } from "./subjects/subject";
import { partly } from "../document/partly";
import type { Palette } from "./ramps";
import { TINTS } from "../kit/theme";

export type Mode = "plan" | "relief" | "both";

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

/** There is none outside of a browser. */
const kept = globalThis.localStorage as Storage | undefined;

export const useView = create<ViewStore>((set) => ({
  ...fresh,
  singleKeys: kept?.getItem("single-keys") !== "off",
  show: (subject, written = null) => set({ subject, written }),
  set: (part) => {
    if (part.singleKeys !== undefined) kept?.setItem("single-keys", part.singleKeys ? "on" : "off");
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
