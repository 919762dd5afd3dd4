import { Box, Typography } from "@mui/material";
import { useRef } from "react";
import { finish, toolDown, toolMove, toolUp } from "../draw/actions";
import { useTools } from "../state/tools";
import type { Subject } from "../state/view";
import { onMap } from "../theme";
import type { Picture } from "./paint";
import { ReliefControls } from "./ReliefControls";
import { ScaleBar } from "./ScaleBar";
import { ToolShapes } from "./ToolShapes";
import { useReliefScene } from "./useReliefScene";

const MOVES: Record<string, [number, number, number]> = {
  ArrowLeft: [-0.15, 0, 0],
  ArrowRight: [0.15, 0, 0],
  ArrowUp: [0, 0.08, 0],
  ArrowDown: [0, -0.08, 0],
  "+": [0, 0, 0.15],
  "-": [0, 0, -0.18],
};

interface ReliefViewProps {
  picture: Picture | null;
  subject: Subject;
  /** What it shows, where several stand side by side. */
  title?: string;
  /** Whether it has the controls: of several only one does. */
  controls?: boolean;
}

export function ReliefView({ picture, subject, title, controls = true }: ReliefViewProps) {
  const { canvas, scene, seen, trouble, perMetre } = useReliefScene(picture, subject);
  const tool = useTools((tools) => tools.tool);
  const pressing = useRef(false);

  const onKey = (event: React.KeyboardEvent) => {
    const move = MOVES[event.key];
    if (!move) return;
    event.preventDefault();
    scene.current?.nudge(...move);
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
      {title && (
        <Box
          sx={{
            position: "absolute",
            top: 10,
            left: 12,
            px: 1.2,
            py: 0.4,
            borderRadius: 1.2,
            bgcolor: onMap.veil,
            color: onMap.light,
            fontSize: 12.5,
            pointerEvents: "none",
          }}
        >
          {title}
        </Box>
      )}
      <Box sx={{ position: "absolute", left: 12, bottom: 12, pointerEvents: "none" }}>
        <ScaleBar pixelsPerMetre={perMetre} note="at the middle" />
      </Box>
      {controls && <ReliefControls />}
    </Box>
  );
}
