import { useRef } from "react";
import { useProject } from "../document/document";
import { type Camera, type MapPart, type Written, useViewParts } from "./view";
import { onMap, roles } from "../kit/theme";
import { onSamples, placeOf } from "./places";
import { groundAt, scale, type Rect } from "./plan";

interface PlanToolsProps {
  rects: Rect[];
  camera: Camera;
  /** A sample that is marked in every panel. */
  mark: { row: number; col: number } | null;
}

interface Grab {
  move: (east: number, south: number) => void;
}

/** What can be taken hold of on the plan: the ends of a profile line, the corners of a crop. */
export function PlanTools({ rects, camera, mark }: PlanToolsProps) {
  const { home, view } = useProject();
  const { profile, cropping, written, set } = useViewParts("profile", "cropping", "written", "set");
  const svg = useRef<SVGSVGElement>(null);
  const grab = useRef<Grab | null>(null);
  const first = rects[0];
  if (!first) return null;

  const at = (rect: Rect, east: number, south: number) => {
    const s = scale(rect, view, camera);
    return {
      x: rect.x + rect.width / 2 + (east - camera.x * view.width) * s,
      y: rect.y + rect.height / 2 + (south - camera.y * view.length) * s,
    };
  };
  const onMove = (event: React.PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!grab.current || !box) return;
    const place = groundAt(event.clientX - box.left, event.clientY - box.top, [first], view, camera);
    if (!place) return;
    grab.current.move(Math.min(Math.max(place.east, 0), home.width), Math.min(Math.max(place.south, 0), home.length));
  };
  const start = profile && placeOf(home, profile.row0, profile.col0);
  const end = profile && placeOf(home, profile.row1, profile.col1);
  const handle = (label: string, east: number, south: number, move: Grab["move"]) => {
    const { x, y } = at(first, east, south);
    return (
      <g
        key={label}
        style={{ pointerEvents: "auto", cursor: "grab", touchAction: "none" }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          grab.current = { move };
        }}
        onPointerMove={onMove}
        onPointerUp={() => (grab.current = null)}
      >
        <title>{label}</title>
        <circle cx={x} cy={y} r="13" fill="transparent" />
        <circle cx={x} cy={y} r="6" fill={onMap.light} stroke={roles.gentian} strokeWidth="2.5" />
      </g>
    );
  };

  return (
    <svg
      ref={svg}
      data-testid="plan-tools"
      style={{ position: "absolute", inset: 0, width: "100%", height: "100%", pointerEvents: "none" }}
    >
      {mark &&
        rects.length > 1 &&
        rects.map((rect, i) => {
          const place = placeOf(home, mark.row, mark.col);
          const { x, y } = at(rect, place.east, place.south);
          if (x < rect.x || y < rect.y || x > rect.x + rect.width || y > rect.y + rect.height) return null;
          return <path key={i} d={`M${x - 8} ${y}h16M${x} ${y - 8}v16`} stroke={onMap.light} strokeWidth="1.5" />;
        })}
      {profile && start && end && (
        <>
          <ProfileStroke from={at(first, start.east, start.south)} to={at(first, end.east, end.south)} />
          {handle("Start of the profile line", start.east, start.south, (east, south) => {
            const { row: row0, col: col0 } = onSamples(home, { east, south });
            set({ profile: { ...profile, row0, col0 } });
          })}
          {handle("End of the profile line", end.east, end.south, (east, south) => {
            const { row: row1, col: col1 } = onSamples(home, { east, south });
            set({ profile: { ...profile, row1, col1 } });
          })}
        </>
      )}
      {written && !cropping && <WrittenShape written={written} corner={(east, south) => at(first, east, south)} />}
      {cropping && (
        <CropShape
          part={cropping}
          corner={(east, south) => at(first, east, south)}
          handle={handle}
          onChange={(part) => set({ cropping: part })}
        />
      )}
    </svg>
  );
}

interface WrittenShapeProps {
  written: Written;
  corner: (east: number, south: number) => { x: number; y: number };
}

/** The part of the ground that a map is written of, and the borders of the tiles or regions that it is written in. */
function WrittenShape({ written, corner }: WrittenShapeProps) {
  const { home } = useProject();
  const [across, down] = written.tiles;
  const part = written.trial ?? { west: 0, north: 0, width: home.width, length: home.length };
  const a = corner(part.west, part.north);
  const b = corner(part.west + part.width, part.north + part.length);
  const steps = (many: number) => Array.from({ length: many - 1 }, (_, k) => (k + 1) / many);
  const line = { stroke: onMap.light, strokeOpacity: 0.75, strokeWidth: 1 };
  return (
    <g data-testid="written-shape">
      {steps(across).map((share) => {
        const x = a.x + (b.x - a.x) * share;
        return <line key={`x${share}`} x1={x} x2={x} y1={a.y} y2={b.y} {...line} />;
      })}
      {steps(down).map((share) => {
        const y = a.y + (b.y - a.y) * share;
        return <line key={`y${share}`} x1={a.x} x2={b.x} y1={y} y2={y} {...line} />;
      })}
      {written.trial && <TrialShape from={a} to={b} />}
    </g>
  );
}

function TrialShape({ from, to }: { from: { x: number; y: number }; to: { x: number; y: number } }) {
  const box = { x: from.x, y: from.y, width: Math.max(to.x - from.x, 0), height: Math.max(to.y - from.y, 0) };
  return (
    <>
      <rect {...box} fill={roles.gentian} fillOpacity="0.14" stroke={onMap.light} strokeWidth="3" />
      <rect {...box} fill="none" stroke={roles.gentian} strokeWidth="1.5" />
      <text x={from.x + 6} y={from.y + 16} fill={onMap.light} fontSize="12">
        only this part, to try
      </text>
    </>
  );
}

function ProfileStroke({ from, to }: { from: { x: number; y: number }; to: { x: number; y: number } }) {
  const ends = { x1: from.x, y1: from.y, x2: to.x, y2: to.y };
  return (
    <>
      <line {...ends} stroke={onMap.light} strokeWidth="4" />
      <line {...ends} stroke={roles.gentian} strokeWidth="2" />
    </>
  );
}

interface CropShapeProps {
  part: MapPart;
  corner: (east: number, south: number) => { x: number; y: number };
  handle: (label: string, east: number, south: number, move: Grab["move"]) => React.ReactNode;
  onChange: (part: MapPart) => void;
}

const LEAST = 1e-3;

function CropShape({ part, corner, handle, onChange }: CropShapeProps) {
  const [w, n] = [part.west, part.north];
  const [e, s] = [part.west + part.width, part.north + part.length];
  const a = corner(w, n);
  const b = corner(e, s);
  const span = (from: number, to: number) => Math.max(to - from, LEAST);
  return (
    <>
      <rect
        x={a.x}
        y={a.y}
        width={Math.max(b.x - a.x, 0)}
        height={Math.max(b.y - a.y, 0)}
        fill="none"
        stroke={onMap.light}
        strokeWidth="3"
      />
      <rect
        x={a.x}
        y={a.y}
        width={Math.max(b.x - a.x, 0)}
        height={Math.max(b.y - a.y, 0)}
        fill={roles.gentian}
        fillOpacity="0.12"
        stroke={roles.gentian}
        strokeWidth="1.5"
      />
      {handle("North-west corner of the crop", w, n, (x, y) =>
        onChange({ west: Math.min(x, e), north: Math.min(y, s), width: span(x, e), length: span(y, s) }),
      )}
      {handle("South-east corner of the crop", e, s, (x, y) =>
        onChange({ ...part, width: span(w, x), length: span(n, y) }),
      )}
    </>
  );
}
