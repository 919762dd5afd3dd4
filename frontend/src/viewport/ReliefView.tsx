import { Box, IconButton, Tooltip, Typography } from "@mui/material";
import FitScreenIcon from "@mui/icons-material/FitScreenOutlined";
import { useRef, useState } from "react";
import { finish, toolDown, toolMove, toolUp } from "./drawing";
import { useProject } from "../document/document";
import { pointer } from "./pointer";
import { useTools } from "./tools";
import type { Subject } from "./subjects/subject";
import { onMap } from "../kit/theme";
import { Corner } from "./Corner";
import type { Picture } from "./imaging";
import { Probe, type ProbePoint } from "./Probe";
import { ReliefControls } from "./ReliefControls";
import { ScaleBar } from "./ScaleBar";
import { takingPart } from "../document/outcomes";
import { ToolShapes } from "./ToolShapes";
import { useReliefScene } from "./useReliefScene";
import { nearestTo } from "./places";

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
  const { document, home } = useProject();
  const [point, setPoint] = useState<ProbePoint | null>(null);

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
    if (tool && pressing.current) {
      const spot = place(event);
      if (spot) toolMove(tool, spot);
    }
    // While it is turned, nothing is read off.
    if (event.buttons === 0) read(event);
  };
  const read = (event: React.PointerEvent) => {
    const spot = place(event);
    const here = spot && nearestTo(home, spot);
    pointer.at = here;
    setPoint(here && { ...here, panel: 0 });
  };
  const leave = () => {
    pointer.at = null;
    setPoint(null);
  };
  const onUp = () => {
    if (tool && pressing.current) toolUp(tool);
    pressing.current = false;
  };
  return (
    // Only beside the controls has the corner to make room for them where the view is narrow.
    <Box sx={{ position: "absolute", inset: 0, overflow: "hidden", ...(controls && { containerType: "inline-size" }) }}>
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
        onPointerLeave={leave}
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
      <Corner picture={picture} keys={subject.kind === "strongest" ? takingPart(document) : null}>
        <ScaleBar pixelsPerMetre={perMetre} note="at the middle" />
      </Corner>
      <Tooltip title="All of it" placement="left">
        <IconButton
          size="small"
          aria-label="All of it in relief"
          onClick={() => scene.current?.showAll()}
          sx={{
            position: "absolute",
            top: 10,
            right: 12,
            borderRadius: 1.5,
            bgcolor: "background.paper",
            "&:hover": { bgcolor: "background.paper" },
          }}
        >
          <FitScreenIcon fontSize="small" />
        </IconButton>
      </Tooltip>
      <Box
        sx={{
          position: "absolute",
          right: 12,
          bottom: 12,
          display: "flex",
          flexDirection: "column",
          alignItems: "flex-end",
          gap: 1,
          pointerEvents: "none",
        }}
      >
        <Probe point={point} subjects={[subject]} placed={false} />
        {controls && <ReliefControls />}
      </Box>
    </Box>
  );
}
