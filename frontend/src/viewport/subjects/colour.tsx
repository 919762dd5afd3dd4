import { isColourMap } from "../../document/sourceTitle";
import { named, type MapText } from "../../api/mapNames";
import { PAINTED_MAPS, PAINTED_TITLES, type PaintedMap } from "../../document/sourceTitle";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { Segments } from "../../kit/Segments";
import { grey, single } from "../imaging";
import { coloured, SHADE } from "../overlays";
import { share, weightsOf, type ChoicesProps, type SubjectKind } from "./kind";
import type { Of } from "./subject";

type OfColour = Of<"colour">;

/** The name of a colour or surface map, or of a colour map after its first coats. */
export function paintedName(map: PaintedMap, coats?: number): MapText {
  return isColourMap(map) ? named[map](coats) : named.surface(map);
}

/** Colour and surface maps. */
export const colour: SubjectKind<OfColour> = {
  needs: ({ map, style, coats }) => {
    if (style === "after") return [paintedName(map, coats)];
    return [
      paintedName(map),
      ...(style === "wipe" ? [paintedName(map, coats)] : []),
      ...(style === "flat" ? [] : [SHADE]),
    ];
  },
  title: ({ map, style, coats }) => {
    const name = PAINTED_TITLES[map];
    if (style === "wipe") return [name, coats === 0 ? "bare ground | all coats" : `the lowest ${coats} | all coats`];
    return [name, style === "lit" ? "lit by hill shade" : "as it is written"];
  },
  paint: ({ map, style, coats }, { maps }) => {
    if (style === "after") return single(coloured(maps(paintedName(map, coats)), null), null, false);
    const shade = style === "flat" ? null : maps(SHADE).values;
    // Directions and numbers are looked at as they are written: light would bend them.
    const lit = isColourMap(map) ? shade : null;
    const image = coloured(maps(paintedName(map)), lit);
    const before = style === "wipe" ? coloured(maps(paintedName(map, coats)), lit) : null;
    return single(image, null, lit !== null, before);
  },
  probed: (_, rows, state) => [...rows, ...weightsOf(state, named.weight)],
  colourAt: ({ map }) => ({ name: paintedName(map), title: "As written" }),
  near: ({ map, style }) => isColourMap(map) && style !== "flat",
  Choices: ColourChoices,
};

/** How strongly a coat lies. */
export const coat: SubjectKind<Of<"coat">> = {
  needs: ({ id }) => [named.coat(id)],
  title: () => ["Coat", "how strongly it lies"],
  paint: ({ id }, { maps }) => single(grey(maps(named.coat(id))), { ramp: "grey", low: "0", high: "1" }, false),
  exists: ({ id }, state) => (state.document.coats ?? []).some((item) => item.id === id),
  probed: ({ id }) => [share("Lies", named.coat(id))],
};

/** Which painted map is looked at, and in what light. */
function ColourChoices({ subject, show }: ChoicesProps<OfColour>) {
  return (
    <>
      <ChoiceToken
        label="Map"
        value={subject.map}
        choices={PAINTED_MAPS.map((map) => ({ value: map, label: PAINTED_TITLES[map] }))}
        onChange={(map) => show({ kind: "colour", map: map as PaintedMap, style: "lit", coats: 0 })}
      />
      {isColourMap(subject.map) && (
        <Segments
          label="Light"
          options={[
            { value: "lit", label: "Lit" },
            { value: "flat", label: "Flat" },
            { value: "wipe", label: "Before | after" },
          ]}
          value={subject.style === "after" ? "flat" : subject.style}
          onChange={(style) => show({ ...subject, style })}
        />
      )}
    </>
  );
}
