import { Box, Button, ButtonBase, IconButton, LinearProgress, Slider, Tooltip } from "@mui/material";
import WaterIcon from "@mui/icons-material/WaterOutlined";
import { lazy, Suspense, useEffect, useState, useSyncExternalStore } from "react";
import { useStats, useReadings } from "../api/queries";
import { previews } from "../state/preview";
import { WatchNotice } from "../ground/WatchInset";
import { useReplacing } from "../state/replacing";
import { useTools } from "../state/tools";
import { useProject } from "../state/document";
import { useView, type Mode } from "../state/view";
import { Segments } from "../parts/Segments";
import { ChoiceToken } from "../parts/ChoiceToken";
import { useComparison } from "./comparison";
import { HeldStrip } from "./HeldStrip";
import { PictureMaker } from "./pictures";
import { PlanView } from "./PlanView";
import { ProfilePanel } from "./ProfilePanel";
import type { Palette } from "./ramps";
import { LaidOn } from "./LaidOn";
import { PinnedInset } from "./PinnedInset";
import { SubjectChoices } from "./SubjectChoices";
import { useLook } from "./useLook";
import { title } from "./subjects";
import { Working } from "./Working";
import { onMap, roles, SURROUND, TINTS } from "../theme";

const ReliefView = lazy(() => import("./ReliefView").then((module) => ({ default: module.ReliefView })));

const MODES: { value: Mode; label: string }[] = [
  { value: "plan", label: "Plan" },
  { value: "relief", label: "Relief" },
  { value: "both", label: "Both" },
];

export function Viewport() {
  const state = useProject();
  const readings = useReadings();
  const { mode, subject, tint, water, palette, compare, held, profile, shore, set, hold } = useView();
  const look = useLook();
  const begin = useReplacing((store) => store.begin);
  const [maker] = useState(() => new PictureMaker());
  const own = useSyncExternalStore(maker.subscribe, maker.snapshot);
  const together = useComparison(compare === "off" ? [] : [subject, ...held]);
  const picture = together ?? own;

  useEffect(() => {
    const stop = new AbortController();
    maker.want({ state, subject, readings, options: { ...look, shore }, signal: stop.signal });
    return () => stop.abort();
  }, [maker, state, subject, readings, look, shore]);

  const many = (picture.picture?.panels.length ?? 1) > 1;
  // Side by side, reliefs stand next to each other as plans do; wiped they cannot be.
  const reliefs = together && compare === "beside" && mode === "relief" ? together.each : null;
  const shown: Mode = many && !reliefs ? "plan" : mode;
  const overlay =
    (subject.kind === "mask" && (subject.style === "over" || subject.style === "wipe")) ||
    subject.kind === "band" ||
    subject.kind === "acts" ||
    (subject.kind === "picture" && subject.style === "over") ||
    subject.kind === "weight";
  const painted =
    ["ground", "final", "together", "scatter", "weight"].includes(subject.kind) ||
    overlay ||
    (subject.kind === "layers" && subject.over);
  const wet = painted && typeof state.document.ground.water === "number";

  return (
    <Box
      component="section"
      aria-label="View"
      onDragOver={(event: React.DragEvent) => {
        if (event.dataTransfer.types.includes("Files")) event.preventDefault();
      }}
      onDrop={(event: React.DragEvent) => {
        const files = [...event.dataTransfer.files];
        if (files.length === 0) return;
        event.preventDefault();
        begin({ kind: "files", files });
      }}
      sx={{
        display: "grid",
        gridTemplateRows: profile ? "44px 1fr auto auto" : "44px 1fr auto",
        minWidth: 0,
        minHeight: 0,
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 1, px: 1.5, minWidth: 0 }}>
        <Segments label="View" options={MODES} value={shown} onChange={(value) => set({ mode: value })} />
        <SubjectChoices />
        {subject.kind === "reading" && (
          <ChoiceToken
            label="Colours of readings"
            value={palette}
            choices={[
              { value: "own", label: "own colours" },
              { value: "safe", label: "for all eyes" },
              { value: "grey", label: "grey" },
            ]}
            onChange={(value) => set({ palette: value as Palette })}
          />
        )}
        <Box sx={{ flex: 1 }} />
        <LaidOn />
        {overlay && (
          <Tooltip title="The colour and strength in which the mask is laid over">
            <Box sx={{ display: "flex", alignItems: "center", gap: 0.8, width: 100 }}>
              <TintButton />
              <Slider
                size="small"
                color="secondary"
                aria-label="Tint strength"
                value={Math.round(tint * 100)}
                min={10}
                max={100}
                onChange={(_, value) => set({ tint: (value as number) / 100 })}
              />
            </Box>
          </Tooltip>
        )}
        {wet && (
          <Tooltip title={water ? "Hide the water" : "Show the water"}>
            <IconButton
              size="small"
              aria-label="Water"
              aria-pressed={water}
              color={water ? "secondary" : "default"}
              onClick={() => set({ water: !water })}
            >
              <WaterIcon fontSize="small" />
            </IconButton>
          </Tooltip>
        )}
        <Tooltip title="Keep this view on the strip below">
          <Button variant="outlined" color="inherit" onClick={hold} sx={{ whiteSpace: "nowrap" }}>
            Hold
            <Box component="kbd" sx={{ ml: 0.75, fontFamily: "inherit", color: "text.secondary" }}>
              H
            </Box>
          </Button>
        </Tooltip>
      </Box>
      <Box sx={{ position: "relative", minHeight: 0, bgcolor: SURROUND, display: "flex" }}>
        {shown !== "relief" && (
          <Box sx={{ flex: 1, position: "relative", minWidth: 0 }}>
            <PlanView picture={picture.picture} subject={subject} />
          </Box>
        )}
        {reliefs && (
          <Box
            sx={{
              flex: 1,
              display: "grid",
              gridTemplateColumns: reliefs.length > 1 ? "1fr 1fr" : "1fr",
              gridAutoRows: "1fr",
              gap: "2px",
              minWidth: 0,
              minHeight: 0,
            }}
          >
            <Suspense fallback={<LinearProgress />}>
              {reliefs.map((one, i) => (
                <Box key={JSON.stringify(one.subject)} sx={{ position: "relative", minWidth: 0, minHeight: 0 }}>
                  <ReliefView
                    picture={one.picture}
                    subject={one.subject}
                    title={one.title}
                    controls={i === reliefs.length - 1}
                  />
                </Box>
              ))}
            </Suspense>
          </Box>
        )}
        {shown !== "plan" && !reliefs && (
          <Box
            sx={{
              flex: 1,
              position: "relative",
              minWidth: 0,
              borderLeft: shown === "both" ? `1px solid ${onMap.dark}` : 0,
            }}
          >
            <Suspense fallback={<LinearProgress />}>
              <ReliefView picture={picture.picture} subject={subject} />
            </Suspense>
          </Box>
        )}
        {!together && <ViewLabel />}
        <WatchNotice />
        <PinnedInset />
        <ToolHint />
        <Working waiting={picture.updating} draft={picture.draft} />
        {picture.updating && (
          <LinearProgress
            aria-label="Computing the map"
            color="secondary"
            sx={{ position: "absolute", top: 0, left: 0, right: 0, height: 3 }}
          />
        )}
        {picture.trouble && (
          <Box
            role="alert"
            sx={{
              position: "absolute",
              inset: "auto 12px 12px 12px",
              bgcolor: "background.paper",
              p: 1.5,
              borderRadius: 2,
              color: "error.main",
            }}
          >
            {picture.trouble}{" "}
            <Button size="small" onClick={() => maker.again()}>
              Run it again
            </Button>
          </Box>
        )}
      </Box>
      {profile && <ProfilePanel />}
      <HeldStrip />
    </Box>
  );
}

