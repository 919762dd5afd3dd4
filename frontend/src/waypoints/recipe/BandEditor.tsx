import { Box } from "@mui/material";
import { useRef, useState } from "react";
import type { Band, Reading, Stats } from "../../api/types";
import { MONO, roles } from "../../kit/theme";
import { trim } from "../../kit/numbers";
import { axisOf, dragged, HANDLES, handlePosition, shifted, type Axis, type HandleName } from "./band";

interface BandEditorProps {
  band: Band;
  reading: Reading;
  stats: Stats | undefined;
  onPreview: (band: Band | null) => void;
  /** Saves it; resolves when it is answered. */
  onCommit: (band: Band, keyStep: boolean) => Promise<unknown>;
}

const WIDTH = 320;
const HEIGHT = 92;
const TOP = 16;
const FLOOR = 74;

const across = (axis: Axis, value: number) => 8 + axis.place(value) * (WIDTH - 16);

/** A band as a shape on the histogram: filled handles are the edges, hollow ones the ends of the fades. */
export function BandEditor({ band, reading, stats, onPreview, onCommit }: BandEditorProps) {
  const svg = useRef<SVGSVGElement>(null);
  const [live, setLive] = useState<Band | null>(null);
  /** What is in the hand: a handle, or the middle with the value at which it was taken. */
  const held = useRef<{ handle: HandleName | { taken: number }; from: Band } | null>(null);
  const axis = axisOf(reading, stats, band);
  const now = live ?? band;

  const at = (clientX: number): number => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return 0;
    const t = (((clientX - box.left) / box.width) * WIDTH - 8) / (WIDTH - 16);
    return axis.value(Math.min(Math.max(t, 0), 1));
  };

  const onMove = (event: React.PointerEvent) => {
    const grab = held.current;
    if (!grab) return;
    const { handle, from } = grab;
    const value = at(event.clientX);
    const next =
      typeof handle === "string" ? dragged(from, handle, value, axis) : shifted(from, handle.taken, value, axis);
    setLive(next);
    onPreview(next);
  };
  // Until the last of them is answered, what was made here is what the next step goes on from.
  const pending = useRef(0);
  const keep = (next: Band, keyStep: boolean) => {
    setLive(next);
    pending.current += 1;
    void onCommit(next, keyStep).then(() => {
      pending.current -= 1;
      if (pending.current === 0 && !held.current) setLive(null);
    });
  };
  const onUp = () => {
    const moved = held.current !== null && live !== null;
    held.current = null;
    if (moved) keep(live, false);
  };
  const back = () => {
    held.current = null;
    setLive(null);
    onPreview(null);
  };
  /** Arrow keys step along the axis, by a hundredth of it (Alt: a thousandth); Escape takes back. */
  const onKey = (event: React.KeyboardEvent, step: (by: number) => Band) => {
    const way = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (event.key === "Escape" && live) {
      event.stopPropagation();
      back();
    }
    if (way === undefined) return;
    event.preventDefault();
    keep(step(way * (event.altKey ? 0.001 : 0.01)), true);
  };
  const stepped = (handle: HandleName, by: number) => {
    const t = axis.place(handlePosition(now, handle, axis)) + by;
    return dragged(now, handle, axis.value(Math.min(Math.max(t, 0), 1)), axis);
  };
  const foot = (handle: HandleName) => across(axis, handlePosition(now, handle, axis));
  const outline = `M${foot("fade_low")},${FLOOR} L${foot("low")},${TOP} L${foot("high")},${TOP} L${foot("fade_high")},${FLOOR}`;
  return (
    <Box sx={{ mt: 1 }}>
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        width="100%"
        role="group"
        aria-label={`Histogram of ${reading.title.toLowerCase()} with the band`}
        style={{ display: "block", touchAction: "none", overflow: "visible" }}
        onPointerMove={onMove}
        onPointerUp={onUp}
        onPointerCancel={back}
      >
        {stats && <Bars counts={stats.counts} band={now} axis={axis} />}
        <line x1="8" x2={WIDTH - 8} y1={FLOOR} y2={FLOOR} stroke={roles.rule} strokeWidth="0.7" />
        <path
          d={outline}
          fill="none"
          stroke={roles.gentian}
          strokeWidth="1.8"
          strokeLinejoin="round"
          pointerEvents="none"
        />
        <Middle
          from={foot("low")}
          to={foot("high")}
          text={`${trim(now.low, reading.decimals)} to ${trim(now.high, reading.decimals)} ${reading.unit}`}
          value={now.low}
          axis={axis}
          onGrab={(event) => {
            if (event.button !== 0) return;
            svg.current?.setPointerCapture(event.pointerId);
            event.currentTarget.focus();
            held.current = { handle: { taken: at(event.clientX) }, from: band };
          }}
          onKeyDown={(event) => onKey(event, (by) => shifted(now, axis.value(0.5), axis.value(0.5 + by), axis))}
        />
        {HANDLES.map((handle) => (
          <Handle
            key={handle.name}
            handle={handle}
            value={handlePosition(now, handle.name, axis)}
            reading={reading}
            axis={axis}
            onGrab={(event) => {
              if (event.button !== 0) return;
              svg.current?.setPointerCapture(event.pointerId);
              event.currentTarget.focus();
              held.current = { handle: handle.name, from: band };
            }}
            onKeyDown={(event) => onKey(event, (by) => stepped(handle.name, by))}
          />
        ))}
      </svg>
      <Box
        sx={{
          display: "flex",
          justifyContent: "space-between",
          fontFamily: MONO,
          fontSize: 11,
          color: "text.secondary",
          mt: -1.6,
          px: 0.5,
        }}
      >
        {[0, 0.5, 1].map((t) => (
          <span key={t}>{axis.label(axis.value(t))}</span>
        ))}
      </Box>
    </Box>
  );
}

