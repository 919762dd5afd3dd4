import { useEffect, useState } from "react";
import { usePainting, useReadings } from "../api/queries";
import { useProject } from "../state/document";
import { useView, type Subject } from "../state/view";
import { letGo, nearGround, wornBy, type NearGround } from "./nearGround";
import { mapStore } from "./pictures";

/** What close ground is drawn from, for pictures of layers and of colour; null for all others, and until it is there. */
export function useNearGround(subject: Subject): NearGround | null {
  const state = useProject();
  const readings = useReadings();
  const painting = usePainting();
  const near = useView((view) => view.near);
  const [made, setMade] = useState<NearGround | null>(null);
  const painted =
    (subject.kind === "layers" && !subject.solo) ||
    (subject.kind === "colour" && subject.map.startsWith("colour") && subject.style !== "flat");
  const looks = painting?.looks;
  const wanted = painted && near && looks !== undefined;

  useEffect(() => {
    if (!wanted) return;
    const stop = new AbortController();
    let mine: NearGround | null = null;
    const worn = wornBy(state, (look) => looks.find((item) => item.id === look && !item.missing)?.size);
    const asked = { state, subject, readings, options: { tint: 0, water: false } };
    Promise.all(worn.map((one) => mapStore.load(asked, `weight:${one.id}`)))
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
