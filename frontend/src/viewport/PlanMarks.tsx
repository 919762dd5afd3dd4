import { Box } from "@mui/material";
import { memo } from "react";
import { useReadings } from "../document/queries";
import { sourceTitle } from "../document/sourceTitle";
import { useProject } from "../document/document";
import { useViewParts } from "./view";
import type { Subject } from "./subjects/subject";
import { onMap, roles } from "../kit/theme";
import type { Picture } from "./imaging";
import type { Rect } from "./plan";

/** What each of several panels shows, in its corner. */
export function PanelTitles({ picture, rects, subject }: { picture: Picture; rects: Rect[]; subject: Subject }) {
  return picture.panels.map((panel, i) => (
    <Box
      key={panel.title}
      sx={{
        position: "absolute",
        left: (rects[i]?.x ?? 0) + 8,
        top: (rects[i]?.y ?? 0) + (i < 2 ? 34 : 8),
        px: 1,
        py: 0.4,
        borderRadius: 1,
        bgcolor: onMap.veil,
        color: onMap.light,
        fontSize: 12.5,
        pointerEvents: "none",
      }}
    >
      {panel.subject ? panel.title : <PanelTitle subject={subject} letter={panel.title} />}
    </Box>
  ));
}

function PanelTitle({ subject, letter }: { subject: Subject; letter: string }) {
  const state = useProject();
  const readings = useReadings();
  if (subject.kind !== "sheet") return <b>{letter}</b>;
  const sheet = state.document.sheets.find((item) => item.id === subject.id);
  const source = sheet?.[letter.toLowerCase() as "r" | "g" | "b" | "a"];
  return (
    <>
      <b>{letter}</b> · {source ? sourceTitle(source, state.document, readings) : "empty"}
    </>
  );
}

/** Where before ends and after begins, without dragging. */
export function WipeSlider() {
  const { wipe, set } = useViewParts("wipe", "set");
  return (
    <input
      type="range"
      aria-label="Where before ends and after begins"
      min={0}
      max={100}
      value={Math.round(wipe * 100)}
      onChange={(event) => set({ wipe: Number(event.target.value) / 100 })}
      style={{ position: "absolute", bottom: 8, left: "30%", width: "40%", accentColor: roles.gentian }}
    />
  );
}

export const NorthMark = memo(function NorthMark() {
  return (
    <Box
      role="img"
      aria-label="North is up"
      sx={{
        position: "absolute",
        right: 12,
        top: 108,
        width: 30,
        py: 0.6,
        borderRadius: 1.5,
        bgcolor: onMap.veil,
        color: onMap.light,
        textAlign: "center",
        fontSize: 11,
        lineHeight: 1,
        pointerEvents: "none",
      }}
    >
      <svg width="14" height="18" viewBox="0 0 14 20" aria-hidden>
        <path d="M7 1l5 13-5-3-5 3z" fill={onMap.light} />
      </svg>
      <div>N</div>
    </Box>
  );
});
