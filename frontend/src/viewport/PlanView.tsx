import { Box } from "@mui/material";
import { useCallback, useEffect, useEffectEvent, useMemo, useRef, useState } from "react";
import { useReadings } from "../api/queries";
import { sourceTitle } from "../packing/sources";
import { useProject } from "../state/document";
import { useView, type Subject } from "../state/view";
import { onMap, roles, SURROUND } from "../theme";
import { LegendBox } from "./LegendBox";
import type { Picture } from "./paint";
import { mapStore, PictureMaker } from "./pictures";
import { finish, middleOfView, toolDown, toolMove, toolUp } from "../draw/actions";
import { useTools } from "../state/tools";
import { ScatterDots } from "./ScatterDots";
import { ToolShapes } from "./ToolShapes";
import { groundAt, panelRects, PlanPainter, scale, type Rect } from "./plan";
import { PlanTools } from "./PlanTools";
import { Probe, type ProbePoint } from "./Probe";
import { ScaleBar } from "./ScaleBar";
import { ZoomButtons } from "./ZoomButtons";

interface PlanViewProps {
  picture: Picture | null;
  subject: Subject;
}

interface Size {
  width: number;
  height: number;
}

interface Detail {
  maker: PictureMaker;
  painter: PlanPainter;
  rect: { row0: number; row1: number; col0: number; col1: number };
}