/** The histogram; what the band holds is filled, what its fades hold half. */
function Bars({ counts, band, axis }: { counts: number[]; band: Band; axis: Axis }) {
  const peak = Math.max(...counts, 1e-9);
  const wide = (WIDTH - 16) / counts.length;
  const [from, to] = [handlePosition(band, "fade_low", axis), handlePosition(band, "fade_high", axis)];
  return counts.map((count, i) => {
    const middle = axis.value((i + 0.5) / counts.length);
    const high = Math.sqrt(count / peak) * (FLOOR - TOP - 6) || 0;
    const full = middle >= band.low && middle <= band.high;
    const part = !full && middle >= from && middle <= to;
    return (
      <rect
        key={i}
        x={8 + i * wide}
        y={FLOOR - high}
        width={Math.max(wide - 0.6, 0.5)}
        height={high}
        fill={full || part ? roles.gentian : roles.bar}
        fillOpacity={full ? 0.75 : part ? 0.45 : 0.5}
      />
    );
  });
}

interface HandleProps {
  handle: (typeof HANDLES)[number];
  value: number;
  reading: Reading;
  axis: Axis;
  onGrab: (event: React.PointerEvent<SVGGElement>) => void;
  onKeyDown: (event: React.KeyboardEvent) => void;
}

function Handle({ handle, value, reading, axis, onGrab, onKeyDown }: HandleProps) {
  const edge = handle.name === "low" || handle.name === "high";
  const x = across(axis, value);
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={handle.label}
      aria-valuenow={Number(value.toPrecision(6))}
      aria-valuetext={`${trim(value, reading.decimals)} ${reading.unit}`}
      aria-valuemin={axis.low}
      aria-valuemax={axis.high}
      data-handle={handle.name}
      style={{ cursor: "ew-resize", outline: "none" }}
      className="band-handle"
      onPointerDown={onGrab}
      onKeyDown={onKeyDown}
    >
      {/* Edges are taken at the top and fades at the floor, so that neither covers the other. */}
      <rect x={x - 12} y={edge ? TOP - 14 : FLOOR - 13} width="24" height="26" fill="transparent" />
      <circle
        cx={x}
        cy={edge ? TOP : FLOOR}
        r="5"
        fill={edge ? roles.gentian : roles.card}
        stroke={roles.gentian}
        strokeWidth="1.8"
      />
    </g>
  );
}

interface MiddleProps {
  from: number;
  to: number;
  text: string;
  value: number;
  axis: Axis;
  onGrab: (event: React.PointerEvent<SVGGElement>) => void;
  onKeyDown: (event: React.KeyboardEvent) => void;
}

/** What lies between the edges: taken, it carries both along. */
function Middle({ from, to, text, value, axis, onGrab, onKeyDown }: MiddleProps) {
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label="Band, both edges"
      aria-valuenow={Number(value.toPrecision(6))}
      aria-valuetext={text}
      aria-valuemin={axis.low}
      aria-valuemax={axis.high}
      data-handle="middle"
      className="band-handle"
      style={{ cursor: "grab", outline: "none" }}
      onPointerDown={onGrab}
      onKeyDown={onKeyDown}
    >
      <rect x={from} y={TOP} width={Math.max(to - from, 0)} height={FLOOR - TOP} fill="transparent" />
    </g>
  );
}
