import { named, type MapText } from "../../api/mapNames";
import type { ProjectState, Reading } from "../../api/types";
import type { Picture } from "../imaging";
import type { Canvas } from "../overlays";
import { acts } from "./acts";
import { coat, colour } from "./colour";
import { fit } from "./fit";
import { ground } from "./ground";
import { readingTitle, type Probed, type SubjectKind } from "./kind";
import { layers, strongest, weight } from "./layers";
import { band, final, mask } from "./mask";
import { picture, probedReading, reading } from "./reading";
import { scatter } from "./scatter";
import { channel, mixed, sheet, sums } from "./sheet";
import type { Of, Subject } from "./subject";
import { together } from "./together";

/** Every kind of what the view shows. */
const KINDS: { [K in Subject["kind"]]: SubjectKind<Of<K>> } = {
  ground,
  acts,
  reading,
  picture,
  mask,
  band,
  final,
  together,
  scatter,
  layers,
  weight,
  strongest,
  colour,
  coat,
  sheet,
  channel,
  sums,
  mixed,
  fit,
};

/** What a subject is, to all who do not know which it is. */
export const kindOf = (subject: Subject) => KINDS[subject.kind] as unknown as SubjectKind<Subject>;

/** Whether something is laid over the ground as it looks: hill shade, or a picture. */
export const laidOver = (subject: Subject): boolean => kindOf(subject).laidOver?.(subject) ?? false;

/** The names of the maps that a subject is painted from; `backdrop`: the picture it is laid on, if on one. */
export function needs(subject: Subject, backdrop: string | null = null): MapText[] {
  const own = kindOf(subject).needs(subject);
  return backdrop && laidOver(subject) ? [...own, named.picture(backdrop)] : own;
}

/** Whether everything that a subject shows is still in the project. */
export const exists = (subject: Subject, state: ProjectState): boolean =>
  kindOf(subject).exists?.(subject, state) ?? true;

/** What a subject is called, and how it is seen; `backdrop`: the picture it is laid on, if on one. */
export function title(
  subject: Subject,
  state: ProjectState,
  readings: Reading[],
  backdrop: string | null = null,
): [string, string] {
  const [name, how] = kindOf(subject).title(subject, state, readings);
  if (!backdrop || !laidOver(subject)) return [name, how];
  const under = readingTitle(readings, backdrop) ?? "a picture";
  return [name, how.includes("hill shade") ? how.replace("hill shade", under) : `${how}, over ${under}`];
}

export const paint = (subject: Subject, canvas: Canvas): Picture => kindOf(subject).paint(subject, canvas);

/** What is worth reading off a subject under the pointer. */
export function probed(subject: Subject, state: ProjectState, readings: Reading[]): Probed[] {
  const rows = readings.filter((item) => item.probed).map((item) => probedReading(item.name, readings));
  return kindOf(subject).probed?.(subject, rows, state, readings) ?? rows;
}
