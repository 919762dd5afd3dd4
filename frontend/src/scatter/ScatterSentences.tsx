import { Box, Button } from "@mui/material";
import { useReadings } from "../api/queries";
import type { Scatter } from "../api/types";
import { ChoiceToken } from "../parts/ChoiceToken";
import { ColourToken } from "../parts/ColourToken";
import { NumberToken } from "../parts/NumberToken";
import { useProject } from "../state/document";
import { SCATTERED } from "../theme";
import { useScatterEdit } from "./useScatterEdit";

interface OfScatter {
  scatter: Scatter;
}

/** Where, how many, how large, and how it is shown and delivered. */
export function ScatterSentences({ scatter }: OfScatter) {
  return (
    <Box sx={{ fontSize: 13.5, lineHeight: 2 }}>
      <Where scatter={scatter} />
      <div>
        <b>How many</b>{" "}
        <Token scatter={scatter} label="Density" field="density" unit="on 100 m²" range={[0.01, 100, 0.05]} />, none
        nearer than <Token scatter={scatter} label="Least distance" field="distance" unit="m" range={[0, 200, 0.5]} />,
        seed <Token scatter={scatter} label="Seed" field="seed" unit="" range={[0, 999999, 1]} />
      </div>
      <HowLarge scatter={scatter} />
      <Delivered scatter={scatter} />
    </Box>
  );
}

interface TokenProps extends OfScatter {
  label: string;
  field: keyof Scatter;
  unit: string;
  /** Least, most, step. */
  range: [number, number, number];
  times?: number;
}

function Token({ scatter, label, field, unit, range: [min, max, step], times = 1 }: TokenProps) {
  const change = useScatterEdit(scatter);
  return (
    <NumberToken
      label={label}
      value={Number((Number(scatter[field]) * times).toFixed(4))}
      unit={unit}
      min={min}
      max={max}
      step={step}
      decimals={step < 1 ? 2 : 0}
      onCommit={(v, key) => change({ [field]: v / times }, key ? field : "")}
    />
  );
}

function Where({ scatter }: OfScatter) {
  const { document } = useProject();
  const change = useScatterEdit(scatter);
  const masks = document.masks.map((mask) => ({ value: mask.id, label: mask.name }));
  const kept = scatter.keep_out ?? [];
  const keepOut = () => {
    const free = masks.find((mask) => !kept.includes(mask.value) && mask.value !== scatter.mask);
    if (free) void change({ keep_out: [...kept, free.value] });
  };
  return (
    <div>
      <b>Where</b> the mask{" "}
      <ChoiceToken
        label="Density from"
        value={scatter.mask ?? ""}
        choices={[{ value: "", label: "everywhere" }, ...masks]}
        onChange={(value) => void change({ mask: value || null })}
      />{" "}
      is strong, on slopes up to{" "}
      <Token scatter={scatter} label="Steepest" field="steepest" unit="°" range={[0, 90, 1]} />
      {kept.map((mask, i) => (
        <span key={mask}>
          , not in{" "}
          <ChoiceToken
            label={`Keep out ${i + 1}`}
            value={mask}
            choices={[...masks, { value: "", label: "(allow it)" }]}
            onChange={(value) =>
              void change({
                keep_out: kept.map((item) => (item === mask ? value : item)).filter((item) => item !== ""),
              })
            }
          />
        </span>
      ))}
      {kept.length < masks.length && (
        <Button size="small" color="inherit" sx={{ minHeight: 24, fontSize: 12 }} onClick={keepOut}>
          + keep out of…
        </Button>
      )}
    </div>
  );
}

function HowLarge({ scatter }: OfScatter) {
  const { document } = useProject();
  const readings = useReadings();
  const change = useScatterEdit(scatter);
  const choices = [
    { value: "", label: "nothing" },
    ...document.masks.map((mask) => ({ value: `mask:${mask.id}`, label: mask.name, group: "The mask" })),
    ...readings.map((item) => ({
      value: `reading:${item.name}`,
      label: item.title.toLowerCase(),
      group: "The reading",
    })),
  ];
  return (
    <div>
      <b>How large</b> <Token scatter={scatter} label="Smallest" field="size_low" unit="m" range={[0.05, 100, 0.05]} />{" "}
      to <Token scatter={scatter} label="Largest" field="size_high" unit="m" range={[0.05, 100, 0.05]} /> by{" "}
      <ChoiceToken
        label="Size by"
        value={scatter.size_by ?? ""}
        choices={choices}
        onChange={(value) => void change({ size_by: value })}
      />
      , give or take{" "}
      <Token scatter={scatter} label="Spread of sizes" field="spread" unit="%" range={[0, 100, 1]} times={100} />
    </div>
  );
}

function Delivered({ scatter }: OfScatter) {
  const change = useScatterEdit(scatter);
  return (
    <div>
      <b>Shown</b> in{" "}
      <ColourToken
        label={`Colour of ${scatter.name}`}
        value={scatter.colour ?? SCATTERED}
        onCommit={(colour) => void change({ colour })}
      />{" "}
      and <b>delivered</b>{" "}
      <ChoiceToken
        label="How the density is delivered"
        value={scatter.deliver === false ? "none" : String(scatter.bits ?? 8)}
        choices={[
          { value: "8", label: "as a density map of 8 bits" },
          { value: "16", label: "as a density map of 16 bits" },
          { value: "none", label: "not at all" },
        ]}
        onChange={(value) =>
          void change(value === "none" ? { deliver: false } : { deliver: true, bits: value === "16" ? 16 : 8 })
        }
      />
      {scatter.deliver !== false && (
        <>
          {" "}
          with points as{" "}
          <ChoiceToken
            label="Form of the point list"
            value={scatter.points_format ?? "csv"}
            choices={[
              { value: "csv", label: "CSV" },
              { value: "geojson", label: "GeoJSON" },
              { value: "ply", label: "PLY" },
              { value: "none", label: "no list" },
            ]}
            onChange={(value) => void change({ points_format: value as NonNullable<Scatter["points_format"]> })}
          />
        </>
      )}
    </div>
  );
}
