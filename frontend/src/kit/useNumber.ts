import { useRef, useState } from "react";

export interface NumberLimits {
  value: number;
  /** Infinite ends are not known yet. */
  min: number;
  max: number;
  step: number;
  /** While it moves; null: back to what is saved. */
  onPreview?: ((value: number | null) => void) | undefined;
  /** Saves it; resolves to false when it was refused. */
  onCommit: (value: number, keyStep: boolean) => Promise<boolean>;
}

const DRAG_PIXELS = 4;
const WAYS: Record<string, number> = {
  ArrowUp: 1,
  ArrowRight: 1,
  ArrowDown: -1,
  ArrowLeft: -1,
  PageUp: 10,
  PageDown: -10,
};

/** A number under the hand: shown while it moves, saved when it is let go, and what keys and drags do to it. */
export function useNumber({ value, min, max, step, onPreview, onCommit }: NumberLimits) {
  const [live, setLive] = useState<number | null>(null);
  // Steps come faster than they are saved: until all are answered, the next goes on from the last one made.
  const pending = useRef(0);
  const drag = useRef<{ x: number; from: number; moved: boolean } | null>(null);
  const shown = live ?? value;
  const round = (v: number) => Number(Math.min(Math.max(v, min), max).toFixed(6));
  const move = (v: number) => {
    const next = round(v);
    setLive(next);
    onPreview?.(next);
  };
  const back = () => {
    drag.current = null;
    setLive(null);
    onPreview?.(null);
  };
  const keep = (v: number, keyStep = false) => {
    const next = round(v);
    if (next === value) {
      setLive(null);
      onPreview?.(null);
      return;
    }
    setLive(next);
    pending.current += 1;
    void onCommit(next, keyStep).then(() => {
      pending.current -= 1;
      if (pending.current === 0) setLive(null);
    });
  };
  const onKeyDown = (event: React.KeyboardEvent<HTMLElement>) => {
    const fine = event.altKey ? 0.1 : event.shiftKey ? 10 : 1;
    const way = WAYS[event.key];
    if (way !== undefined) {
      event.preventDefault();
      keep(shown + way * step * fine, true);
    } else if (event.key === "Escape" && live !== null) {
      event.stopPropagation();
      back();
    }
  };
  const onPointerDown = (event: React.PointerEvent<HTMLElement>) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = { x: event.clientX, from: value, moved: false };
  };
  const onPointerMove = (event: React.PointerEvent<HTMLElement>) => {
    const held = drag.current;
    if (!held) return;
    const dx = event.clientX - held.x;
    if (!held.moved && Math.abs(dx) < DRAG_PIXELS) return;
    held.moved = true;
    move(held.from + Math.round(dx / (event.altKey ? 20 : 3)) * step);
  };
  /** Lets go; returns whether it was only pressed, not moved. */
  const letGo = (): boolean => {
    const held = drag.current;
    drag.current = null;
    if (held?.moved && live !== null) keep(live);
    return held !== null && !held.moved;
  };
  return { shown, move, keep, back, letGo, onKeyDown, onPointerDown, onPointerMove };
}
