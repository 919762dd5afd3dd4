import { Box } from "@mui/material";
import { useEffect, useEffectEvent, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { onMap, SURROUND } from "../kit/theme";

export interface Square {
  west: number;
  north: number;
  side: number;
}

interface SurveyMapProps {
  world: Schemas["WorldOut"];
  weather: string;
  square: Square;
  onSquare: (square: Square) => void;
}

type Grabbed = "map" | "square" | "corner";

const WIDTH = 536;
const HEIGHT = 300;
const TILE = 256;
const LEAST = 500;

/** Keeps a square inside the world. */
export function inside(square: Square, most: number): Square {
  const side = Math.min(Math.max(square.side, LEAST), most);
  const hold = (value: number) => Math.min(Math.max(value, 0), most - side);
  return { side, west: hold(square.west), north: hold(square.north) };
}

/** The world from above in tiles; panned by dragging, zoomed by wheel or keys, with the square on it. */
export function SurveyMap({ world, weather, square, onSquare }: SurveyMapProps) {
  const frame = useRef<HTMLDivElement>(null);
  // Metres at the middle, and metres a pixel.
  const [at, setAt] = useState({
    x: square.west + square.side / 2,
    y: square.north + square.side / 2,
    scale: (square.side * 2.2) / HEIGHT,
  });
  const grab = useRef<{ x: number; y: number; what: Grabbed; from: typeof at & Square } | null>(null);

  const zoom = (by: number) =>
    setAt((now) => ({ ...now, scale: Math.min(Math.max(now.scale * by, 2), world.side / HEIGHT) }));
  const onWheel = useEffectEvent((event: WheelEvent) => {
    event.preventDefault();
    zoom(Math.exp(event.deltaY * 0.0015));
  });
  useEffect(() => {
    const element = frame.current;
    const wheel = (event: WheelEvent) => onWheel(event);
    element?.addEventListener("wheel", wheel, { passive: false });
    return () => element?.removeEventListener("wheel", wheel);
  }, []);

  const level = Math.min(Math.max(Math.round(Math.log2(world.side / TILE / at.scale)), 0), world.levels - 1);
  const span = world.side / 2 ** level;
  const px = (x: number) => (x - at.x) / at.scale + WIDTH / 2;
  const py = (y: number) => (y - at.y) / at.scale + HEIGHT / 2;
  const tiles: { column: number; row: number }[] = [];
  const range = (middle: number, half: number) => {
    const low = Math.max(Math.floor((middle - half * at.scale) / span), 0);
    return [low, Math.min(Math.floor((middle + half * at.scale) / span), 2 ** level - 1)] as const;
  };
  const [c0, c1] = range(at.x, WIDTH / 2);
  const [r0, r1] = range(at.y, HEIGHT / 2);
  for (let row = r0; row <= r1; row++) for (let column = c0; column <= c1; column++) tiles.push({ column, row });

  const onDown = (event: React.PointerEvent<HTMLElement>) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    const what = event.currentTarget.dataset.grab as Grabbed;
    grab.current = { x: event.clientX, y: event.clientY, what, from: { ...at, ...square } };
  };
  const move = (event: React.PointerEvent) => {
    const held = grab.current;
    if (!held) return;
    const dx = (event.clientX - held.x) * at.scale;
    const dy = (event.clientY - held.y) * at.scale;
    const { from } = held;
    if (held.what === "map") {
      const hold = (v: number) => Math.min(Math.max(v, 0), world.side);
      setAt({ ...at, x: hold(from.x - dx), y: hold(from.y - dy) });
    } else if (held.what === "square") {
      onSquare(inside({ side: from.side, west: from.west + dx, north: from.north + dy }, world.side));
    } else {
      const side = Math.min(from.side + Math.max(dx, dy), world.side - Math.max(from.west, from.north));
      onSquare(inside({ west: from.west, north: from.north, side: Math.round(side) }, world.side));
    }
  };
  const up = () => {
    grab.current = null;
  };
  const keys = (event: React.KeyboardEvent) => {
    const step = 40 * at.scale;
    const ways: Record<string, () => void> = {
      ArrowLeft: () => setAt({ ...at, x: at.x - step }),
      ArrowRight: () => setAt({ ...at, x: at.x + step }),
      ArrowUp: () => setAt({ ...at, y: at.y - step }),
      ArrowDown: () => setAt({ ...at, y: at.y + step }),
      "+": () => zoom(0.7),
      "-": () => zoom(1.4),
    };
    const way = ways[event.key];
    if (!way) return;
    event.preventDefault();
    way();
  };
  const handlers = { onPointerMove: move, onPointerUp: up, onPointerCancel: up };
  return (
    <Box
      ref={frame}
      tabIndex={0}
      role="application"
      aria-label="Map of the surveyed world. Arrow keys move it, plus and minus zoom."
      data-testid="survey-map"
      onKeyDown={keys}
      data-grab="map"
      onPointerDown={onDown}
      {...handlers}
      sx={{
        position: "relative",
        width: WIDTH,
        maxWidth: "100%",
        height: HEIGHT,
        overflow: "hidden",
        borderRadius: 1.5,
        bgcolor: SURROUND,
        cursor: "move",
        touchAction: "none",
      }}
    >
      {tiles.map(({ column, row }) => (
        <img
          key={`${level}/${column}/${row}/${weather}`}
          src={`/api/survey/tiles/${level}/${column}/${row}?weather=${weather === "patchy" ? "patchy" : "fair"}`}
          alt=""
          draggable={false}
          style={{
            position: "absolute",
            left: px(column * span),
            top: py(row * span),
            width: span / at.scale + 0.5,
            height: span / at.scale + 0.5,
          }}
        />
      ))}
      <Box
        data-grab="square"
        onPointerDown={onDown}
        {...handlers}
        sx={{
          position: "absolute",
          left: px(square.west),
          top: py(square.north),
          width: square.side / at.scale,
          height: square.side / at.scale,
          border: `2px solid ${onMap.light}`,
          outline: `2px solid ${onMap.chosen}`,
          cursor: "grab",
        }}
      >
        <Box
          data-grab="corner"
          onPointerDown={onDown}
          {...handlers}
          sx={{
            position: "absolute",
            right: -12,
            bottom: -12,
            width: 24,
            height: 24,
            borderRadius: "50%",
            bgcolor: onMap.light,
            border: `3px solid ${onMap.chosen}`,
            cursor: "nwse-resize",
          }}
        />
      </Box>
    </Box>
  );
}
