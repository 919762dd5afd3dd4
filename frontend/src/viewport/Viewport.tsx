import { Box, Button, LinearProgress } from "@mui/material";
import { lazy, memo, Suspense, useEffect, useState, useSyncExternalStore } from "react";
import { whenBack } from "../api/alive";
import { useStats, useReadings } from "../document/queries";
import { previews } from "./preview";
import { useReplacing } from "../document/replacing";
import { useTools } from "./tools";
import { useProject } from "../document/document";
import { type Mode, useViewParts } from "./view";
import type { Subject } from "./subjects/subject";
import { useComparison } from "./comparison";
import { HeldStrip } from "./HeldStrip";
import { PictureMaker } from "./pictures";
import { PlanView } from "./PlanView";
import { ProfilePanel } from "./ProfilePanel";
import { PinnedInset } from "./PinnedInset";
import { useLook } from "./useLook";
import { exists, title, kindOf } from "./subjects/register";
import { ViewBar } from "./ViewBar";
import { Working } from "./Working";
import { onMap, roles, SURROUND } from "../kit/theme";

const ReliefView = lazy(() => import("./ReliefView").then((module) => ({ default: module.ReliefView })));

/** `notices`: what is said over the view of the files it is made from. */
export function Viewport({ notices }: { notices?: React.ReactNode }) {
  const state = useProject();
  const readings = useReadings();
  const { mode, subject, compare, held, profile, shore } = useViewParts(
    "mode",
    "subject",
    "compare",
    "held",
    "profile",
    "shore",
  );
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

  useEffect(() => whenBack(() => maker.again()), [maker]);

  const many = (picture.picture?.panels.length ?? 1) > 1;
  // Side by side, reliefs stand next to each other as plans do; wiped they cannot be.
  const reliefs = together && compare === "beside" && mode === "relief" ? together.each : null;
  const shown: Mode = many && !reliefs ? "plan" : mode;
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
      <ViewBar shown={shown} />
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
        {!together && <ViewLabel of={own.of} />}
        {notices}
        <PinnedInset />
        <ToolHint />
        <Working waiting={picture.updating} draft={picture.draft} coarser={picture.coarser} />
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
const ToolHint = memo(function ToolHint() {
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
});

/** What the picture shows, by name and number; what was asked for and is not there yet is named beside it. */
const ViewLabel = memo(function ViewLabel({ of }: { of: Subject | null }) {
  const state = useProject();
  const readings = useReadings();
  const { subject: wanted, written: asked } = useViewParts("subject", "written");
  const coming = of !== null && JSON.stringify(of) !== JSON.stringify(wanted);
  const subject = coming && exists(of, state) ? of : wanted;
  const written = coming ? null : asked;
  const name = kindOf(subject).coverage?.(subject) ?? null;
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
      {coming && (
        <Box component="span" sx={{ opacity: 0.85 }}>
          {" "}
          · {title(wanted, state, readings, backdrop)[0]} is coming
        </Box>
      )}
    </Box>
  );
});
