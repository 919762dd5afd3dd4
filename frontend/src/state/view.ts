import { create } from "zustand";

export const WAYPOINTS = ["ground", "readings", "masks", "layers", "colour", "packing", "delivery", "fit"] as const;
export type Waypoint = (typeof WAYPOINTS)[number];

export type Mode = "plan" | "relief" | "both";

/** What the view shows. It is looked at, not saved: no revision knows of it. */
export type Subject =
  | { kind: "ground"; style: "heights" | "shade" }
  | { kind: "reading"; name: string; over: boolean }
  | { kind: "mask"; id: string; style: "over" | "alone" | "wipe"; lines: number | null }
  | { kind: "layers"; over: boolean }
  | { kind: "sheet"; id: string; style: "each" | "together" }
  | { kind: "channel"; sheet: string; channel: "r" | "g" | "b" | "a" }
  | { kind: "fit"; number: number; style: "difference" | "rebuilt" };

export interface Camera {
  /** Plan: centre in parts of the ground (0–1), and how much larger than fitting. */
  x: number;
  y: number;
  zoom: number;
}

interface ViewStore {
  mode: Mode;
  subject: Subject;
  held: Subject[];
  tint: number;
  water: boolean;
  wipe: number;
  exaggeration: number;
  camera: Camera;
  selectedMask: string | null;
  selectedLine: string | null;
  singleKeys: boolean;
  show: (subject: Subject) => void;
  set: (
    part: Partial<
      Pick<
        ViewStore,
        "mode" | "tint" | "water" | "wipe" | "exaggeration" | "camera" | "selectedMask" | "selectedLine" | "singleKeys"
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
  camera: { x: 0.5, y: 0.5, zoom: 1 },
  selectedMask: null as string | null,
  selectedLine: null as string | null,
};

export const useView = create<ViewStore>((set) => ({
  ...fresh,
  singleKeys: localStorage.getItem("single-keys") !== "off",
  show: (subject) => set({ subject }),
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
