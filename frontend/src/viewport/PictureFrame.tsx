import { useState } from "react";
import type { Operation, Reading } from "../api/types";
import { useDocument, useProject } from "../document/document";
import { previews } from "./preview";
import { useTools } from "./tools";
import { useView } from "./view";
import { onMap, roles } from "../kit/theme";
import { moved, nudged, placeIn, resized, turned, type Lie, type Spot } from "./frame";
import { overPlan } from "./overPlan";
import { needs } from "./subjects/register";

interface PictureFrameProps {
  reading: Reading;
  /** Where a place on the ground is seen. */
  at: (east: number, south: number) => { x: number; y: number };
  /** The place on the ground under a point of the view, which may lie beside the ground. */
  place: (event: { clientX: number; clientY: number }) => Spot | null;
}

type How = "move" | "resize" | "turn";

/** A picture's outline on the plan: its inside moves it, corners resize it, the knob below its upper edge turns it; keys nudge it. */
export function PictureFrame({ reading, at, place }: PictureFrameProps) {
  const { home, outer, document, id } = useProject();
  const edit = useDocument((store) => store.edit);
  const align = useTools((tools) => tools.align);
  const setting = document.readings?.find((item) => item.id === reading.name);
  const number = (name: string) => Number(reading.params.find((param) => param.name === name)?.value ?? 0);
  const saved: Lie = { east: number("east"), north: number("north"), wide: number("wide") || 1, turn: number("turn") };
  const [live, setLive] = useState<Lie | null>(null);
  const [grab, setGrab] = useState<{ how: How; from: Spot; start: Lie } | null>(null);
  const lie = live ?? saved;

  const operation = (next: Lie): Operation => ({
    op: "set_reading",
    setting: {
      id: reading.name,
      kind: reading.kind,
      name: setting?.name ?? null,
      numbers: { ...setting?.numbers, ...next },
    },
  });
  const preview = (next: Lie) => {
    const [map] = needs(useView.getState().subject);
    setLive(next);
    if (map) previews.ask(id, map, [operation(next)]);
  };
  const keep = async (next: Lie, key: boolean) => {
    setLive(next);
    await edit([operation(next)], { merge: key ? `align:${reading.name}` : "", what: `where ${reading.title} lies` });
    previews.clear();
    setLive(null);
  };
  const onMove = (event: React.PointerEvent) => {
    const to = place(event);
    if (!grab || !to) return;
    const { how, from, start } = grab;
    preview(
      how === "move"
        ? moved(start, from, to)
        : how === "resize"
          ? resized(start, home, from, to)
          : turned(start, home, from, to),
    );
  };
  const hand = (how: How) => ({
    style: { pointerEvents: "auto" as const, cursor: how === "move" ? "move" : "grab", touchAction: "none" },
    onPointerDown: (event: React.PointerEvent) => {
      const from = place(event);
      if (!from || event.button !== 0) return;
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      setGrab({ how, from, start: lie });
    },
    onPointerMove: onMove,
    onPointerUp: () => {
      const made = grab && live;
      setGrab(null);
      if (made) void keep(made, false);
    },
    onPointerCancel: () => {
      setGrab(null);
      setLive(null);
      previews.clear();
    },
  });
  const onKeyDown = (event: React.KeyboardEvent) => {
    if (event.key === "Escape") return align(null);
    const next = nudged(lie, home, event.key, event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
    if (!next) return;
    event.preventDefault();
    event.stopPropagation();
    void keep(next, true);
  };
  const spot = (u: number, v: number) => {
    const { east, south } = placeIn(lie, home, outer, u, v);
    return at(east, south);
  };
  const corners = [spot(-1, -1), spot(1, -1), spot(1, 1), spot(-1, 1)];
  const top = spot(0, -1);
  // Inside, so that it is in reach when the picture fills the view.
  const knob = spot(0, -0.86);
  return (
    <svg data-testid="picture-frame" style={overPlan}>
      <g
        role="application"
        tabIndex={0}
        aria-label={`${reading.title} over the ground. Arrow keys move it by a sample, with Shift by ten; plus and minus resize it, square brackets turn it, Escape ends.`}
        onKeyDown={onKeyDown}
        className="picture-frame"
      >
        <polygon
          points={corners.map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`).join(" ")}
          fill="transparent"
          stroke={onMap.dark}
          strokeWidth="3.5"
          {...hand("move")}
        />
        <polygon
          points={corners.map((p) => `${p.x.toFixed(1)},${p.y.toFixed(1)}`).join(" ")}
          fill="none"
          stroke={onMap.light}
          strokeWidth="1.6"
        />
        <line x1={top.x} y1={top.y} x2={knob.x} y2={knob.y} stroke={onMap.light} strokeWidth="1.6" />
        {corners.map((p, i) => (
          <g key={i} {...hand("resize")} aria-hidden>
            <title>Make it larger or smaller</title>
            <circle cx={p.x} cy={p.y} r="14" fill="transparent" />
            <circle cx={p.x} cy={p.y} r="6.5" fill={onMap.light} stroke={roles.gentian} strokeWidth="2.5" />
          </g>
        ))}
        <g {...hand("turn")} aria-hidden>
          <title>Turn it</title>
          <circle cx={knob.x} cy={knob.y} r="14" fill="transparent" />
          <circle cx={knob.x} cy={knob.y} r="6.5" fill={roles.gentian} stroke={onMap.light} strokeWidth="2" />
        </g>
      </g>
    </svg>
  );
}
