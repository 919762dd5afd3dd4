import { kindOf } from "./subjects/register";
import { named } from "../api/mapNames";
import { useEffect, useState } from "react";
import { usePainting, useReadings } from "../document/queries";
import { useProject } from "../document/document";
import { useView } from "./view";
import type { Subject } from "./subjects/subject";
import { letGo, nearGround, wornBy, type NearGround } from "./nearGround";
import { mapStore } from "./pictures";

/** What close ground is drawn from, for pictures of layers and of colour; null for all others, and until it is there. */
export function useNearGround(subject: Subject): NearGround | null {
  const state = useProject();
  const readings = useReadings();
  const painting = usePainting();
  const near = useView((view) => view.near);
  const [made, setMade] = useState<NearGround | null>(null);
  const painted = kindOf(subject).near?.(subject) ?? false;
  const looks = painting?.looks;
  const wanted = painted && near && looks !== undefined;

  useEffect(() => {
    if (!wanted) return;
    const stop = new AbortController();
    let mine: NearGround | null = null;
    const worn = wornBy(state, (look) => looks.find((item) => item.id === look && !item.missing)?.size);
    const asked = { state, subject, readings, options: { tint: 0, water: false } };
    Promise.all(worn.map((one) => mapStore.load(asked, named.weight(one.id))))
      .then((weights) => nearGround(state, worn, weights, stop.signal))
      .then(
        (found) => {
          if (stop.signal.aborted) return letGo(found);
          mine = found;
          setMade(found);
        },
        // Without its textures the ground is drawn as from far away.
        () => undefined,
      );
    return () => {
      stop.abort();
      setMade(null);
      letGo(mine);
    };
    // The subject's kind alone matters: what is looked at among coats changes nothing close by.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [wanted, state, looks, readings]);
  return wanted ? made : null;
}
