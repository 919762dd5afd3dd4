import { useEffect, useEffectEvent, useRef, useState, type RefObject } from "react";
import { finish, middleOfView, toolDown, toolMove, toolUp } from "./drawing";
import { useProject } from "../document/document";
import { pointer } from "./pointer";
import { useTools } from "./tools";
import { useViewParts } from "./view";
import { groundAt, panelRects, placeIn } from "./plan";
import { drawnAlong, heldOn, keyed, sampleAt, wheeled } from "./planHand";
import type { ProbePoint } from "./Probe";

interface At {
  clientX: number;
  clientY: number;
  pressure?: number;
  pointerType?: string;
}

const WIPE_PIXELS = 14;

/** What pointer, wheel and keys do on the plan: probe, pan, zoom, wipe, and whatever tool is in the hand. */
export function usePlanHand(canvas: RefObject<HTMLCanvasElement | null>, panels: number, wipes: boolean) {
  const { home, view } = useProject();
  const { camera, wipe, set } = useViewParts("camera", "wipe", "set");
  const tool = useTools((tools) => tools.tool);
  const [point, setPoint] = useState<ProbePoint | null>(null);
  const grab = useRef<{ x: number; y: number; cx: number; cy: number; wiping: boolean } | null>(null);
  const pressing = useRef(false);

  const place = (event: At) => {
    const box = canvas.current?.getBoundingClientRect();
    if (!box) return null;
    const rects = panelRects(panels, box.width, box.height);
    return groundAt(event.clientX - box.left, event.clientY - box.top, rects, view, camera);
  };
  /** The place under the pointer, held on the ground. */
  const onGround = (event: At) => {
    const under = place(event);
    if (!under) return null;
    return { ...heldOn(under, home), pressure: event.pointerType === "pen" && event.pressure ? event.pressure : 1 };
  };

  /** The place under the pointer, beside the ground too. */
  const anywhere = (event: At) => {
    const box = canvas.current?.getBoundingClientRect();
    const rect = box && panelRects(panels, box.width, box.height)[0];
    if (!box || !rect) return null;
    return placeIn(event.clientX - box.left, event.clientY - box.top, rect, view, camera);
  };

  const onWheel = useEffectEvent((event: WheelEvent) => {
    event.preventDefault();
    const under = place(event);
    if (under) set({ camera: wheeled(camera, event.deltaY, under, view) });
  });
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const wheel = (event: WheelEvent) => onWheel(event);
    element.addEventListener("wheel", wheel, { passive: false });
    return () => element.removeEventListener("wheel", wheel);
  }, [canvas]);

  const dragged = (event: React.PointerEvent, held: NonNullable<typeof grab.current>, box: DOMRect) => {
    if (held.wiping) {
      set({ wipe: Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1) });
      return;
    }
    const rect = panelRects(panels, box.width, box.height)[0];
    if (!rect) return;
    const from = { ...camera, x: held.cx, y: held.cy };
    set({ camera: drawnAlong(from, event.clientX - held.x, event.clientY - held.y, rect, view) });
  };
  const onPointerMove = (event: React.PointerEvent) => {
    if (tool && pressing.current) {
      const spot = onGround(event);
      if (spot) toolMove(tool, spot);
    }
    const box = canvas.current?.getBoundingClientRect();
    if (grab.current && box) {
      dragged(event, grab.current, box);
      return;
    }
    const under = place(event);
    if (!under) return setPoint(null);
    const sample = sampleAt(under, home);
    pointer.at = sample;
    setPoint(sample && { ...sample, panel: under.panel });
  };
  const onPointerDown = (event: React.PointerEvent) => {
    const box = canvas.current?.getBoundingClientRect();
    if (!box || event.button > 1) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    if (tool && event.button === 0) {
      const spot = onGround(event);
      pressing.current = spot !== null;
      if (spot) toolDown(tool, spot);
      return;
    }
    const wiping = wipes && Math.abs(event.clientX - box.left - box.width * wipe) < WIPE_PIXELS;
    grab.current = { x: event.clientX, y: event.clientY, cx: camera.x, cy: camera.y, wiping };
  };
  const onPointerUp = () => {
    if (tool && pressing.current) toolUp(tool);
    pressing.current = false;
    grab.current = null;
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    if (tool && event.key === " ") {
      event.preventDefault();
      toolDown(tool, middleOfView());
      toolUp(tool);
      return;
    }
    const moved = keyed(camera, event.key);
    if (!moved) return;
    event.preventDefault();
    set({ camera: moved });
  };
  const handlers = {
    onPointerMove,
    onPointerDown,
    onPointerUp,
    onPointerCancel: onPointerUp,
    onPointerLeave: () => {
      pointer.at = null;
      setPoint(null);
    },
    onDoubleClick: () => tool && finish(),
    onKeyDown,
  };
  return { point, onGround, anywhere, handlers };
}
