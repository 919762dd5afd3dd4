import { ask, client, sentence } from "../api/client";
import type { Feature, Line, Stroke } from "../api/types";
import { maskHolder, stepHolder } from "../document/holder";
import { newId, settled, useDocument } from "../document/document";
import { isBrush, isClicked, useTools, type Place, type Tool } from "./tools";
import { useView } from "./view";

/** Strokes go out one after the other, each onto the line as the one before left it. */
let strokes: Promise<unknown> = Promise.resolve();

/** A line that is made of strokes, and what holds it: one that counts what is in its file. */
function lineOfStrokes(brush: Extract<Tool, { kind: "brush" }>) {
  const document = useDocument.getState().state?.document;
  const steps = document?.ground.steps ?? [];
  const at = steps.findIndex((item) => item.id === brush.holder);
  const step = steps[at];
  const mask = document?.masks.find((item) => item.id === brush.holder);
  const holder = brush.on === "mask" ? mask && maskHolder(mask) : step && stepHolder(step, at, step.kind);
  const line = holder?.lines.find((item) => item.id === brush.line);
  if (!holder || !line || !("count" in line) || !("asset" in line)) return null;
  return { holder, line: line as Line & { asset?: string | null } };
}

async function sendStroke(brush: Extract<Tool, { kind: "brush" }>, stroke: Stroke): Promise<void> {
  const store = useDocument.getState();
  const now = lineOfStrokes(brush);
  if (!store.state || !now) return;
  try {
    const made = await ask(
      client.POST("/api/projects/{project_id}/strokes", {
        params: { path: { project_id: store.state.id } },
        body: { asset: now.line.asset ?? null, strokes: [stroke] },
      }),
    );
    const next = { ...now.line, asset: made.asset, count: made.count } as Line;
    // Made on what was there when the stroke was: what was changed in the same line meanwhile stays.
    await store.edit([now.holder.set(next)], { what: "a brush stroke", made: store.state.document });
  } catch (error) {
    store.tell(sentence(error));
  }
}

/** Strokes on a layer go onto the last of its strokes that act where the brush acts now. */
async function sendLayerStroke(layer: string, stroke: Stroke): Promise<void> {
  const store = useDocument.getState();
  if (!store.state) return;
  const { only } = useTools.getState();
  const held = (store.state.document.strokes ?? []).at(-1);
  const same = held?.layer === layer && JSON.stringify(held.only ?? null) === JSON.stringify(only) && !held.muted;
  const now = same ? held : null;
  try {
    const made = await ask(
      client.POST("/api/projects/{project_id}/strokes", {
        params: { path: { project_id: store.state.id } },
        // Layers are raised or lowered; there is nothing to soften.
        body: {
          asset: now?.asset ?? null,
          strokes: [{ ...stroke, mode: stroke.mode === "take_away" ? "take_away" : "add" }],
        },
      }),
    );
    const next = { id: now?.id ?? newId("strokes"), layer, only, muted: false, asset: made.asset, count: made.count };
    await store.edit([{ op: "set_strokes", strokes: next }], {
      what: "a stroke of the layer brush",
      made: store.state.document,
    });
  } catch (error) {
    store.tell(sentence(error));
  }
}

function strokeOf(points: Place[]): Stroke {
  const { brush } = useTools.getState();
  return {
    ...brush,
    points: points.map((p) => [round(p.east), round(p.south), Math.max(round(p.pressure), 0.05)]),
  };
}

function round(value: number): number {
  return Math.round(value * 100) / 100;
}

export async function addFeature(feature: Omit<Feature, "id" | "name">): Promise<string | null> {
  const store = useDocument.getState();
  const taken = new Set((store.state?.document.features ?? []).map((item) => item.name.toLowerCase()));
  const stem = (feature.kind ?? "path").replace(/^./, (c) => c.toUpperCase());
  let name = stem;
  for (let i = 2; taken.has(name.toLowerCase()); i++) name = `${stem} ${i}`;
  const id = newId("drawn");
  return (await store.edit([{ op: "add_feature", feature: { ...feature, id, name } }])) ? id : null;
}

