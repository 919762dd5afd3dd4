import { useMemo } from "react";
import { useProject } from "../document/document";
import { useTools } from "./tools";
import { useViewParts } from "./view";
import type { Subject } from "./subjects/subject";
import { FinalPanel } from "./FinalPanel";
import { Corner } from "./Corner";
import type { Picture } from "./imaging";
import { takingPart } from "../document/outcomes";
import { panelRects, scale, type Rect } from "./plan";
import { NorthMark, PanelTitles, WipeSlider } from "./PlanMarks";
import { PictureFrame } from "./PictureFrame";
import { PlanTools } from "./PlanTools";
import { Probe } from "./Probe";
import { ScaleBar } from "./ScaleBar";
import { ScatterDots } from "./ScatterDots";
import { ToolShapes } from "./ToolShapes";
import { usePlanHand } from "./usePlanHand";
import { usePlanPaint } from "./usePlanPaint";
import { ZoomButtons } from "./ZoomButtons";
import { placeOf } from "./places";

interface PlanViewProps {
  picture: Picture | null;
  subject: Subject;
}

export function PlanView({ picture, subject }: PlanViewProps) {
  const state = useProject();
  const { home, view } = state;
  const { camera, final } = useViewParts("camera", "final");
  const panels = picture?.panels.length ?? 1;
  const { canvas, size, near } = usePlanPaint(picture, subject);
  const { point, onGround, anywhere, handlers } = usePlanHand(canvas, panels, picture?.before != null);

  const rects = useMemo(() => panelRects(panels, size.width, size.height), [panels, size]);
  const spotOf = (rect: Rect, east: number, south: number) => {
    const s = scale(rect, view, camera);
    return {
      x: rect.x + rect.width / 2 + (east - camera.x * view.width) * s,
      y: rect.y + rect.height / 2 + (south - camera.y * view.length) * s,
    };
  };
  const compared = picture?.panels.every((panel) => panel.subject)
    ? picture.panels.flatMap((panel) => panel.subject ?? [])
    : null;
  const [first] = rects;
  const pointed = point && placeOf(home, point.row, point.col);
  const aligning = useTools((tools) => tools.aligning);
  const framed = state.readings.find((item) => item.name === aligning && subjectOf(subject) === item.name);
  return (
    <>
      <canvas
        ref={canvas}
        tabIndex={0}
        aria-label="Plan of the ground. Arrow keys move, plus and minus zoom."
        data-testid="plan"
        style={{ width: "100%", height: "100%", display: "block", cursor: "crosshair", touchAction: "none" }}
        {...handlers}
      />
      {panels > 1 && picture && <PanelTitles picture={picture} rects={rects} subject={subject} />}
      {picture?.before && <WipeSlider />}
      <Corner picture={picture} keys={subject.kind === "strongest" && panels === 1 ? takingPart(state.document) : null}>
        <ScaleBar pixelsPerMetre={first ? scale(first, view, camera) : 0} />
      </Corner>
      {final && <FinalPanel near={near} />}
      <ZoomButtons />
      <NorthMark />
      {first && (
        <>
          {framed && (
            <PictureFrame reading={framed} at={(east, south) => spotOf(first, east, south)} place={anywhere} />
          )}
          <ScatterDots subject={subject} rect={first} view={view} camera={camera} />
          <ToolShapes
            at={(east, south) => spotOf(first, east, south)}
            place={onGround}
            pixels={scale(first, view, camera)}
            pointer={pointed && spotOf(first, pointed.east, pointed.south)}
            middle={{ x: first.x + first.width / 2, y: first.y + first.height / 2 }}
          />
        </>
      )}
      <PlanTools rects={rects} camera={camera} mark={point} />
      <Probe point={point} subjects={compared ?? [subject]} />
    </>
  );
}

/** The reading that is looked at. */
function subjectOf(subject: Subject): string | null {
  return subject.kind === "reading" || subject.kind === "picture" ? subject.name : null;
}
