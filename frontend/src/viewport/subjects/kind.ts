import type { ComponentType } from "react";
import type { MapText } from "../../api/mapNames";
import type { ProjectState, Reading } from "../../api/types";
import { outcomes } from "../../document/outcomes";
import type { Picture } from "../imaging";
import type { Canvas } from "../overlays";
import type { Subject } from "./subject";

/** A value that is read off under the pointer. */
export interface Probed {
  title: string;
  group?: string;
  name: MapText;
  unit: string;
  decimals: number;
}

export interface ChoicesProps<S> {
  subject: S;
  show: (subject: Subject) => void;
}

/** One kind of what the view shows: all that the rest of the pages ask of it. */
export interface SubjectKind<S> {
  /** The names of the maps that it is painted from, what it is laid on left out. */
  needs: (subject: S) => MapText[];
  /** What it is called, and how it is seen. */
  title: (subject: S, state: ProjectState, readings: Reading[]) => [string, string];
  paint: (subject: S, canvas: Canvas) => Picture;
  /** Whether all that it shows is still in the project; left out, nothing of it can go. */
  exists?: (subject: S, state: ProjectState) => boolean;
  /** What is worth reading off it, after what is always (`rows`, from which it may leave out some). */
  probed?: (subject: S, rows: Probed[], state: ProjectState, readings: Reading[]) => Probed[];
  /** The map whose bytes are told under the pointer, and what they are called. */
  colourAt?: (subject: S) => { name: MapText; title: string };
  /** The ways in which it can be looked at. */
  Choices?: ComponentType<ChoicesProps<S>>;
  /** The map whose mean is told as how much of the ground it covers. */
  coverage?: (subject: S) => MapText | null;
  /** Whether it is laid over the ground as it looks: hill shade, or a picture. */
  laidOver?: (subject: S) => boolean;
  /** Whether it is laid over in a colour of the artist's choice. */
  tinted?: (subject: S) => boolean;
  /** Whether water is shown with it. */
  wet?: (subject: S) => boolean;
  /** Whether close ground is drawn from the layers' textures. */
  near?: (subject: S) => boolean;
}

export const always = () => true;

/** A row of the probe for a map from 0 to 1. */
export const share = (title: string, name: MapText, decimals = 2): Probed => ({ title, name, unit: "", decimals });

export const maskName = (state: ProjectState, id: string) =>
  state.document.masks.find((item) => item.id === id)?.name ?? "Mask";

export const isMask = (state: ProjectState, id: string) => state.document.masks.some((item) => item.id === id);

export const readingTitle = (readings: Reading[], name: string) => readings.find((item) => item.name === name)?.title;

/** The weights of all that comes out of sharing. */
export const weightsOf = (state: ProjectState, weight: (id: string) => MapText): Probed[] =>
  outcomes(state.document).map((layer) => ({
    ...share(layer.name, weight(layer.id)),
    group: "Weights after sharing",
  }));
