import { useEffect, useEffectEvent, useRef, useState } from "react";
import { useReadings } from "../api/queries";
import { useProject } from "../state/document";
import { useView, type Subject } from "../state/view";
import { SURROUND } from "../theme";
import type { Picture } from "./paint";
import { mapStore, PictureMaker } from "./pictures";
import { panelRects, PlanPainter, scale } from "./plan";
import { useLook } from "./useLook";

interface Detail {
  maker: PictureMaker;
  painter: PlanPainter;
  rect: { row0: number; row1: number; col0: number; col1: number };
}

const RESTS_MS = 160;
const MOST_SAMPLES = 1024;

/** The plan's canvas and its size. A picture is painted on it, and single samples of a ground that is larger than its
 * overview: those are fetched for the window in view once it rests. */
export function usePlanPaint(picture: Picture | null, subject: Subject) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const state = useProject();
  const readings = useReadings();
  const { camera, wipe, compare } = useView();
  const look = useLook();
  const { home, view } = state;
  const panels = picture?.panels.length ?? 1;
  const painter = useRef(new PlanPainter());
  const detail = useRef<Detail | null>(null);

  const draw = useEffectEvent(() => {
    if (!canvas.current || !picture) return;
    painter.current.take(picture);
    painter.current.draw(canvas.current, view, camera, wipe, SURROUND, detail.current, home);
    canvas.current.dataset.painted = String(Number(canvas.current.dataset.painted ?? 0) + 1);
  });
  // Paint in the same task as the picture arrives: a dragged slider must not wait for another frame.
  useEffect(() => draw(), [picture, camera, wipe, size, view]);

  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);

  useEffect(() => {
    const rect = panelRects(panels, size.width, size.height)[0];
    const coarse = home.cols > view.cols || home.rows > view.rows;
    if (!rect || !coarse || scale(rect, view, camera) * home.spacing_x < 0.7) {
      detail.current = null;
      return;
    }
    let end: () => void = () => undefined;
    const stop = new AbortController();
    const timer = setTimeout(() => {
      const s = scale(rect, view, camera);
      const half = [rect.height / 2 / s / home.spacing_y, rect.width / 2 / s / home.spacing_x] as const;
      const row = (camera.y * home.length) / home.spacing_y;
      const col = (camera.x * home.width) / home.spacing_x;
      const part = {
        row0: Math.max(0, Math.floor(row - half[0])),
        row1: Math.min(home.rows, Math.ceil(row + half[0]) + 1),
        col0: Math.max(0, Math.floor(col - half[1])),
        col1: Math.min(home.cols, Math.ceil(col + half[1]) + 1),
      };
      const large = part.row1 - part.row0 > MOST_SAMPLES || part.col1 - part.col0 > MOST_SAMPLES;
      if (large || subject.kind === "fit" || compare !== "off") return;
      const maker = new PictureMaker();
      const fine: Detail = { maker, painter: new PlanPainter(), rect: part };
      end = maker.subscribe(() => {
        const made = maker.state.picture;
        if (!made || maker.state.updating) return;
        fine.painter.take(made);
        detail.current = fine;
        draw();
      });
      const window = `${part.row0},${part.row1},${part.col0},${part.col1}`;
      const overview = { state, subject, readings, options: look };
      const whole = (name: string) => mapStore.get(overview, name);
      maker.want({ ...overview, options: { ...overview.options, whole }, window, signal: stop.signal });
    }, RESTS_MS);
    return () => {
      clearTimeout(timer);
      end();
      stop.abort();
    };
  }, [camera, home, view, panels, size, state, subject, readings, look, compare]);
  return { canvas, size };
}
