import { named } from "../api/mapNames";
import { useEffect, useRef, useState } from "react";
import { sentence } from "../api/client";
import { useReadings, useScatterPoints } from "../document/queries";
import { useProject } from "../document/document";
import { isOverlaid, useTools } from "./tools";
import { useViewParts } from "./view";
import type { Subject } from "./subjects/subject";
import { SCATTERED, SURROUND } from "../kit/theme";
import type { Picture } from "./imaging";
import { mapStore } from "./pictures";
import { useNearGround } from "./useNearGround";
import { ReliefScene } from "./relief";

let able: boolean | null = null;

/** Whether this browser can draw in three dimensions; asked once, and the context that told is given back. */
function canDrawRelief(): boolean {
  if (able === null) {
    const context = document.createElement("canvas").getContext("webgl2");
    able = context !== null;
    context?.getExtension("WEBGL_lose_context")?.loseContext();
  }
  return able;
}

/** A scene on a canvas that shows the project's ground with a picture over it. */
export function useReliefScene(picture: Picture | null, subject: Subject) {
  const state = useProject();
  const readings = useReadings();
  const { exaggeration, sun, water, shore, over } = useViewParts("exaggeration", "sun", "water", "shore", "over");
  const level = shore ?? state.document.ground.water;
  const canvas = useRef<HTMLCanvasElement>(null);
  const tool = useTools((tools) => tools.tool);
  // What lies over the canvas follows the camera: it is placed anew after every frame.
  const [seen, setSeen] = useState<ReliefScene | null>(null);
  const [, setFrame] = useState(0);
  const [perMetre, setPerMetre] = useState(0);
  const scattered = subject.kind === "scatter" ? subject.id : null;
  const dots = useScatterPoints(scattered).data;
  const colour = state.document.scatters?.find((item) => item.id === scattered)?.colour ?? SCATTERED;
  const scene = useRef<ReliefScene | null>(null);
  const able = canDrawRelief();
  const [trouble, setTrouble] = useState<string | null>(
    able ? null : "This browser cannot draw in three dimensions here. Plan shows the same maps.",
  );

  useEffect(() => {
    const element = canvas.current;
    if (!element || !able) return;
    const made = new ReliefScene(element, SURROUND);
    scene.current = made;
    const counted = () => setFrame((count) => count + 1);
    made.onFrame = () => {
      setSeen(made);
      // Two digits are enough for a bar: it is not drawn anew with every frame.
      setPerMetre(Number(made.pixelsPerMetre.toPrecision(2)));
      if (isOverlaid()) counted();
    };
    const box = element.parentElement;
    const watch = new ResizeObserver(() => made.resize(box?.clientWidth ?? 0, box?.clientHeight ?? 0));
    if (box) watch.observe(box);
    return () => {
      watch.disconnect();
      made.dispose();
      scene.current = null;
      // A browser has few contexts and frees them late. One whose canvas stays (an effect run twice) is needed again.
      setTimeout(() => element.isConnected || made.letGo());
    };
  }, [able]);

  useEffect(() => {
    const wanted = {
      state,
      readings,
      subject: { kind: "ground", style: "heights" } as const,
      options: { tint: 0, water: false },
    };
    let current = true;
    mapStore.load(wanted, named.reading("height")).then(
      (map) => current && scene.current?.setHeights(map, exaggeration),
      (error: unknown) => current && setTrouble(sentence(error)),
    );
    return () => {
      current = false;
    };
  }, [state, readings, exaggeration]);

  useEffect(() => scene.current?.setToolInHand(tool !== null), [tool]);
  useEffect(() => scene.current?.setDots(dots?.values ?? null, colour), [dots, colour, seen]);
  useEffect(() => {
    if (picture) scene.current?.setPicture(picture);
  }, [picture]);
  const close = useNearGround(subject);
  const overTextures = subject.kind === "colour";
  const painted = overTextures && over;
  useEffect(() => scene.current?.setNear(close, painted), [close, painted, seen]);
  useEffect(() => scene.current?.setSun(sun.azimuth, sun.altitude), [sun]);
  // A colour map has water of its own, painted by its coats.
  const flooded = water && typeof level === "number" && !overTextures ? level : null;
  useEffect(() => scene.current?.setWater(flooded), [flooded]);
  return { canvas, scene, seen, trouble, perMetre };
}
