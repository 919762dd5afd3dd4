import { Box, Slider, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { sentence } from "../api/client";
import { useReadings, useScatterPoints } from "../api/queries";
import { finish, toolDown, toolMove, toolUp } from "../draw/actions";
import { useProject } from "../state/document";
import { isOverlaid, useTools } from "../state/tools";
import { useView, type Subject } from "../state/view";
import { onMap, SCATTERED, SURROUND } from "../theme";
import type { Picture } from "./paint";
import { mapStore } from "./pictures";
import { ReliefScene } from "./relief";
import { ToolShapes } from "./ToolShapes";

let able: boolean | null = null;

/** Whether this browser can draw in three dimensions; asked once, and the context that told is given back. */
function canDrawRelief(): boolean {
  if (able === null) {
    const context = document.createElement("canvas").getContext("webgl2");
    able = context !== null;
    context?.getExtension("WEBGL_lose_context")?.loseContext();
  }
  return able;
}

export function ReliefView({ picture, subject }: { picture: Picture | null; subject: Subject }) {
  const state = useProject();
  const readings = useReadings();
  const { exaggeration, sun, water, shore, set } = useView();
  const level = shore ?? state.document.ground.water;
  const canvas = useRef<HTMLCanvasElement>(null);
  const tool = useTools((tools) => tools.tool);
  const pressing = useRef(false);
  // What lies over the canvas follows the camera: it is placed anew after every frame.
  const [seen, setSeen] = useState<ReliefScene | null>(null);
  const [, setFrame] = useState(0);
  const scattered = subject.kind === "scatter" ? subject.id : null;
  const dots = useScatterPoints(scattered).data;
  const colour = state.document.scatters?.find((item) => item.id === scattered)?.colour ?? SCATTERED;
  const scene = useRef<ReliefScene | null>(null);
  const able = canDrawRelief();
  const [trouble, setTrouble] = useState<string | null>(
    able ? null : "This browser cannot draw in three dimensions here. Plan shows the same maps.",
  );

  useEffect(() => {
    const element = canvas.current;
    if (!element || !able) return;
    const made = new ReliefScene(element, SURROUND);
    scene.current = made;
    const counted = () => setFrame((count) => count + 1);
    made.onFrame = () => {
      setSeen(made);
      if (isOverlaid()) counted();
    };
    const box = element.parentElement;
    const watch = new ResizeObserver(() => made.resize(box?.clientWidth ?? 0, box?.clientHeight ?? 0));
    if (box) watch.observe(box);
    return () => {
      watch.disconnect();
      made.dispose();
      scene.current = null;
      // A browser has few contexts and frees them late. One whose canvas stays (an effect run twice) is needed again.
      setTimeout(() => element.isConnected || made.letGo());
    };
  }, [able]);

  useEffect(() => {
    const wanted = {
      state,
      readings,
      subject: { kind: "ground", style: "heights" } as const,
      options: { tint: 0, water: false },
    };
    let current = true;
    mapStore.load(wanted, "reading:height").then(
      (map) => current && scene.current?.setHeights(map, exaggeration),
      (error: unknown) => current && setTrouble(sentence(error)),
    );
    return () => {
      current = false;
    };
  }, [state, readings, exaggeration]);

  useEffect(() => scene.current?.setToolInHand(tool !== null), [tool]);
  useEffect(() => scene.current?.setDots(dots?.values ?? null, colour), [dots, colour, seen]);

  useEffect(() => {
    if (picture) scene.current?.setPicture(picture);
  }, [picture]);

  useEffect(() => scene.current?.setSun(sun.azimuth, sun.altitude), [sun]);
  useEffect(() => scene.current?.setWater(water && typeof level === "number" ? level : null), [water, level]);

  const onKey = (event: React.KeyboardEvent) => {
    const moves: Record<string, [number, number, number]> = {
      ArrowLeft: [-0.15, 0, 0],
      ArrowRight: [0.15, 0, 0],
      ArrowUp: [0, 0.08, 0],
      ArrowDown: [0, -0.08, 0],
      "+": [0, 0, 0.15],
      "-": [0, 0, -0.18],
    };
    const move = moves[event.key];
    if (move) {
      event.preventDefault();
      scene.current?.nudge(...move);
    }
  };

  const place = (event: { clientX: number; clientY: number; pressure?: number; pointerType?: string }) => {
    const box = canvas.current?.getBoundingClientRect();
    const spot = box && scene.current?.pick(event.clientX - box.left, event.clientY - box.top);
    if (!spot) return null;
    return { ...spot, pressure: event.pointerType === "pen" && event.pressure ? event.pressure : 1 };
  };
  const onDown = (event: React.PointerEvent) => {
    const spot = tool && event.button === 0 ? place(event) : null;
    if (!tool || !spot) return;
    pressing.current = true;
    event.currentTarget.setPointerCapture(event.pointerId);
    toolDown(tool, spot);
  };
  const onMove = (event: React.PointerEvent) => {
    const spot = tool && pressing.current ? place(event) : null;
    if (tool && spot) toolMove(tool, spot);
  };
  const onUp = () => {
    if (tool && pressing.current) toolUp(tool);
    pressing.current = false;
  };

  return (
    <Box sx={{ position: "absolute", inset: 0, overflow: "hidden" }}>
      <canvas
        ref={canvas}
        tabIndex={0}
        data-testid="relief"
        aria-label="Relief of the ground. Arrow keys turn and tilt, plus and minus approach."
        style={{ width: "100%", height: "100%", display: "block" }}
        onKeyDown={onKey}
        onPointerDown={onDown}
        onPointerMove={onMove}
        onPointerUp={onUp}
        onPointerCancel={onUp}
        onDoubleClick={() => tool && finish()}
      />
      {seen && <ToolShapes at={(east, south) => seen.spot(east, south)} place={place} pixels={null} middle={null} />}
      {trouble && (
        <Typography
          role="alert"
          sx={{ position: "absolute", inset: "45% 12% auto", color: onMap.light, textAlign: "center" }}
        >
          {trouble}
        </Typography>
      )}
      <Box
        sx={{
          position: "absolute",
          right: 12,
          bottom: 12,
          width: 230,
          bgcolor: "background.paper",
          borderRadius: 1.5,
          px: 1.5,
          pt: 0.6,
        }}
      >
        <Typography variant="caption">Heights {exaggeration.toFixed(1)}× as high</Typography>
        <Slider
          size="small"
          aria-label="Exaggeration of heights"
          min={0.5}
          max={4}
          step={0.1}
          value={exaggeration}
          onChange={(_, value) => set({ exaggeration: value as number })}
          sx={{ display: "block", py: 0.8 }}
        />
        <Box sx={{ display: "flex", gap: 1.5 }}>
          <Box sx={{ flex: 1 }}>
            <Typography variant="caption">Sun from {sun.azimuth}°</Typography>
            <Slider
              size="small"
              aria-label="Sun direction"
              min={0}
              max={360}
              step={5}
              value={sun.azimuth}
              onChange={(_, value) => set({ sun: { ...sun, azimuth: value as number } })}
              sx={{ display: "block", py: 0.8 }}
            />
          </Box>
          <Box sx={{ flex: 1 }}>
            <Typography variant="caption">{sun.altitude}° high</Typography>
            <Slider
              size="small"
              aria-label="Sun height"
              min={5}
              max={85}
              step={5}
              value={sun.altitude}
              onChange={(_, value) => set({ sun: { ...sun, altitude: value as number } })}
              sx={{ display: "block", py: 0.8 }}
            />
          </Box>
        </Box>
      </Box>
    </Box>
  );
}
