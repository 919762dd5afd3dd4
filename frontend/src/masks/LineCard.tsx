import { Box, IconButton, Tooltip } from "@mui/material";
import VisibilityIcon from "@mui/icons-material/VisibilityOutlined";
import VisibilityOffIcon from "@mui/icons-material/VisibilityOffOutlined";
import { useState } from "react";
import { useReadings, useStats } from "../api/queries";
import type { Band, Line, Mask } from "../api/types";
import { ChoiceToken, type Choice } from "../parts/ChoiceToken";
import { MoreMenu } from "../parts/MoreMenu";
import { NumberToken } from "../parts/NumberToken";
import { newId, useDocument, useProject } from "../state/document";
import { previews } from "../state/preview";
import { BandEditor } from "./BandEditor";
import { axisOf, firstBand } from "./band";
import { roles } from "../theme";

interface LineCardProps {
  mask: Mask;
  line: Line;
  index: number;
  chosen: boolean;
  onChoose: () => void;
}

export function LineCard({ mask, line, index, chosen, onChoose }: LineCardProps) {
  const { id } = useProject();
  const edit = useDocument((store) => store.edit);
  // While a handle of the histogram moves, the sentence moves with it.
  const [dragging, setDragging] = useState<Line | null>(null);
  const tell = {
    preview: (next: Line | null) => {
      if (next) previews.ask(id, `mask:${mask.id}`, [{ op: "set_line", mask: mask.id, line: next }]);
      else previews.clear();
    },
    commit: async (next: Line, keyStep = false, field = "") => {
      const merge = keyStep ? `${line.id}:${field}` : "";
      const saved = await edit([{ op: "set_line", mask: mask.id, line: next }], {
        merge,
        what: `a change to ${mask.name}`,
      });
      previews.clear();
      return saved;
    },
  };
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
        <Box sx={{ flex: 1, lineHeight: 2, fontSize: 13.5 }}>
          <Sentence line={dragging ?? line} mask={mask} tell={tell} />
        </Box>
        <LineMenu mask={mask} line={line} index={index} />
      </Box>
      {chosen && "source" in line && line.source.kind === "band" && (
        <Histogram line={line} band={line.source} tell={tell} onDrag={setDragging} />
      )}
    </Box>
  );
}

interface Tell {
  preview: (next: Line | null) => void;
  commit: (next: Line, keyStep?: boolean, field?: string) => Promise<boolean>;
}

interface SentenceProps {
  line: Line;
  mask: Mask;
  tell: Tell;
}

const VERBS: Record<"take" | "leave_out" | "keep_within", string> = {
  take: "Take",
  leave_out: "Leave out",
  keep_within: "Keep only within",
};

function Sentence({ line, mask, tell }: SentenceProps) {
  switch (line.verb) {
    case "take":
    case "leave_out":
    case "keep_within":
      return <SourceSentence line={line} mask={mask} tell={tell} />;
    case "turn_over":
      return (
        <span>
          <b>Turn over</b> what is there so far
        </span>
      );
    case "levels":
      return <LevelsSentence line={line} tell={tell} />;
  }
}

type Combining = Extract<Line, { source: unknown }>;

function SourceSentence({ line, mask, tell }: { line: Combining; mask: Mask; tell: Tell }) {
  const readings = useReadings();
  const { document } = useProject();
  const choices: Choice[] = [
    ...readings.map((item) => ({
      value: `reading:${item.name}`,
      label: item.title.toLowerCase(),
      group: "Ground where",
    })),
    ...document.masks
      .filter((other) => other.id !== mask.id)
      .map((other) => ({ value: `mask:${other.id}`, label: other.name, group: "The mask" })),
  ];
  const value = line.source.kind === "mask" ? `mask:${line.source.mask}` : `reading:${line.source.reading}`;
  const choose = async (next: string) => {
    const [kind, name = ""] = next.split(":");
    const reading = readings.find((item) => item.name === name);
    if (kind === "mask") await tell.commit({ ...line, source: { kind: "mask", mask: name } });
    else if (reading) await tell.commit({ ...line, source: firstBand(reading, undefined) });
  };
  const strength = (
    <>
      {" "}
      at{" "}
      <NumberToken
        label="Strength"
        value={Math.round(line.strength * 100)}
        unit="%"
        min={0}
        max={100}
        step={1}
        decimals={0}
        onPreview={(v) => tell.preview(v === null ? null : { ...line, strength: v / 100 })}
        onCommit={(v, key) => tell.commit({ ...line, strength: v / 100 }, key, "strength")}
      />
    </>
  );
  const token = (
    <ChoiceToken label="What is read" value={value} choices={choices} onChange={(next) => void choose(next)} />
  );
  if (line.source.kind === "mask")
    return (
      <span>
        <b>{VERBS[line.verb]}</b> the mask {token}
        {strength}
      </span>
    );
  return (
    <span>
      <b>{VERBS[line.verb]}</b> ground where {token} is <BandNumbers line={line} band={line.source} tell={tell} />
      {strength}
    </span>
  );
}

