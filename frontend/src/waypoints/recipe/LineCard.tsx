import { Box, Button, Checkbox, IconButton, Tooltip, Typography } from "@mui/material";
import BrushIcon from "@mui/icons-material/BrushOutlined";
import VisibilityIcon from "@mui/icons-material/VisibilityOutlined";
import VisibilityOffIcon from "@mui/icons-material/VisibilityOffOutlined";
import { useState } from "react";
import { useLineKinds, useReadings, useStats, useWhyMask } from "../../document/queries";
import type { Band, Line } from "../../api/types";
import { useDocument, useProject } from "../../document/document";
import { useToolsParts } from "../../viewport/tools";
import { useView } from "../../viewport/view";
import { BandEditor } from "./BandEditor";
import { BrushPanel } from "./BrushPanel";
import { CurveEditor } from "./CurveEditor";
import { LineMenu } from "./LineMenu";
import { LineSentence } from "./LineSentence";
import { type Holder, readOn } from "../../document/holder";
import { fields, slotOf, withFields } from "./lines";
import { useTell, type Tell } from "./tell";
import { LineAtPlace } from "./WhyMask";
import { roles } from "../../kit/theme";
import { trim } from "../../kit/numbers";

interface LineCardProps {
  holder: Holder;
  line: Line;
  index: number;
  chosen: boolean;
  onChoose: () => void;
  /** Whether it is among several chosen lines; null while none are being chosen. */
  ticked?: boolean | null;
  onTick?: (on: boolean) => void;
}

export function LineCard({ holder, line, index, chosen, onChoose, ticked = null, onTick }: LineCardProps) {
  // While a handle of the histogram moves, the sentence moves with it.
  const [dragging, setDragging] = useState<Line | null>(null);
  const tell = useTell(holder, line);
  const shown = dragging ?? line;
  const kind = useLineKinds().find((item) => item.verb === line.verb);
  const curve = slotOf(kind, "curve");
  const why = useView((view) => view.why);
  const here = useWhyMask(holder.kind === "mask" ? holder.id : null, why).data?.lines.find(
    (item) => item.id === line.id,
  );
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
        {ticked !== null && (
          <Checkbox
            size="small"
            checked={ticked}
            onClick={(event) => event.stopPropagation()}
            onChange={(_, on) => onTick?.(on)}
            slotProps={{ input: { "aria-label": `Choose line ${index + 1}` } }}
            sx={{ p: 0.4, mr: 0.5 }}
          />
        )}
        <Box data-line={line.id} sx={{ flex: 1, lineHeight: 2, fontSize: 13.5, minWidth: 0 }}>
          <LineSentence line={shown} holder={holder} tell={tell} />
        </Box>
        <Box sx={{ display: "flex", flexShrink: 0 }} onClick={(event) => event.stopPropagation()}>
          <MuteButton holder={holder} line={line} />
          <LineMenu holder={holder} line={line} index={index} />
        </Box>
      </Box>
      <Trouble line={line} />
      <TooShort line={shown} />
      <LineAtPlace holder={holder} line={line} here={here} />
      {line.note && (
        <Typography variant="caption" color="textSecondary" sx={{ display: "block", fontStyle: "italic", pr: 1 }}>
          {line.note}
        </Typography>
      )}
      {chosen && "source" in line && line.source.kind === "band" && (
        <Histogram holder={holder} line={line} band={line.source} tell={tell} onDrag={setDragging} />
      )}
      {chosen && curve && (
        <CurveEditor
          points={fields(line)[curve.name] as [number, number][]}
          onPreview={(points) => tell.preview(points && withFields(line, { [curve.name]: points }))}
          onCommit={(points, key) => tell.commit(withFields(line, { [curve.name]: points }), key, curve.name)}
        />
      )}
      {slotOf(kind, "strokes") && <BrushTools holder={holder} line={line} />}
    </Box>
  );
}

function BrushTools({ holder, line }: { holder: Holder; line: Line }) {
  const { tool, take } = useToolsParts("tool", "take");
  const active = tool?.kind === "brush" && tool.line === line.id;
  return (
    <>
      <Button
        size="small"
        variant={active ? "contained" : "outlined"}
        color={active ? "secondary" : "inherit"}
        startIcon={<BrushIcon />}
        aria-pressed={active}
        onClick={() => take(active ? null : { kind: "brush", on: holder.kind, holder: holder.id, line: line.id })}
        sx={{ mt: 0.5 }}
      >
        {active ? "Put the brush away" : "Brush"}
      </Button>
      {active && <BrushPanel />}
    </>
  );
}

function MuteButton({ holder, line }: { holder: Holder; line: Line }) {
  const edit = useDocument((store) => store.edit);
  return (
    <Tooltip title={line.muted ? "Muted: does nothing. Click to use it again." : "Mute this line"}>
      <IconButton
        size="small"
        aria-label={line.muted ? "Unmute this line" : "Mute this line"}
        aria-pressed={line.muted ?? false}
        onClick={() => void edit([holder.set({ ...line, muted: !line.muted })])}
      >
        {line.muted ? <VisibilityOffIcon sx={{ fontSize: 17 }} /> : <VisibilityIcon sx={{ fontSize: 17 }} />}
      </IconButton>
    </Tooltip>
  );
}

interface HistogramProps {
  holder: Holder;
  line: Extract<Line, { source: unknown }>;
  band: Band;
  tell: Tell;
  onDrag: (line: Line | null) => void;
}

function Histogram({ holder, line, band, tell, onDrag }: HistogramProps) {
  const readings = useReadings();
  const stats = useStats(readOn(holder.steps, band.reading));
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

/** Why what a line reads is empty: a step of preparation that left it is muted. */
function Trouble({ line }: { line: Line }) {
  const readings = useReadings();
  const source = "source" in line ? line.source : null;
  const name = source && "reading" in source ? source.reading : null;
  const trouble = readings.find((item) => item.name === name)?.trouble;
  return trouble ? (
    <Typography variant="caption" sx={{ display: "block", color: roles.amber, pr: 1 }}>
      {trouble}
    </Typography>
  ) : null;
}

/** Lengths below what lies between two samples do little or nothing. */
function TooShort({ line }: { line: Line }) {
  const { home } = useProject();
  const spacing = Math.max(home.spacing_x, home.spacing_y);
  const kind = useLineKinds().find((item) => item.verb === line.verb);
  const short = kind?.slots.find((slot) => {
    const value = fields(line)[slot.name];
    return slot.unit === "m" && typeof value === "number" && value > 0 && value < spacing;
  });
  return short ? (
    <Typography variant="caption" sx={{ display: "block", color: roles.amber, pr: 1 }}>
      {short.title} is less than the {trim(spacing)} m between samples of this ground: there is little to see of it.
    </Typography>
  ) : null;
}