async function trace(way: "contour" | "flow", place: Place): Promise<void> {
  const store = useDocument.getState();
  if (!store.state) return;
  try {
    await settled();
    const found = await ask(
      client.POST("/api/projects/{project_id}/trace", {
        params: { path: { project_id: store.state.id } },
        body: { way, east: place.east, south: place.south, length: tracing.metres },
      }),
    );
    const made = await addFeature({
      kind: way === "flow" ? "path" : "bank",
      closed: found.closed,
      points: found.points,
    });
    useTools.getState().edit(made);
    useTools.getState().take(null);
  } catch (error) {
    store.tell(sentence(error));
  }
}

/** How far a line follows the ground. */
export const tracing = { metres: 1500 };

/** What was drawn so far is done: a stroke of the brush, or a line on the map. */
export function finish(): void {
  const { tool, points, brush: hand, setPoints, take, edit } = useTools.getState();
  setPoints([]);
  if (tool?.kind === "brush" && points.length > (hand.shape === "area" ? 2 : 0)) {
    const brush = tool;
    const stroke = strokeOf(points);
    strokes = strokes.then(() => sendStroke(brush, stroke));
  }
  if (tool?.kind === "paint" && points.length > (hand.shape === "area" ? 2 : 0)) {
    const { layer } = tool;
    const stroke = strokeOf(points);
    strokes = strokes.then(() => sendLayerStroke(layer, stroke));
  }
  const [from] = points;
  const to = points.at(-1);
  if (tool?.kind === "stretch" && from && to && from !== to) {
    take(null);
    tool.take(from, to);
  }
  if (tool?.kind === "draw" && points.length > (tool.closed ? 2 : 1)) {
    const feature = {
      kind: tool.feature,
      closed: tool.closed,
      points: points.map((p) => [p.east, p.south] as [number, number]),
    };
    void addFeature(feature).then((id) => edit(id));
    take(null);
  }
}

/** The pointer goes down with a tool in hand. Returns whether the tool took it. */
export function toolDown(tool: Tool, place: Place): boolean {
  const { brush, points, setPoints, mark } = useTools.getState();
  if (tool.kind === "mark") mark(tool.way, place);
  else if (tool.kind === "point") {
    useTools.getState().take(null);
    tool.take(place);
  } else if (tool.kind === "trace") void trace(tool.way, place);
  else if (isClicked(tool, brush)) {
    // A double click ends a line: its second half is no further point.
    const last = points.at(-1);
    if (!last || Math.hypot(place.east - last.east, place.south - last.south) > 0.01) setPoints([...points, place]);
  } else setPoints([place]);
  return true;
}

export function toolMove(tool: Tool, place: Place): void {
  const { brush, points, setPoints } = useTools.getState();
  const last = points.at(-1);
  if (tool.kind === "stretch" && points[0]) return setPoints([points[0], place]);
  if (!isBrush(tool) || isClicked(tool, brush) || !last) return;
  if (Math.hypot(place.east - last.east, place.south - last.south) > brush.size / 8 && points.length < 4000)
    setPoints([...points, place]);
}

export function toolUp(tool: Tool): void {
  if (tool.kind === "stretch") finish();
  if (isBrush(tool) && !isClicked(tool, useTools.getState().brush)) finish();
}

/** Enter ends a line, Backspace takes its last point back, Escape drops it or puts the tool away. */
export function toolKey(key: string): boolean {
  const { tool, points, setPoints, take } = useTools.getState();
  if (!tool) return false;
  if (key === "Enter" && points.length > 0) finish();
  else if (key === "Backspace" && points.length > 0) setPoints(points.slice(0, -1));
  else if (key === "Escape") {
    if (points.length > 0) setPoints([]);
    else take(null);
  } else return false;
  return true;
}

/** The middle of what is in view: where a tool works from the keyboard. */
export function middleOfView(): Place {
  const { camera } = useView.getState();
  const view = useDocument.getState().state?.view;
  return { east: camera.x * (view?.width ?? 0), south: camera.y * (view?.length ?? 0), pressure: 1 };
}
