import { useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { useReadings } from "../document/queries";
import { useProject } from "../document/document";
import { useViewParts } from "./view";
import type { Subject } from "./subjects/subject";
import type { Panel, Picture } from "./imaging";
import { PictureMaker, type PictureState } from "./pictures";
import { exists, title } from "./subjects/register";
import { useLook } from "./useLook";

const MOST = 4;

export interface Compared extends PictureState {
  /** What is compared, each with a picture of its own: reliefs side by side take them. */
  each: { subject: Subject; title: string; picture: Picture | null }[];
}

/** Up to four subjects as one picture with a panel each; null while there is nothing to compare. */
export function useComparison(subjects: Subject[]): Compared | null {
  const state = useProject();
  const readings = useReadings();
  const { compare } = useViewParts("compare");
  const look = useLook();
  const [makers] = useState(() => Array.from({ length: MOST }, () => new PictureMaker()));
  const key = JSON.stringify(subjects);
  const shown = useMemo(() => {
    const different = [...new Set((JSON.parse(key) as Subject[]).map((subject) => JSON.stringify(subject)))];
    return different
      .map((text) => JSON.parse(text) as Subject)
      .filter((subject) => exists(subject, state))
      .slice(0, MOST);
  }, [key, state]);

  useEffect(() => {
    shown.forEach((subject, i) => makers[i]?.want({ state, subject, readings, options: look }));
  }, [makers, shown, state, readings, look]);

  const subscribe = useMemo(
    () => (listener: () => void) => {
      const ends = makers.map((maker) => maker.subscribe(listener));
      return () => ends.forEach((end) => end());
    },
    [makers],
  );
  const versions = useSyncExternalStore(subscribe, () => makers.map((maker) => maker.state.version).join());

  return useMemo(() => {
    if (shown.length < 2) return null;
    const states = shown.map((_, i) => makers[i]?.state);
    const panels: Panel[] = shown.flatMap((subject, i) => {
      const image = states[i]?.picture?.panels[0]?.image;
      const [name, how] = title(subject, state, readings, look.backdrop);
      return image ? [{ title: `${name} · ${how}`, image, subject }] : [];
    });
    const all = panels.length === shown.length;
    // Wiped, the first held view is what was before and the current one what is after.
    const [first, second] = panels;
    const same = first?.image.width === second?.image.width && first?.image.height === second?.image.height;
    const wiped = compare === "wipe" && first && second && same;
    const picture: Picture | null = !all
      ? null
      : wiped
        ? { panels: [first], before: second.image, legend: null, shaded: true }
        : { panels, before: null, legend: null, shaded: true };
    return {
      picture,
      of: null,
      updating: states.some((one) => one?.updating ?? true),
      draft: states.some((one) => one?.draft ?? false),
      coarser: states.find((one) => one?.coarser)?.coarser ?? null,
      trouble: states.find((one) => one?.trouble)?.trouble ?? null,
      version: 0,
      each: shown.map((subject, i) => ({
        subject,
        title: title(subject, state, readings, look.backdrop).join(" · "),
        picture: states[i]?.picture ?? null,
      })),
    };
    // The makers' pictures change without their names: the versions say when.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [shown, makers, state, readings, look, versions, compare]);
}