export function PlanView({ picture, subject }: PlanViewProps) {
  const state = useProject();
  const readings = useReadings();
  const { camera, wipe, tint, tintColour, water, palette, compare, set } = useView();
  const canvas = useRef<HTMLCanvasElement>(null);
  const painter = useRef(new PlanPainter());
  const detail = useRef<Detail | null>(null);
  const [size, setSize] = useState<Size>({ width: 0, height: 0 });
  const [point, setPoint] = useState<ProbePoint | null>(null);
  const grab = useRef<{ x: number; y: number; cx: number; cy: number; wiping: boolean } | null>(null);
  const tool = useTools((tools) => tools.tool);
  const pressing = useRef(false);
  const panels = picture?.panels.length ?? 1;
  const { home, view } = state;

  const draw = useEffectEvent(() => {
    if (!canvas.current || !picture) return;
    painter.current.take(picture);
    painter.current.draw(canvas.current, view, camera, wipe, SURROUND, detail.current, home);
    canvas.current.dataset.painted = String(Number(canvas.current.dataset.painted ?? 0) + 1);
  });

  // Paint in the same task as the picture arrives: a dragged slider must not wait for another frame.
  useEffect(() => draw(), [picture, camera, wipe, size, view]);

  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);

  // Single samples of a ground that is larger than its overview: fetched for the window in view once it rests.
  useEffect(() => {
    const rect = panelRects(panels, size.width, size.height)[0];
    const coarse = home.cols > view.cols || home.rows > view.rows;
    if (!rect || !coarse || scale(rect, view, camera) * home.spacing_x < 0.7) {
      detail.current = null;
      return;
    }
    let end: () => void = () => undefined;
    const stop = new AbortController();
    const timer = setTimeout(() => {
      const s = scale(rect, view, camera);
      const half = [rect.height / 2 / s / home.spacing_y, rect.width / 2 / s / home.spacing_x] as const;
      const row = (camera.y * home.length) / home.spacing_y;
      const col = (camera.x * home.width) / home.spacing_x;
      const part = {
        row0: Math.max(0, Math.floor(row - half[0])),
        row1: Math.min(home.rows, Math.ceil(row + half[0]) + 1),
        col0: Math.max(0, Math.floor(col - half[1])),
        col1: Math.min(home.cols, Math.ceil(col + half[1]) + 1),
      };
      if (part.row1 - part.row0 > 1024 || part.col1 - part.col0 > 1024 || subject.kind === "fit" || compare !== "off")
        return;
      const maker = new PictureMaker();
      const fine: Detail = { maker, painter: new PlanPainter(), rect: part };
      end = maker.subscribe(() => {
        const made = maker.state.picture;
        if (!made || maker.state.updating) return;
        fine.painter.take(made);
        detail.current = fine;
        draw();
      });
      const window = `${part.row0},${part.row1},${part.col0},${part.col1}`;
      const overview = { state, subject, readings, options: { tint, colour: tintColour, water, palette } };
      const whole = (name: string) => mapStore.get(overview, name);
      maker.want({
        ...overview,
        options: { tint, colour: tintColour, water, palette, whole },
        window,
        signal: stop.signal,
      });
    }, 160);
    return () => {
      clearTimeout(timer);
      end();
      stop.abort();
    };
  }, [camera, home, view, panels, size, state, subject, readings, tint, tintColour, water, palette, compare]);

  const place = useCallback(
    (event: { clientX: number; clientY: number }) => {
      const box = canvas.current?.getBoundingClientRect();
      if (!box) return null;
      const rects = panelRects(panels, box.width, box.height);
      return groundAt(event.clientX - box.left, event.clientY - box.top, rects, view, camera);
    },
    [panels, view, camera],
  );

  const onWheel = useEffectEvent((event: WheelEvent) => {
    event.preventDefault();
    const under = place(event);
    const zoom = Math.min(Math.max(camera.zoom * Math.exp(-event.deltaY * 0.0016), 1), 400);
    if (!under) return;
    const k = camera.zoom / zoom;
    const x = under.east / view.width;
    const y = under.south / view.length;
    const keep = zoom === 1 ? { x: 0.5, y: 0.5 } : { x: x + (camera.x - x) * k, y: y + (camera.y - y) * k };
    set({ camera: { ...keep, zoom } });
  });
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const wheel = (event: WheelEvent) => onWheel(event);
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, []);

  /** The place under the pointer, held on the ground. */
  const onGround = (event: { clientX: number; clientY: number; pressure?: number; pointerType?: string }) => {
    const under = place(event);
    if (!under) return null;
    const pen = event.pointerType === "pen" && event.pressure ? event.pressure : 1;
    return {
      east: Math.min(Math.max(under.east, 0), home.width),
      south: Math.min(Math.max(under.south, 0), home.length),
      pressure: pen,
    };
  };

  const onMove = (event: React.PointerEvent) => {
    if (tool && pressing.current) {
      const spot = onGround(event);
      if (spot) toolMove(tool, spot);
    }
    const held = grab.current;
    const box = canvas.current?.getBoundingClientRect();
    if (held && box) {
      if (held.wiping) {
        set({ wipe: Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1) });
        return;
      }
      const rect = panelRects(panels, box.width, box.height)[0];
      if (!rect) return;
      const s = scale(rect, view, camera);
      set({
        camera: {
          ...camera,
          x: held.cx - (event.clientX - held.x) / s / view.width,
          y: held.cy - (event.clientY - held.y) / s / view.length,
        },
      });
      return;
    }
    const under = place(event);
    if (!under) return setPoint(null);
    const row = Math.round(under.south / home.spacing_y);
    const col = Math.round(under.east / home.spacing_x);
    const inside = row >= 0 && col >= 0 && row < home.rows && col < home.cols;
    setPoint(inside ? { row, col, panel: under.panel } : null);
  };

  const onDown = (event: React.PointerEvent) => {
    const box = canvas.current?.getBoundingClientRect();
    if (!box || event.button > 1) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    if (tool && event.button === 0) {
      const spot = onGround(event);
      pressing.current = spot !== null;
      if (spot) toolDown(tool, spot);
      return;
    }
    const wiping = picture?.before !== null && Math.abs(event.clientX - box.left - box.width * wipe) < 14;
    grab.current = { x: event.clientX, y: event.clientY, cx: camera.x, cy: camera.y, wiping };
  };

  const onUp = () => {
    if (tool && pressing.current) toolUp(tool);
    pressing.current = false;
    grab.current = null;
  };

  const onKey = (event: React.KeyboardEvent) => {
    if (tool && event.key === " ") {
      event.preventDefault();
      toolDown(tool, middleOfView());
      toolUp(tool);
      return;
    }
    const step = 0.08 / camera.zoom;
    const moves: Record<string, Partial<typeof camera>> = {
      ArrowLeft: { x: camera.x - step },
      ArrowRight: { x: camera.x + step },
      ArrowUp: { y: camera.y - step },
      ArrowDown: { y: camera.y + step },
      "+": { zoom: Math.min(camera.zoom * 1.3, 400) },
      "-": { zoom: Math.max(camera.zoom / 1.3, 1) },
    };
    const move = moves[event.key];
    if (move) {
      event.preventDefault();
      set({ camera: { ...camera, ...move } });
    }
  };

  const rects = useMemo(() => panelRects(panels, size.width, size.height), [panels, size]);
  const spotOf = (rect: Rect | undefined, east: number, south: number) => {
    if (!rect) return null;
    const s = scale(rect, view, camera);
    return {
      x: rect.x + rect.width / 2 + (east - camera.x * view.width) * s,
      y: rect.y + rect.height / 2 + (south - camera.y * view.length) * s,
    };
  };
  const compared = picture?.panels.every((panel) => panel.subject)
    ? picture.panels.flatMap((panel) => panel.subject ?? [])
    : null;
  return (
    <>
      <canvas
        ref={canvas}
        tabIndex={0}
        aria-label="Plan of the ground. Arrow keys move, plus and minus zoom."
        data-testid="plan"
        style={{
          width: "100%",
          height: "100%",
          display: "block",
          cursor: "crosshair",
          touchAction: "none",
        }}
        onPointerMove={onMove}
        onPointerDown={onDown}
        onPointerUp={onUp}
        onPointerCancel={onUp}
        onPointerLeave={() => setPoint(null)}
        onDoubleClick={() => tool && finish()}
        onKeyDown={onKey}
      />
      {panels > 1 &&
        picture?.panels.map((panel, i) => (
          <Box
            key={panel.title}
            sx={{
              position: "absolute",
              left: (rects[i]?.x ?? 0) + 8,
              top: (rects[i]?.y ?? 0) + (i < 2 ? 34 : 8),
              px: 1,
              py: 0.4,
              borderRadius: 1,
              bgcolor: onMap.veil,
              color: onMap.light,
              fontSize: 12.5,
              pointerEvents: "none",
            }}
          >
            {panel.subject ? panel.title : <PanelTitle subject={subject} letter={panel.title} />}
          </Box>
        ))}
      {picture?.before && (
        <input
          type="range"
          aria-label="Where before ends and after begins"
          min={0}
          max={100}
          value={Math.round(wipe * 100)}
          onChange={(event) => set({ wipe: Number(event.target.value) / 100 })}
          style={{ position: "absolute", bottom: 8, left: "30%", width: "40%", accentColor: roles.gentian }}
        />
      )}
      <Box
        sx={{
          position: "absolute",
          left: 12,
          bottom: 12,
          display: "flex",
          flexDirection: "column",
          gap: 1,
          pointerEvents: "none",
        }}
      >
        {picture?.legend && <LegendBox legend={picture.legend} />}
        <ScaleBar pixelsPerMetre={rects[0] ? scale(rects[0], view, camera) : 0} />
      </Box>
      <ZoomButtons />
      <NorthMark />
      {rects[0] && (
        <>
          <ScatterDots subject={subject} rect={rects[0]} view={view} camera={camera} />
          <ToolShapes
            at={(east, south) => spotOf(rects[0], east, south)}
            place={onGround}
            pixels={scale(rects[0], view, camera)}
            pointer={point && spotOf(rects[0], point.col * home.spacing_x, point.row * home.spacing_y)}
            middle={{ x: rects[0].x + rects[0].width / 2, y: rects[0].y + rects[0].height / 2 }}
          />
        </>
      )}
      <PlanTools rects={rects} camera={camera} mark={point} />
      <Probe point={point} subjects={compared ?? [subject]} />
    </>
  );
}

function PanelTitle({ subject, letter }: { subject: Subject; letter: string }) {
  const state = useProject();
  const readings = useReadings();
  if (subject.kind !== "sheet") return <b>{letter}</b>;
  const sheet = state.document.sheets.find((item) => item.id === subject.id);
  const source = sheet?.[letter.toLowerCase() as "r" | "g" | "b" | "a"];
  return (
    <>
      <b>{letter}</b> · {source ? sourceTitle(source, state.document, readings) : "empty"}
    </>
  );
}

function NorthMark() {
  return (
    <Box
      aria-label="North is up"
      sx={{
        position: "absolute",
        right: 12,
        top: 108,
        width: 30,
        py: 0.6,
        borderRadius: 1.5,
        bgcolor: onMap.veil,
        color: onMap.light,
        textAlign: "center",
        fontSize: 11,
        lineHeight: 1,
        pointerEvents: "none",
      }}
    >
      <svg width="14" height="18" viewBox="0 0 14 20" aria-hidden>
        <path d="M7 1l5 13-5-3-5 3z" fill={onMap.light} />
      </svg>
      <div>N</div>
    </Box>
  );
}
