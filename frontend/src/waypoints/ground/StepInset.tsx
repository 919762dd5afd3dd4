import { named } from "../../api/mapNames";
import { Box, IconButton, Tooltip, Typography } from "@mui/material";
import ArrowDownIcon from "@mui/icons-material/KeyboardArrowDown";
import ArrowUpIcon from "@mui/icons-material/KeyboardArrowUp";
import HideIcon from "@mui/icons-material/VisibilityOffOutlined";
import ShowIcon from "@mui/icons-material/VisibilityOutlined";
import { useStats, useStepKinds } from "../../document/queries";
import type { Diagnosis, Step } from "../../api/types";
import { Inset } from "../../kit/Card";
import { MoreMenu } from "../../kit/MoreMenu";
import { percent } from "../../kit/percent";
import { PlainHistogram } from "../recipe/PlainHistogram";
import { useDocument, useProject } from "../../document/document";
import { useView, useViewParts } from "../../viewport/view";
import { trim } from "../../kit/numbers";
import { StepAmount } from "./StepAmount";
import { StepSentence } from "./StepSentence";
import { StepWhere } from "./StepWhere";

interface StepInsetProps {
  step: Step;
  index: number;
  count: number;
  diagnosis: Diagnosis | undefined;
}

/** One step of preparation: its sentence, where it acts, and what it did. */
export function StepInset({ step, index, count, diagnosis }: StepInsetProps) {
  const { subject } = useViewParts("subject");
  const kind = useStepKinds().find((item) => item.kind === step.kind);
  const effect = diagnosis?.steps.find((item) => item.id === step.id);
  const before = subject.kind === "ground" && subject.style === "wipe" && subject.steps === index;
  return (
    <Inset chosen={before} data-testid={`step-${step.kind}`}>
      <StepButtons step={step} index={index} count={count} />
      <Box sx={{ fontSize: 13.5, lineHeight: 1.9, opacity: step.muted ? 0.55 : 1 }}>
        <StepSentence step={step} index={index} />
        {kind?.graded && <StepAmount step={step} />}
      </Box>
      {kind && !kind.makes_grid && <StepWhere step={step} index={index} />}
      {kind?.shows && !step.muted && <Spread index={index} reading={kind.shows} />}
      {effect && !step.muted && <Effect effect={effect} />}
    </Inset>
  );
}

function StepButtons({ step, index, count }: Omit<StepInsetProps, "diagnosis">) {
  const edit = useDocument((store) => store.edit);
  const show = useView((view) => view.show);
  const kind = useStepKinds().find((item) => item.kind === step.kind);
  const move = (to: number) => void edit([{ op: "move_step", step: step.id, to }]);
  const tiny = { width: 26, height: 26 };
  return (
    <Box sx={{ float: "right", display: "flex", ml: 0.5 }}>
      <IconButton sx={tiny} aria-label="Earlier" disabled={index === 0} onClick={() => move(index - 1)}>
        <ArrowUpIcon sx={{ fontSize: 17 }} />
      </IconButton>
      <IconButton sx={tiny} aria-label="Later" disabled={index === count - 1} onClick={() => move(index + 1)}>
        <ArrowDownIcon sx={{ fontSize: 17 }} />
      </IconButton>
      <Tooltip title={step.muted ? "Take part again" : "Leave out for now"}>
        <IconButton
          sx={tiny}
          aria-label="Mute this step"
          aria-pressed={step.muted ?? false}
          onClick={() => void edit([{ op: "set_step", step: { ...step, muted: !step.muted } }])}
        >
          {step.muted ? <HideIcon sx={{ fontSize: 16 }} /> : <ShowIcon sx={{ fontSize: 16 }} />}
        </IconButton>
      </Tooltip>
      <MoreMenu
        label={`More for ${kind?.title ?? step.kind}`}
        actions={[
          {
            label: "Before | after this step and those that follow",
            off: kind?.moves ?? false,
            act: () => show({ kind: "ground", style: "wipe", steps: index }),
          },
          { label: "Delete", danger: true, act: () => void edit([{ op: "delete_step", step: step.id }]) },
        ]}
      />
    </Box>
  );
}

function Effect({ effect }: { effect: Diagnosis["steps"][number] }) {
  return (
    <Typography variant="caption" color="textSecondary" component="div">
      {trim(effect.cols)} × {trim(effect.rows)}, {trim(effect.low, 1)} to {trim(effect.high, 1)} m
      {effect.says && ` · ${effect.says}`}
      {Math.abs(effect.stretched_before - effect.stretched_after) > 0.0005 &&
        ` · texture stretch above 2×: ${percent(effect.stretched_before, 1)} before, ${percent(effect.stretched_after, 1)} after`}
    </Typography>
  );
}

/** How a reading is spread before (line) and after (bars) a step: the spikes of stairs go, cliffs stay. */
function Spread({ index, reading }: { index: number; reading: string }) {
  const title = useProject().readings.find((item) => item.name === reading)?.title ?? reading;
  const before = useStats(named.at(index, reading));
  const after = useStats(named.at(index + 1, reading));
  if (!before.data || !after.data) return null;
  const most = Math.max(...before.data.counts, 1e-9);
  return (
    <>
      <PlainHistogram
        stats={after.data}
        label={`${title} before (line) and after (bars)`}
        above={before.data.counts.map((count) => Math.sqrt(count / most))}
      />
      <Typography variant="caption" color="textSecondary" component="div">
        {title} after; the line is before.
      </Typography>
    </>
  );
}
