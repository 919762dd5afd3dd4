import type { RawMap } from "../../api/maps";
import { named } from "../../api/mapNames";
import { useProject } from "../../document/document";
import { trim, withUnit } from "../../kit/numbers";
import { Segments } from "../../kit/Segments";
import { single } from "../imaging";
import { cachedBase, drown, HEIGHT, laid, overlay, SHADE } from "../overlays";
import { AMBER } from "../ramps";
import { ends, ramped } from "../ramped";
import { always, type ChoicesProps, type SubjectKind } from "./kind";
import type { Of } from "./subject";

type Ground = Of<"ground">;

/** Heights, hill shade, before and after the preparation, or where a finding is. */
export const ground: SubjectKind<Ground> = {
  needs: ({ finding, style, steps = 0 }) => {
    if (finding) return [named.finding(finding), HEIGHT, SHADE];
    return style === "wipe" ? [HEIGHT, SHADE, named.at(steps, "height"), named.at(steps, "shade")] : [HEIGHT, SHADE];
  },
  title: ({ finding, style, beyond }, { document, file_ends }) => {
    if (beyond) return ["Ground", `heights beyond ${trim(beyond[0])} to ${trim(beyond[1])} m`];
    if (finding) return ["Ground", "where the finding is"];
    if (style === "wipe") return ["Ground", "before | after the preparation"];
    if (style === "shade") return ["Ground", "hill shade"];
    if (document.ground.steps?.some((step) => !step.muted)) return ["Ground", "heights, prepared"];
    const [low = 0, high = 0] = file_ends;
    return ["Ground", `heights · ${trim(low)} to ${trim(high)} m`];
  },
  paint: (subject, canvas) => {
    const { maps, state, options } = canvas;
    const base = () => cachedBase(maps, state, options);
    if (subject.finding) return laid(overlay(base(), maps(named.finding(subject.finding)), AMBER, 0.9), null, options);
    if (subject.beyond) return laid(overlay(base(), outside(maps(HEIGHT), subject.beyond), AMBER, 0.9), null, options);
    if (subject.style === "shade") return laid(base(), null, options);
    const height = maps(HEIGHT);
    const [low, high] = ends(options.whole?.(HEIGHT) ?? height);
    const water = options.shore ?? state.document.ground.water;
    const coloured = (heights: RawMap, shade: RawMap) => {
      const image = ramped(heights, "height", low, high, false, shade);
      if (options.water) drown(image.data, heights.values, water);
      return image;
    };
    const legend = { ramp: "height", low: withUnit(low, "m", 0), high: withUnit(high, "m", 0) };
    const image = coloured(height, maps(SHADE));
    if (subject.style !== "wipe") return single(image, legend, true);
    const steps = subject.steps ?? 0;
    return single(image, legend, true, coloured(maps(named.at(steps, "height")), maps(named.at(steps, "shade"))));
  },
  probed: (_, rows) => rows,
  laidOver: ({ style, finding }) => style === "shade" || finding !== undefined,
  wet: always,
  Choices: GroundChoices,
};

/** A mask of the heights that lie outside of two. */
function outside(heights: RawMap, [low, high]: [number, number]): RawMap {
  const values = Uint8Array.from(heights.values, (height) => (height < low || height > high ? 255 : 0));
  return { ...heights, values };
}

function GroundChoices({ subject, show }: ChoicesProps<Ground>) {
  const { in_place: prepared } = useProject();
  return (
    <Segments
      label="Ground as"
      options={[
        { value: "heights", label: "Heights" },
        { value: "shade", label: "Shade" },
        ...(prepared ? [{ value: "wipe" as const, label: "Before | after" }] : []),
      ]}
      value={subject.style}
      onChange={(style) => show({ kind: "ground", style, steps: subject.steps ?? 0 })}
    />
  );
}
