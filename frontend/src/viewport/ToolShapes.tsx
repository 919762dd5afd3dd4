import { useRef } from "react";
import type { Feature } from "../api/types";
import { useKept } from "../kit/useKept";
import { useDocument, useProject } from "../document/document";
import { isBrush, type Place, useToolsParts } from "./tools";
import { useView } from "./view";
import { overPlan } from "./overPlan";
import { DRAWN, onMap, roles } from "../kit/theme";

export interface Spot {
  x: number;
  y: number;
}

interface ToolShapesProps {
  /** Where a place on the ground is seen; null when it is out of sight. */
  at: (east: number, south: number) => Spot | null;
  /** The place on the ground under a point of the view. */
  place: (event: { clientX: number; clientY: number }) => Place | null;
  /** Pixels a metre, where that is the same everywhere. */
  pixels: number | null;
  /** Where a tool works from the keyboard. */
  middle: Spot | null;
  /** Where the pointer is: the brush is shown there in its size. */
  pointer?: Spot | null;
}

/** What tools show on Plan and Relief: lines on the map, the stroke being made, marks. */
export function ToolShapes({ at, place, pixels, middle, pointer }: ToolShapesProps) {
  const { document } = useProject();
  const { tool, brush, points, marks, editing, drawn, unmark } = useToolsParts(
    "tool",
    "brush",
    "points",
    "marks",
    "editing",
    "drawn",
    "unmark",
  );
  const brushing = isBrush(tool);
  const subject = useView((view) => view.subject);
  const scatter = document.scatters?.find((item) => subject.kind === "scatter" && item.id === subject.id);
  // The lines that what is looked at keeps away from.
  const clear = new Set((scatter?.clear ?? []).filter((item) => item.of === "feature").map((item) => item.id));
  const path = (places: { east: number; south: number }[], closed: boolean) => {
    const seen = places.map((p) => at(p.east, p.south)).filter((spot) => spot !== null);
    return (
      seen.map((spot, i) => `${i === 0 ? "M" : "L"}${spot.x.toFixed(1)},${spot.y.toFixed(1)}`).join("") +
      (closed && seen.length > 2 ? "Z" : "")
    );
  };
  const area = tool?.kind === "draw" ? tool.closed : brushing && brush.shape === "area";
  const wide = brushing && brush.shape !== "area" && pixels !== null ? Math.max(brush.size * pixels, 1.5) : 2.5;
  const colour = brushing && brush.mode === "take_away" ? roles.amber : onMap.brush;
  return (
    <svg data-testid="tool-shapes" style={overPlan}>
      {(document.features ?? [])
        .filter((feature) => drawn || tool?.kind === "draw" || tool?.kind === "trace" || clear.has(feature.id))
        .map((feature) => {
          const line = path(
            feature.points.map(([east = 0, south = 0]) => ({ east, south })),
            feature.closed ?? false,
          );
          const chosen = feature.id === editing;
          return (
            <g key={feature.id}>
              <path
                d={line}
                fill={feature.closed ? onMap.gleam : "none"}
                stroke={onMap.dark}
                strokeWidth={chosen ? 5 : 4}
              />
              <path d={line} fill="none" stroke={DRAWN[feature.kind ?? "path"]} strokeWidth={chosen ? 3 : 2} />
              {chosen && !tool && <Handles feature={feature} at={at} place={place} />}
            </g>
          );
        })}
      {points.length > 0 && (
        <g>
          <path
            d={points.length === 1 ? `${path(points, false)}h0.01` : path(points, area)}
            fill={area ? colour : "none"}
            fillOpacity={0.3}
            stroke={colour}
            strokeOpacity={wide > 4 ? 0.45 : 0.95}
            strokeWidth={wide}
            strokeLinecap="round"
            strokeLinejoin="round"
          />
          {(tool?.kind === "draw" || (brushing && brush.shape !== "brush")) &&
            points.map((p, i) => {
              const spot = at(p.east, p.south);
              return spot && <circle key={i} cx={spot.x} cy={spot.y} r="4" fill={onMap.light} stroke={roles.gentian} />;
            })}
        </g>
      )}
      {(["inside", "outside"] as const).flatMap((way) =>
        marks[way].map((mark, i) => {
          const spot = at(mark.east, mark.south);
          if (!spot) return null;
          const label = way === "inside" ? `Mark ${i + 1}, should be in` : `Mark ${i + 1}, should not be in`;
          return (
            <g
              key={`${way}${i}`}
              role="button"
              tabIndex={0}
              aria-label={`${label}. Click to take it away.`}
              style={{ pointerEvents: "auto", cursor: "pointer" }}
              onPointerDown={(event) => event.stopPropagation()}
              onClick={() => unmark(way, i)}
              onKeyDown={(event) => {
                if (["Enter", " ", "Delete"].includes(event.key)) {
                  event.preventDefault();
                  event.stopPropagation();
                  unmark(way, i);
                }
              }}
            >
              <circle cx={spot.x} cy={spot.y} r="13" fill="transparent" />
              <circle
                cx={spot.x}
                cy={spot.y}
                r="8"
                fill={way === "inside" ? onMap.inside : onMap.outside}
                stroke={onMap.light}
                strokeWidth="2"
              />
              <path
                d={`M${spot.x - 4},${spot.y}h8${way === "inside" ? `M${spot.x},${spot.y - 4}v8` : ""}`}
                stroke={onMap.light}
                strokeWidth="2"
              />
            </g>
          );
        }),
      )}
      {brushing && pointer && pixels !== null && brush.shape !== "area" && (
        <>
          <circle
            cx={pointer.x}
            cy={pointer.y}
            r={Math.max((brush.size / 2) * pixels, 2)}
            fill="none"
            stroke={onMap.dark}
            strokeWidth="2.5"
          />
          <circle
            cx={pointer.x}
            cy={pointer.y}
            r={Math.max((brush.size / 2) * pixels, 2)}
            fill="none"
            stroke={onMap.light}
          />
          <circle
            cx={pointer.x}
            cy={pointer.y}
            r={Math.max((brush.size / 2 + brush.fade) * pixels, 2)}
            fill="none"
            stroke={onMap.light}
            strokeDasharray="3 4"
          />
        </>
      )}
      {tool && middle && (
        <path
          d={`M${middle.x - 7},${middle.y}h14M${middle.x},${middle.y - 7}v14`}
          stroke={onMap.light}
          strokeOpacity="0.7"
        />
      )}
    </svg>
  );
}

