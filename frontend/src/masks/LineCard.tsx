import { Box, Button, IconButton, Tooltip, Typography } from "@mui/material";
import BrushIcon from "@mui/icons-material/BrushOutlined";
import VisibilityIcon from "@mui/icons-material/VisibilityOutlined";
import VisibilityOffIcon from "@mui/icons-material/VisibilityOffOutlined";
import { useState } from "react";
import { useLineKinds, useReadings, useStats } from "../api/queries";
import type { Band, Line, Mask } from "../api/types";
import { useDocument } from "../state/document";
import { useTools } from "../state/tools";
import { BandEditor } from "./BandEditor";
import { BrushPanel } from "./BrushPanel";
import { CurveEditor } from "./CurveEditor";
import { LineMenu } from "./LineMenu";
import { LineSentence } from "./LineSentence";
import { fields, slotOf, withFields } from "./lines";
import { useTell, type Tell } from "./tell";
import { roles } from "../theme";

interface LineCardProps {
  mask: Mask;
  line: Line;
  index: number;
  chosen: boolean;
  onChoose: () => void;
}

export function LineCard({ mask, line, index, chosen, onChoose }: LineCardProps) {
  // While a handle of the histogram moves, the sentence moves with it.
  const [dragging, setDragging] = useState<Line | null>(null);
  const tell = useTell(mask, line);
  const shown = dragging ?? line;
  const kind = useLineKinds().find((item) => item.verb === line.verb);
  const curve = slotOf(kind, "curve");
  return (
    <Box
      component="li"
      aria-label={`Line ${index + 1}`}
      onClick={onChoose}
      onFocus={(event) => {
        // By pointer a line is chosen with the click: choosing earlier would move what is being clicked.
        if (event.target.matches(":focus-visible")) onChoose();
      }}
      sx={{
        listStyle: "none",
        border: chosen ? `2px solid ${roles.gentian}` : `1px solid ${roles.rule}`,
        borderRadius: 1.3,
        p: chosen ? "9px 6px 9px 11px" : "10px 7px 10px 12px",
        mb: 1,
        opacity: line.muted ? 0.55 : 1,
      }}
    >
      <Box sx={{ display: "flex", alignItems: "flex-start" }}>
        <Box sx={{ flex: 1, lineHeight: 2, fontSize: 13.5, minWidth: 0 }}>
          <LineSentence line={shown} mask={mask} tell={tell} />
        </Box>
        <Box sx={{ display: "flex", flexShrink: 0 }} onClick={(event) => event.stopPropagation()}>
          <MuteButton mask={mask} line={line} />
          <LineMenu mask={mask} line={line} index={index} />
        </Box>
      </Box>
      {line.note && (
        <Typography variant="caption" color="textSecondary" sx={{ display: "block", fontStyle: "italic", pr: 1 }}>
          {line.note}
        </Typography>
      )}
      {chosen && "source" in line && line.source.kind === "band" && (
        <Histogram line={line} band={line.source} tell={tell} onDrag={setDragging} />
      )}
      {chosen && curve && (
        <CurveEditor
          points={fields(line)[curve.name] as [number, number][]}
          onPreview={(points) => tell.preview(points && withFields(line, { [curve.name]: points }))}
          onCommit={(points, key) => tell.commit(withFields(line, { [curve.name]: points }), key, curve.name)}
        />
      )}
      {slotOf(kind, "strokes") && <BrushTools mask={mask} line={line} />}
    </Box>
  );
}

function BrushTools({ mask, line }: { mask: Mask; line: Line }) {
  const { tool, take } = useTools();
  const active = tool?.kind === "brush" && tool.line === line.id;
  return (
    <>
      <Button
        size="small"
        variant={active ? "contained" : "outlined"}
        color={active ? "secondary" : "inherit"}
        startIcon={<BrushIcon />}
        aria-pressed={active}
        onClick={() => take(active ? null : { kind: "brush", mask: mask.id, line: line.id })}
        sx={{ mt: 0.5 }}
      >
        {active ? "Put the brush away" : "Brush"}
      </Button>
      {active && <BrushPanel />}
    </>
  );
}

function MuteButton({ mask, line }: { mask: Mask; line: Line }) {
  const edit = useDocument((store) => store.edit);
  return (
    <Tooltip title={line.muted ? "Muted: does nothing. Click to use it again." : "Mute this line"}>
      <IconButton
        size="small"
        aria-label={line.muted ? "Unmute this line" : "Mute this line"}
        aria-pressed={line.muted ?? false}
        onClick={() => void edit([{ op: "set_line", mask: mask.id, line: { ...line, muted: !line.muted } }])}
      >
        {line.muted ? <VisibilityOffIcon sx={{ fontSize: 17 }} /> : <VisibilityIcon sx={{ fontSize: 17 }} />}
      </IconButton>
    </Tooltip>
  );
}

interface HistogramProps {
  line: Extract<Line, { source: unknown }>;
  band: Band;
  tell: Tell;
  onDrag: (line: Line | null) => void;
}

function Histogram({ line, band, tell, onDrag }: HistogramProps) {
  const readings = useReadings();
  const stats = useStats(`reading:${band.reading}`);
  const reading = readings.find((item) => item.name === band.reading);
  // Without its histogram the axis has no ends yet, and a handle would mean nothing.
  if (!reading || !stats.data) return <Box sx={{ height: 110 }} />;
  return (
    <BandEditor
      band={band}
      reading={reading}
      stats={stats.data}
      onPreview={(next) => {
        const moved = next && { ...line, source: next };
        onDrag(moved);
        tell.preview(moved);
      }}
      onCommit={(next, key) => tell.commit({ ...line, source: next }, key, "band").then(() => onDrag(null))}
    />
  );
}
