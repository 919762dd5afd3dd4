import type { MapText } from "../api/mapNames";
import { useEffect, useEffectEvent, useRef, useState } from "react";
import { useReadings } from "../document/queries";
import { useProject } from "../document/document";
import type { GridInfo } from "../api/types";
import { previews, type Seen } from "./preview";
import { useViewParts } from "./view";
import type { Subject } from "./subjects/subject";
import { SURROUND } from "../kit/theme";
import type { Picture } from "./imaging";
import { mapStore, PictureMaker } from "./pictures";
import { panelRects, PlanPainter, seenOf } from "./plan";
import { canBeSeen, isNear, windowOf, type Window } from "./planWindow";
import { useLook } from "./useLook";

interface Detail {
  maker: PictureMaker;
  painter: PlanPainter;
  rect: Window;
  /** The grid that the rectangle counts the samples of: another one may be shown by the time it is painted over. */
  grid: GridInfo;
}

const RESTS_MS = 160;

/** The plan's canvas and its size. A picture is painted on it, and single samples of a ground that is larger than its
 * overview: those are fetched for the window in view once it rests. */
export function usePlanPaint(picture: Picture | null, subject: Subject) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const state = useProject();
  const readings = useReadings();
  const { camera, wipe, compare, final, mode } = useViewParts("camera", "wipe", "compare", "final", "mode");
  const look = useLook();
  const { view } = state;
  /** The grid whose single samples are shown. */
  const fine = final ? state.final : state.home;
  const panels = picture?.panels.length ?? 1;
  const painter = useRef(new PlanPainter());
  const detail = useRef<Detail | null>(null);

  const draw = useEffectEvent(() => {
    if (!canvas.current || !picture) return;
    painter.current.take(picture);
    // What is seen of saved samples must not hide what moves.
    const near = previews.current ? null : detail.current;
    painter.current.draw(canvas.current, view, camera, wipe, SURROUND, near, near?.grid ?? fine);
    canvas.current.dataset.painted = String(Number(canvas.current.dataset.painted ?? 0) + 1);
  });
  // Paint in the same task as the picture arrives: a dragged slider must not wait for another frame.
  useEffect(() => draw(), [picture, camera, wipe, size, view]);

  const seen = useEffectEvent((): Seen | null => {
    const rect = panelRects(panels, size.width, size.height)[0];
    // Beside each other or wiped, all have the same samples.
    return rect && panels === 1 && compare === "off" && mode !== "relief" ? seenOf(rect, view, camera, mode) : null;
  });
  useEffect(() => previews.seenThrough(() => seen()), []);

  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);

  useEffect(() => {
    const rect = panelRects(panels, size.width, size.height)[0];
    const coarse = final || fine.cols > view.cols || fine.rows > view.rows;
    if (!rect || !coarse || !canBeSeen(rect, view, camera, fine)) {
      // What was shown of a finer grid does not stay when that one is no longer looked at.
      if (detail.current) {
        detail.current = null;
        draw();
      }
      return;
    }
    let end: () => void = () => undefined;
    const stop = new AbortController();
    const timer = setTimeout(() => {
      const part = windowOf(rect, view, camera, fine);
      if (!part || subject.kind === "fit" || compare !== "off") return;
      const maker = new PictureMaker();
      const made: Detail = { maker, painter: new PlanPainter(), rect: part, grid: fine };
      end = maker.subscribe(() => {
        const picture = maker.state.picture;
        if (!picture || maker.state.updating) return;
        made.painter.take(picture);
        detail.current = made;
        draw();
      });
      const window = `${part.row0},${part.row1},${part.col0},${part.col1}`;
      const overview = { state, subject, readings, options: look };
      const whole = (name: MapText) => mapStore.get(overview, name);
      maker.want({ ...overview, options: { ...overview.options, whole }, window, final, signal: stop.signal });
    }, RESTS_MS);
    return () => {
      clearTimeout(timer);
      end();
      stop.abort();
    };
  }, [camera, fine, final, view, panels, size, state, subject, readings, look, compare]);
  return { canvas, size, near: isNear(panelRects(panels, size.width, size.height)[0], view, camera, fine) };
}
