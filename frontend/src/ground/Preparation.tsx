import { Box, Button, IconButton, Menu, MenuItem, Tooltip, Typography } from "@mui/material";
import ArrowDownIcon from "@mui/icons-material/KeyboardArrowDown";
import ArrowUpIcon from "@mui/icons-material/KeyboardArrowUp";
import HideIcon from "@mui/icons-material/VisibilityOffOutlined";
import ShowIcon from "@mui/icons-material/VisibilityOutlined";
import { useState } from "react";
import type { Diagnosis, Step, StepKind } from "../api/types";
import { Heading, Piece } from "../parts/Card";
import { MoreMenu } from "../parts/MoreMenu";
import { newId, useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { PlainHistogram } from "../readings/PlainHistogram";
import { useStats } from "../api/queries";
import { trim } from "../viewport/subjects";
import { freshStep, STEP_TITLES, STEP_WORDS, WHOLE_STEPS } from "./steps";
import { StepSentence } from "./StepSentence";
import { StepWhere } from "./StepWhere";

/** What is done to the ground before anything is measured on it, in order. */
export function Preparation({ diagnosis }: { diagnosis: Diagnosis | undefined }) {
  const { document, home } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const steps = document.ground.steps ?? [];
  const add = (kind: StepKind) => {
    setAnchor(null);
    if (kind === "crop") {
      const inset = { west: home.width / 8, north: home.length / 8 };
      set({ cropping: { ...inset, width: home.width * 0.75, length: home.length * 0.75 } });
      return;
    }
    void edit([{ op: "add_step", step: freshStep(kind, newId("step"), { ...home, low: diagnosis?.low ?? 0 }) }]);
  };
  return (
    <>
      <Heading aside="in this order">Preparation</Heading>
      {steps.map((step, index) => (
        <StepPiece key={step.id} step={step} index={index} count={steps.length} diagnosis={diagnosis} />
      ))}
      <CropPiece />
      <Button
        fullWidth
        variant="outlined"
        color="inherit"
        sx={{ borderStyle: "dashed", justifyContent: "flex-start" }}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        + Then…
      </Button>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true } }}
      >
        {(Object.keys(STEP_TITLES) as StepKind[]).map((kind) => (
          <MenuItem key={kind} onClick={() => add(kind)}>
            <Typography variant="body2">
              <b>{STEP_TITLES[kind]}</b>{" "}
              <Box component="span" sx={{ color: "text.secondary" }}>
                {STEP_WORDS[kind]}
              </Box>
            </Typography>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

interface StepPieceProps {
  step: Step;
  index: number;
  count: number;
  diagnosis: Diagnosis | undefined;
}

function StepPiece({ step, index, count, diagnosis }: StepPieceProps) {
  const edit = useDocument((store) => store.edit);
  const { subject, show } = useView();
  const move = (to: number) => void edit([{ op: "move_step", step: step.id, to }]);
  const effect = diagnosis?.steps.find((item) => item.id === step.id);
  const before = subject.kind === "ground" && subject.style === "wipe" && subject.steps === index;
  const tiny = { width: 26, height: 26 };
  return (
    <Piece chosen={before} data-testid={`step-${step.kind}`}>
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
          label={`More for ${STEP_TITLES[step.kind]}`}
          actions={[
            {
              label: "Before | after this step and those that follow",
              off: step.kind === "crop" || step.kind === "turn",
              act: () => show({ kind: "ground", style: "wipe", steps: index }),
            },
            { label: "Delete", danger: true, act: () => void edit([{ op: "delete_step", step: step.id }]) },
          ]}
        />
      </Box>
      <Box sx={{ fontSize: 13.5, lineHeight: 1.9, opacity: step.muted ? 0.55 : 1 }}>
        <StepSentence step={step} />
      </Box>
      {!WHOLE_STEPS.includes(step.kind) && <StepWhere step={step} index={index} />}
      {step.kind === "un_terrace" && !step.muted && <SlopeSpread index={index} />}
      {effect && !step.muted && (
        <Typography variant="caption" color="textSecondary" component="div">
          {trim(effect.cols)} × {trim(effect.rows)}, {trim(effect.low, 1)} to {trim(effect.high, 1)} m
          {step.kind === "slump" && typeof effect.rests_at === "number" && restWords(effect.rests_at, step.angle ?? 38)}
          {Math.abs(effect.stretched_before - effect.stretched_after) > 0.0005 &&
            ` · texture stretch above 2×: ${percent(effect.stretched_before)} before, ${percent(effect.stretched_after)} after`}
        </Typography>
      )}
    </Piece>
  );
}

/** Whether slumped ground lies still: faces far from rest are left where it would take very long. */
function restWords(steepest: number, asked: number): string {
  const still = steepest <= asked + 0.3;
  return ` · ${still ? "at rest" : "not all at rest"}: steepest face ${trim(steepest, 1)}°`;
}

/** How slopes are spread before (line) and after (bars) stairs were taken out: their spikes go, cliffs stay. */
function SlopeSpread({ index }: { index: number }) {
  const before = useStats(`at:${index}:slope`);
  const after = useStats(`at:${index + 1}:slope`);
  if (!before.data || !after.data) return null;
  const most = Math.max(...before.data.counts, 1e-9);
  return (
    <>
      <PlainHistogram
        stats={after.data}
        label="Slopes before (line) and after (bars)"
        above={before.data.counts.map((count) => Math.sqrt(count / most))}
      />
      <Typography variant="caption" color="textSecondary" component="div">
        Slopes after; the line is before.
      </Typography>
    </>
  );
}

function percent(share: number): string {
  return `${(share * 100).toFixed(1)} %`;
}

/** A crop while its frame is being dragged on the plan. */
function CropPiece() {
  const edit = useDocument((store) => store.edit);
  const { cropping, set } = useView();
  const { home } = useProject();
  if (!cropping) return null;
  const take = async () => {
    const part = {
      west: Math.max(cropping.west, 0),
      north: Math.max(cropping.north, 0),
      width: Math.max(cropping.width, home.spacing_x),
      length: Math.max(cropping.length, home.spacing_y),
    };
    if (await edit([{ op: "add_step", step: { id: newId("step"), muted: false, where: [], kind: "crop", ...part } }]))
      set({ cropping: null });
  };
  return (
    <Piece chosen>
      <Typography variant="body2">
        Drag the corners on the plan: {trim(cropping.width, 0)} × {trim(cropping.length, 0)} m,{" "}
        {Math.round(cropping.width / home.spacing_x) + 1} × {Math.round(cropping.length / home.spacing_y) + 1} samples.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button variant="contained" size="small" onClick={() => void take()}>
          Crop to this
        </Button>
        <Button size="small" color="inherit" onClick={() => set({ cropping: null })}>
          Leave it
        </Button>
      </Box>
    </Piece>
  );
}
