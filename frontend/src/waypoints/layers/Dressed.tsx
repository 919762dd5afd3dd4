import { named } from "../../api/mapNames";
import { Alert, Box, Typography } from "@mui/material";
import { usePainting } from "../../document/queries";
import type { Dressing, Layer } from "../../api/types";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { ColourToken } from "../../kit/ColourToken";
import { NumberToken } from "../../kit/NumberToken";
import { useProject } from "../../document/document";
import { LookThumb } from "./LookThumb";
import { OwnLook } from "./OwnLook";
import { useLayerEdit } from "./useLayerEdit";

type Field = "size" | "turn" | "east" | "south" | "brightness" | "roughness" | "middle_size";

/** What a layer wears, as sentences: which look, how large, how turned, in which tint; and one for the middle distance. */
export function Dressed({ id }: { id: string }) {
  const painting = usePainting();
  const { dressing, name, preview, set } = useLayerEdit(id);
  const { document } = useProject();
  const looks = painting?.looks ?? [];
  const own = document.looks?.find((item) => item.id === dressing.look);
  const look = looks.find((item) => item.id === dressing.look);
  const trouble = painting?.troubles.find((item) => item.id === id && item.text.includes("texture"));
  const choices = [
    { value: "", label: "a plain colour" },
    ...looks.map((item) => ({ value: item.id, label: item.name, group: item.own ? "Brought in" : "Bundled" })),
  ];
  const wear = (part: Partial<Dressing>, more: Partial<Layer> = {}) =>
    set({ dressing: { ...dressing, ...part }, ...more });
  const number = (
    label: string,
    field: Field,
    value: number,
    bounds: { unit: string; min: number; max: number; step: number; decimals: number },
    times = 1,
  ) => (
    <NumberToken
      label={`${label} of ${name}`}
      value={Number((value * times).toFixed(4))}
      {...bounds}
      onPreview={(v) => preview(v === null ? null : { dressing: { ...dressing, [field]: v / times } }, named.colour())}
      onCommit={(v, key) => set({ dressing: { ...dressing, [field]: Number((v / times).toFixed(6)) } }, key, field)}
    />
  );
  return (
    <Box sx={{ mt: 1, fontSize: 13, lineHeight: 2 }}>
      <Box sx={{ display: "flex", gap: 1.2, alignItems: "flex-start" }}>
        {look && <LookThumb look={look.id} size={58} times={2} />}
        <Box sx={{ flex: 1, minWidth: 0 }}>
          Looks like{" "}
          <ChoiceToken
            label={`Look of ${name}`}
            value={dressing.look ?? ""}
            choices={choices}
            onChange={(value) => {
              const chosen = looks.find((item) => item.id === value);
              void wear({ look: value || null, size: null }, chosen ? { colour: chosen.mean } : {});
            }}
          />
          {look && (
            <>
              ,{" "}
              {number("Size", "size", dressing.size ?? look.size, {
                unit: "m",
                min: 0.1,
                max: 500,
                step: 0.1,
                decimals: 2,
              })}{" "}
              across, turned by{" "}
              {number("Turn", "turn", dressing.turn ?? 0, { unit: "°", min: -180, max: 180, step: 1, decimals: 0 })},
              moved by{" "}
              {number("Moved east", "east", dressing.east ?? 0, {
                unit: "m",
                min: -500,
                max: 500,
                step: 0.1,
                decimals: 2,
              })}{" "}
              east and{" "}
              {number("Moved south", "south", dressing.south ?? 0, {
                unit: "m",
                min: -500,
                max: 500,
                step: 0.1,
                decimals: 2,
              })}{" "}
              south, tint{" "}
              <ColourToken
                label={`Tint of ${name}`}
                value={dressing.tint ?? "#ffffff"}
                onCommit={(tint) => void wear({ tint })}
              />{" "}
              at{" "}
              {number(
                "Brightness",
                "brightness",
                dressing.brightness ?? 1,
                { unit: "%", min: 0, max: 300, step: 1, decimals: 0 },
                100,
              )}{" "}
              brightness, as rough as{" "}
              {number(
                "Roughness",
                "roughness",
                dressing.roughness ?? 1,
                { unit: "%", min: 0, max: 300, step: 1, decimals: 0 },
                100,
              )}
              ; in the middle distance{" "}
              <ChoiceToken
                label={`Middle distance of ${name}`}
                value={dressing.middle ?? ""}
                choices={[{ value: "", label: "the same" }, ...choices.slice(1)]}
                onChange={(value) => void wear({ middle: value || null })}
              />
              {dressing.middle && (
                <>
                  {" "}
                  {number("Size in the middle distance", "middle_size", dressing.middle_size ?? 80, {
                    unit: "m",
                    min: 0.1,
                    max: 2000,
                    step: 1,
                    decimals: 1,
                  })}{" "}
                  across
                </>
              )}
              .
            </>
          )}
        </Box>
      </Box>
      {own && <OwnLook look={own} />}
      {look?.told.map((text) => (
        <Typography key={text} variant="caption" color="textSecondary" sx={{ display: "block" }}>
          {text}
        </Typography>
      ))}
      {trouble && (
        <Alert severity="warning" sx={{ mt: 0.5 }}>
          {trouble.text}
        </Alert>
      )}
    </Box>
  );
}