/** What the tool in the hand waits for. */
function ToolHint() {
  const tool = useTools((tools) => tools.tool);
  if (tool?.kind !== "point" && tool?.kind !== "stretch") return null;
  return (
    <Box
      role="status"
      sx={{
        position: "absolute",
        top: 10,
        left: "50%",
        transform: "translateX(-50%)",
        px: 1.4,
        py: 0.6,
        borderRadius: 1.2,
        bgcolor: roles.gentian,
        color: onMap.light,
        fontSize: 13,
        pointerEvents: "none",
      }}
    >
      {tool.title}. Escape leaves it.
    </Box>
  );
}

/** The colour of masks: the next one with every click. */
function TintButton() {
  const { tintColour, set } = useView();
  const at = TINTS.findIndex((item) => item.value === tintColour);
  const next = TINTS[(at + 1) % TINTS.length] ?? TINTS[0];
  return (
    <ButtonBase
      aria-label={`Tint colour: ${TINTS[at]?.label ?? "own"}. Click for ${next?.label ?? "another"}.`}
      onClick={() => next && set({ tintColour: next.value })}
      sx={{
        width: 24,
        height: 24,
        flexShrink: 0,
        borderRadius: 1,
        bgcolor: tintColour,
        border: `2px solid ${onMap.light}`,
        outline: `1px solid ${roles.rule}`,
        "&:focus-visible": { outline: `2px solid ${onMap.dark}` },
      }}
    />
  );
}

function ViewLabel() {
  const state = useProject();
  const readings = useReadings();
  const { subject, written } = useView();
  const name =
    subject.kind === "mask"
      ? `mask:${subject.id}`
      : subject.kind === "band"
        ? `band:${subject.mask}:${subject.band}`
        : subject.kind === "weight" && subject.style !== "wipe"
          ? `${subject.style === "before" ? "strength" : "weight"}:${subject.id}`
          : null;
  const stats = useStats(name);
  const live = useSyncExternalStore(
    (changed) => previews.listen(changed),
    () => (previews.current?.name === name ? previews.current : null),
  );
  const { backdrop } = useLook();
  const [first, rest] = written ? [written.name, written.how] : title(subject, state, readings, backdrop);
  // While the hand moves it is counted on fewer samples, and of a part in view not at all.
  const mean = live ? live.mean : (stats.data?.mean ?? null);
  return (
    <Box
      sx={{
        position: "absolute",
        top: 10,
        left: 12,
        px: 1.2,
        py: 0.6,
        borderRadius: 1.2,
        color: onMap.light,
        bgcolor: onMap.veil,
        fontSize: 13,
        pointerEvents: "none",
        maxWidth: "calc(100% - 88px)",
      }}
      data-testid="view-label"
    >
      <b>{first}</b> {rest && `· ${rest}`}
      {name &&
        !written &&
        mean !== null &&
        ` · covers ${live?.moving ? "about " : ""}${(mean * 100).toFixed(mean < 0.1 ? 1 : 0)} %`}
    </Box>
  );
}