interface HandlesProps {
  feature: Feature;
  at: ToolShapesProps["at"];
  place: ToolShapesProps["place"];
}

/** Points of a drawn line: drag to move, arrow keys too, Delete removes; the hollow ones between make new points. */
function Handles({ feature, at, place }: HandlesProps) {
  const { home } = useProject();
  const edit = useDocument((store) => store.edit);
  const { live, setLive, newest, keep } = useKept<[number, number][]>();
  const held = useRef(false);
  const step = Math.max(home.spacing_x, home.spacing_y);
  const saved = feature.points.map((p) => [p[0] ?? 0, p[1] ?? 0] as [number, number]);
  const points = live ?? saved;
  const save = (next: [number, number][], merge = "") =>
    keep(
      next,
      edit([{ op: "set_feature", feature: { ...feature, points: next } }], {
        merge,
        what: `a change to ${feature.name}`,
      }),
    );
  const inside = (p: [number, number]): [number, number] => [
    Math.min(Math.max(p[0], 0), home.width),
    Math.min(Math.max(p[1], 0), home.length),
  ];
  const drag = (event: React.PointerEvent, index: number) => {
    const under = held.current ? place(event) : null;
    if (under) setLive(newest(saved).map((p, i) => (i === index ? inside([under.east, under.south]) : p)));
  };
  const drop = () => {
    if (held.current && live) save(live);
    held.current = false;
  };
  const onKey = (event: React.KeyboardEvent, index: number) => {
    const ways: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step],
    };
    const way = ways[event.key];
    // Not what was last drawn: of two quick steps the second goes on from the first.
    const points = newest(saved);
    const point = points[index];
    if (way && point) {
      event.preventDefault();
      event.stopPropagation();
      const to = inside([point[0] + way[0], point[1] + way[1]]);
      save(
        points.map((p, i) => (i === index ? to : p)),
        `feature:${feature.id}:${index}`,
      );
    } else if (event.key === "Delete" && points.length > (feature.closed ? 3 : 2)) {
      event.preventDefault();
      save(points.filter((_, i) => i !== index));
    }
  };
  const ends = feature.closed ? points.length : points.length - 1;
  // On a line of very many points handles would cover it: those between are left out.
  const dense = points.length > 60;
  return (
    <>
      {!dense &&
        Array.from({ length: ends }, (_, i) => {
          const [a, b] = [points[i], points[(i + 1) % points.length]];
          if (!a || !b) return null;
          const middle: [number, number] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
          const spot = at(...middle);
          return (
            spot && (
              <circle
                key={`m${i}`}
                cx={spot.x}
                cy={spot.y}
                r="5"
                fill={onMap.shadow}
                stroke={onMap.light}
                style={{ pointerEvents: "auto", cursor: "copy" }}
                onPointerDown={(event) => {
                  event.stopPropagation();
                  save([...points.slice(0, i + 1), middle, ...points.slice(i + 1)]);
                }}
              />
            )
          );
        })}
      {points.map((p, i) => {
        const spot = at(p[0], p[1]);
        return (
          spot && (
            <g
              key={i}
              tabIndex={0}
              role="button"
              aria-label={`Point ${i + 1} of ${feature.name}. Arrow keys move it, Delete takes it away.`}
              style={{ pointerEvents: "auto", cursor: "grab", touchAction: "none" }}
              onKeyDown={(event) => onKey(event, i)}
              onPointerDown={(event) => {
                event.stopPropagation();
                event.currentTarget.setPointerCapture(event.pointerId);
                held.current = true;
              }}
              onPointerMove={(event) => drag(event, i)}
              onPointerUp={drop}
            >
              <circle cx={spot.x} cy={spot.y} r="12" fill="transparent" />
              <circle cx={spot.x} cy={spot.y} r="5.5" fill={onMap.light} stroke={roles.gentian} strokeWidth="2.5" />
            </g>
          )
        );
      })}
    </>
  );
}
