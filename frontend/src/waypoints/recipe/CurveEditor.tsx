import { useRef } from "react";
import { useKept } from "../../kit/useKept";
import { roles } from "../../kit/theme";
import { monotone } from "./curve";

type Point = [number, number];

interface CurveEditorProps {
  points: Point[];
  onPreview: (points: Point[] | null) => void;
  onCommit: (points: Point[], keyStep: boolean) => Promise<unknown>;
}

const WIDTH = 320;
const HEIGHT = 128;
const PAD = 10;
const LEAST = 0.01;

const x = (value: number) => PAD + value * (WIDTH - 2 * PAD);
const y = (value: number) => HEIGHT - PAD - value * (HEIGHT - 2 * PAD);

/** A curve with points: drag them, click the line for another, Delete takes one away, arrow keys move it. */
export function CurveEditor({ points, onPreview, onCommit }: CurveEditorProps) {
  const svg = useRef<SVGSVGElement>(null);
  const { live, setLive, newest, keep } = useKept<Point[]>();
  const held = useRef<number | null>(null);
  const now = live ?? points;

  const at = (event: { clientX: number; clientY: number }): Point | null => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return null;
    const inside = (v: number) => Math.min(Math.max(v, 0), 1);
    const u = (((event.clientX - box.left) / box.width) * WIDTH - PAD) / (WIDTH - 2 * PAD);
    const v = 1 - (((event.clientY - box.top) / box.height) * HEIGHT - PAD) / (HEIGHT - 2 * PAD);
    return [inside(u), inside(v)];
  };
  const commit = (next: Point[], keyStep: boolean) => keep(next, onCommit(next, keyStep));
  const moved = (index: number, to: Point, now: Point[] = newest(points)): Point[] => {
    const low = index > 0 ? (now[index - 1]?.[0] ?? 0) + LEAST : 0;
    const high = index < now.length - 1 ? (now[index + 1]?.[0] ?? 1) - LEAST : 1;
    const round = (v: number) => Math.round(v * 1000) / 1000;
    const place: Point = [round(Math.min(Math.max(to[0], low), high)), round(Math.min(Math.max(to[1], 0), 1))];
    return now.map((point, i) => (i === index ? place : point));
  };
  const add = (event: React.PointerEvent) => {
    const now = newest(points);
    const place = at(event);
    if (!place || now.length >= 16) return;
    const before = now.filter((point) => point[0] < place[0] - LEAST);
    const after = now.filter((point) => point[0] > place[0] + LEAST);
    if (before.length + after.length === now.length) commit([...before, place, ...after], false);
  };
  const onKey = (event: React.KeyboardEvent, index: number) => {
    const step = event.altKey ? 0.002 : 0.02;
    const ways: Record<string, Point> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    };
    const way = ways[event.key];
    // Not what was last drawn: of two quick steps the second goes on from the first.
    const now = newest(points);
    const point = now[index];
    if (way && point) {
      event.preventDefault();
      commit(moved(index, [point[0] + way[0], point[1] + way[1]]), true);
    } else if ((event.key === "Delete" || event.key === "Backspace") && now.length > 2) {
      event.preventDefault();
      commit(
        now.filter((_, i) => i !== index),
        false,
      );
    }
  };
  const line = `M${monotone(now)
    .map(([u, v]) => `${x(u).toFixed(1)},${y(v).toFixed(1)}`)
    .join("L")}`;
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      width="100%"
      role="group"
      aria-label="Curve from strength so far, left to right, to strength after, bottom to top"
      style={{ display: "block", touchAction: "none", background: roles.paper, borderRadius: 6 }}
      onPointerMove={(event) => {
        const place = at(event);
        if (held.current === null || !place) return;
        const next = moved(held.current, place);
        setLive(next);
        onPreview(next);
      }}
      onPointerUp={() => {
        const made = held.current !== null ? live : null;
        held.current = null;
        if (made) commit(made, false);
      }}
    >
      <line x1={x(0)} y1={y(0)} x2={x(1)} y2={y(1)} stroke={roles.rule} strokeDasharray="3 4" />
      <path d={line} fill="none" stroke={roles.gentian} strokeWidth="2" />
      <path d={line} fill="none" stroke="transparent" strokeWidth="14" style={{ cursor: "copy" }} onPointerDown={add} />
      {now.map(([u, v], i) => (
        <g
          key={i}
          tabIndex={0}
          role="slider"
          aria-label={`Point ${i + 1} of the curve`}
          aria-valuenow={v}
          aria-valuetext={`${u.toFixed(2)} becomes ${v.toFixed(2)}`}
          style={{ cursor: "grab" }}
          onKeyDown={(event) => onKey(event, i)}
          onPointerDown={(event) => {
            event.stopPropagation();
            svg.current?.setPointerCapture(event.pointerId);
            held.current = i;
          }}
        >
          <circle cx={x(u)} cy={y(v)} r="13" fill="transparent" />
          <circle cx={x(u)} cy={y(v)} r="5.5" fill={roles.gentian} stroke={roles.card} strokeWidth="1.5" />
        </g>
      ))}
    </svg>
  );
}
