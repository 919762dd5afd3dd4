import { named, type MapText } from "../../api/mapNames";
import { Segments } from "../../kit/Segments";
import { grey, single } from "../imaging";
import { banded, bandsOf, cachedBase, coloured, HEIGHT, laid, overlay, SHADE, tintOf } from "../overlays";
import { AMBER } from "../ramps";
import { always, isMask, maskName, share, weightsOf, type ChoicesProps, type SubjectKind } from "./kind";
import type { Of } from "./subject";

type OfMask = Of<"mask">;

/** The mask as it is before the chosen line. */
export const beforeName = ({ id, lines }: OfMask): MapText => named.mask(id, lines ?? 0);

const isOver = ({ style }: OfMask) => style === "over" || style === "wipe";

/** A mask over the ground, alone, in bands, or before and after one of its lines. */
export const mask: SubjectKind<OfMask> = {
  needs: (subject) => {
    if (!isOver(subject)) return [named.mask(subject.id)];
    return [
      named.mask(subject.id),
      ...(subject.style === "wipe" ? [beforeName(subject)] : []),
      ...(subject.base === "colour" ? [named.layers()] : []),
      SHADE,
      HEIGHT,
    ];
  },
  title: ({ id, style, base }, state) => {
    const how = {
      over: base === "colour" ? "over the layers' colours" : "over hill shade",
      alone: "alone, black to white",
      bands: "as bands of strength",
      wipe: "before | after the chosen line",
    };
    return [maskName(state, id), how[style]];
  },
  paint: (subject, { maps, state, options }) => {
    const map = maps(named.mask(subject.id));
    if (subject.style === "alone")
      return single(grey(map, 0, options.lift), { ramp: "grey", low: "0", high: "1" }, false);
    if (subject.style === "bands") return single(banded(map, bandsOf(state, subject.id)), null, false);
    const plain = subject.base === "colour";
    const base = plain ? coloured(maps(named.layers()), maps(SHADE).values) : cachedBase(maps, state, options);
    const over = (name: MapText) => overlay(base, maps(name), tintOf(options), options.tint);
    const image = over(named.mask(subject.id));
    const before = subject.style === "wipe" ? over(beforeName(subject)) : null;
    return plain ? single(image, null, true, before) : laid(image, null, options, before);
  },
  exists: ({ id }, state) => isMask(state, id),
  probed: ({ id }, rows, state) => [
    ...rows,
    share(`${maskName(state, id)} mask`, named.mask(id)),
    ...(state.document.layers.some((layer) => layer.mask === id) ? weightsOf(state, named.weight) : []),
  ],
  coverage: ({ id }) => named.mask(id),
  laidOver: (subject) => isOver(subject) && subject.base !== "colour",
  tinted: isOver,
  wet: isOver,
  Choices: MaskChoices,
};

/** One band of a mask that is cut into bands. */
export const band: SubjectKind<Of<"band">> = {
  needs: (subject) => [named.band(subject.mask, subject.band), SHADE, HEIGHT],
  title: (subject, state) => [`${maskName(state, subject.mask)}, band ${subject.band + 1}`, "over hill shade"],
  paint: (subject, { maps, state, options }) => {
    const map = maps(named.band(subject.mask, subject.band));
    return laid(overlay(cachedBase(maps, state, options), map, tintOf(options), options.tint), null, options);
  },
  exists: (subject, state) => isMask(state, subject.mask),
  probed: (subject, rows) => [...rows, share(`Band ${subject.band + 1}`, named.band(subject.mask, subject.band), 0)],
  coverage: (subject) => named.band(subject.mask, subject.band),
  laidOver: always,
  tinted: always,
  wet: always,
  Choices: PartChoices,
};

/** Where a mask differs at the delivered size. */
export const final: SubjectKind<Of<"final">> = {
  needs: (subject) => [named.final(subject.mask), SHADE, HEIGHT],
  title: (subject, state) => [maskName(state, subject.mask), "where the delivered size differs from the draft"],
  paint: (subject, { maps, state, options }) => {
    const gap = maps(named.final(subject.mask));
    let most = 0;
    for (const value of gap.values) most = Math.max(most, value);
    const image = overlay(cachedBase(maps, state, options), gap, AMBER, most > 0 ? 255 / most : 1);
    // Nothing differs, nothing to explain.
    return laid(image, most > 0 ? { ramp: "alarm", low: "0", high: (most / 255).toFixed(2) } : null, options);
  },
  exists: (subject, state) => isMask(state, subject.mask),
  probed: (subject, rows, state) => [
    ...rows,
    share(`${maskName(state, subject.mask)} mask`, named.mask(subject.mask)),
    share("Differs by", named.final(subject.mask)),
  ],
  laidOver: always,
  wet: always,
  Choices: PartChoices,
};

function MaskChoices({ subject, show }: ChoicesProps<OfMask>) {
  return (
    <Segments
      label="Mask as"
      options={[
        { value: "over", label: "Over" },
        { value: "alone", label: "Alone" },
        { value: "bands", label: "Bands" },
        { value: "wipe", label: "Before | after" },
      ]}
      value={subject.style}
      onChange={(style) => show({ ...subject, style })}
    />
  );
}

/** What is shown of a mask, or the mask itself again. */
function PartChoices({ subject, show }: ChoicesProps<Of<"band"> | Of<"final">>) {
  return (
    <Segments
      label="Mask as"
      options={[
        { value: "this", label: subject.kind === "band" ? `Band ${subject.band + 1}` : "Difference" },
        { value: "over", label: "Over" },
        { value: "alone", label: "Alone" },
        { value: "bands", label: "Bands" },
      ]}
      value="this"
      onChange={(style) => {
        if (style !== "this") show({ kind: "mask", id: subject.mask, style, lines: null });
      }}
    />
  );
}