function BandNumbers({ line, band, tell }: { line: Combining; band: Band; tell: Tell }) {
  const readings = useReadings();
  const stats = useStats(`reading:${band.reading}`);
  const reading = readings.find((item) => item.name === band.reading);
  if (!reading) return null;
  const axis = axisOf(reading, stats.data, band);
  const span = axis.high - axis.low;
  const most =
    reading.kind === "slope" ? 90 : axis.log ? 1e9 : (reading.high ?? Math.max(Math.ceil(axis.high), band.high));
  const least = reading.wraps ? 0 : Math.min(Math.floor(axis.low), band.low);
  const step = axis.log
    ? Math.max(1, Math.round(band.low / 20))
    : span > 200
      ? 1
      : span > 20
        ? 0.5
        : Math.min(0.05, 10 ** Math.floor(Math.log10(Math.max(span, 1e-6) / 20)));
  const decimals = Math.max(2, Math.ceil(-Math.log10(step)));
  const token = (label: string, field: "low" | "high" | "fade_low" | "fade_high") => {
    const fade = field.startsWith("fade");
    const set = (v: number): Line => {
      const next = { ...band, [field]: v };
      // Directions go round: a band may run through north.
      if (reading.wraps) return { ...line, source: next };
      if (field === "low") next.high = Math.max(next.high, v);
      if (field === "high") next.low = Math.min(next.low, v);
      return { ...line, source: next };
    };
    return (
      <NumberToken
        label={label}
        value={band[field]}
        unit={fade && axis.log ? "doublings" : reading.unit}
        min={fade ? 0 : axis.log ? 1 : least}
        max={fade ? (axis.log ? 12 : Math.max(span, band[field])) : most}
        step={fade && axis.log ? 0.25 : step}
        decimals={decimals}
        onPreview={(v) => tell.preview(v === null ? null : set(v))}
        onCommit={(v, key) => tell.commit(set(v), key, field)}
      />
    );
  };
  const shape = (
    <ChoiceToken
      label="Shape of the fades"
      value={band.smooth ? "smooth" : "straight"}
      choices={[
        { value: "straight", label: "straight" },
        { value: "smooth", label: "smooth" },
      ]}
      onChange={(v) => void tell.commit({ ...line, source: { ...band, smooth: v === "smooth" } })}
    />
  );
  // A band that reaches the end of what there can be has one edge; its handle on the histogram brings the other back.
  if (band.high >= most && band.fade_high === 0 && !reading.wraps)
    return (
      <>
        {token("Lower edge", "low")} or {reading.kind === "slope" ? "steeper" : "more"}, fading in over{" "}
        {token("Lower fade", "fade_low")} in a {shape} fade,
      </>
    );
  return (
    <>
      {token("Lower edge", "low")} to {token("Upper edge", "high")}, fading in over {token("Lower fade", "fade_low")}{" "}
      and out over {token("Upper fade", "fade_high")} in a {shape} fade,
    </>
  );
}

interface HistogramProps {
  line: Combining;
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

function LevelsSentence({ line, tell }: { line: Extract<Line, { verb: "levels" }>; tell: Tell }) {
  type Field = "in_low" | "in_high" | "middle" | "out_low" | "out_high";
  const token = (label: string, field: Field, min = 0, max = 1) => (
    <NumberToken
      label={label}
      value={line[field]}
      unit=""
      min={min}
      max={max}
      step={0.01}
      onPreview={(v) => tell.preview(v === null ? null : { ...line, [field]: v })}
      onCommit={(v, key) => tell.commit({ ...line, [field]: v }, key, field)}
    />
  );
  return (
    <span>
      <b>Levels</b> from {token("Darkest input", "in_low")} to {token("Brightest input", "in_high")}, middle{" "}
      {token("Middle", "middle", 0.1, 5)}, onto {token("Darkest output", "out_low")} to{" "}
      {token("Brightest output", "out_high")}
    </span>
  );
}

function LineMenu({ mask, line, index }: { mask: Mask; line: Line; index: number }) {
  const edit = useDocument((store) => store.edit);
  const move = (to: number) => void edit([{ op: "move_line", mask: mask.id, line: line.id, to }]);
  const mute = () => edit([{ op: "set_line", mask: mask.id, line: { ...line, muted: !line.muted } }]);
  return (
    <Box sx={{ display: "flex", flexShrink: 0 }} onClick={(event) => event.stopPropagation()}>
      <Tooltip title={line.muted ? "Muted: does nothing. Click to use it again." : "Mute this line"}>
        <IconButton
          size="small"
          aria-label={line.muted ? "Unmute this line" : "Mute this line"}
          aria-pressed={line.muted}
          onClick={() => void mute()}
        >
          {line.muted ? <VisibilityOffIcon sx={{ fontSize: 17 }} /> : <VisibilityIcon sx={{ fontSize: 17 }} />}
        </IconButton>
      </Tooltip>
      <MoreMenu
        label={`More for line ${index + 1}`}
        actions={[
          { label: "Move up", act: () => move(index - 1), off: index === 0 },
          { label: "Move down", act: () => move(index + 1), off: index === mask.lines.length - 1 },
          {
            label: "Copy below",
            act: () =>
              void edit([{ op: "add_line", mask: mask.id, line: { ...line, id: newId("line") }, at: index + 1 }]),
          },
          {
            label: "Delete",
            act: () => void edit([{ op: "delete_line", mask: mask.id, line: line.id }]),
            danger: true,
          },
        ]}
      />
    </Box>
  );
}
