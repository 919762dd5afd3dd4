import { create } from "zustand";
import { partly } from "../document/partly";
import type { Feature, Source, Stroke } from "../api/types";

/** A place on the ground in metres from its north-west corner, and how hard a pen pressed there (0–1). */
export interface Place {
  east: number;
  south: number;
  pressure: number;
}

/** What the pointer does on Plan and Relief, when it does not look around. */
export type Tool =
  | { kind: "brush"; on: "mask" | "step"; holder: string; line: string }
  | { kind: "mark"; way: "inside" | "outside" }
  | { kind: "draw"; feature: NonNullable<Feature["kind"]>; closed: boolean }
  | { kind: "trace"; way: "contour" | "flow" }
  /** The layer brush. */
  | { kind: "paint"; layer: string }
  /** One place is chosen and handed on. */
  | { kind: "point"; title: string; take: (place: Place) => void }
  /** A line from here to there is drawn and handed on. */
  | { kind: "stretch"; title: string; take: (from: Place, to: Place) => void };

/** The hint of the tool that asks a place why it is as it is. */
export const ASK_A_PLACE = "Click a place to ask why it is as it is";

export interface Brush {
  mode: Stroke["mode"];
  shape: NonNullable<Stroke["shape"]>;
  size: number;
  fade: number;
  strength: number;
}

interface ToolStore {
  tool: Tool | null;
  brush: Brush;
  /** Points of the stroke or line that is being made. */
  points: Place[];
  marks: { inside: Place[]; outside: Place[] };
  /** The drawn line whose points can be moved. */
  editing: string | null;
  /** The reading whose picture is being moved over the ground. */
  aligning: string | null;
  /** Where the layer brush acts; null: everywhere. */
  only: Source | null;
  /** Whether what is drawn is shown on the map. */
  drawn: boolean;
  take: (tool: Tool | null) => void;
  setBrush: (part: Partial<Brush>) => void;
  setPoints: (points: Place[]) => void;
  mark: (way: "inside" | "outside", place: Place) => void;
  unmark: (way: "inside" | "outside", index: number) => void;
  clearMarks: () => void;
  edit: (feature: string | null) => void;
  showDrawn: (on: boolean) => void;
  align: (reading: string | null) => void;
  limit: (only: Source | null) => void;
  reset: () => void;
}

const fresh = {
  tool: null as Tool | null,
  points: [] as Place[],
  marks: { inside: [] as Place[], outside: [] as Place[] },
  editing: null as string | null,
  aligning: null as string | null,
  drawn: false,
  only: null as Source | null,
};

export const useTools = create<ToolStore>((set) => ({
  ...fresh,
  brush: { mode: "add", shape: "brush", size: 0, fade: 0, strength: 1 },
  take: (tool) => set({ tool, points: [] }),
  setBrush: (part) => set((now) => ({ brush: { ...now.brush, ...part } })),
  setPoints: (points) => set({ points }),
  mark: (way, place) => set((now) => ({ marks: { ...now.marks, [way]: [...now.marks[way], place] } })),
  unmark: (way, index) =>
    set((now) => ({ marks: { ...now.marks, [way]: now.marks[way].filter((_, i) => i !== index) } })),
  clearMarks: () => set({ marks: { inside: [], outside: [] } }),
  edit: (editing) => set({ editing }),
  showDrawn: (drawn) => set({ drawn }),
  align: (aligning) => set({ aligning }),
  limit: (only) => set({ only }),
  reset: () => set(fresh),
}));

export const useToolsParts = partly(useTools);

/** Whether a line is made point by point (and not in one drag). */
export function isClicked(tool: Tool | null, brush: Brush): boolean {
  return tool?.kind === "draw" || (isBrush(tool) && brush.shape !== "brush");
}

/** Whether strokes are made: on a mask, or on the layers. */
export function isBrush(tool: Tool | null): boolean {
  return tool?.kind === "brush" || tool?.kind === "paint";
}

/** Whether anything of the tools lies over the view. */
export function isOverlaid(): boolean {
  const { tool, points, marks, drawn } = useTools.getState();
  return tool !== null || drawn || points.length + marks.inside.length + marks.outside.length > 0;
}
