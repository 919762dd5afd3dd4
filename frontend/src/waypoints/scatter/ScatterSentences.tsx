import { named, readName } from "../../api/mapNames";
import { Box, Button, Menu, MenuItem } from "@mui/material";
import { useState } from "react";
import { useReadings } from "../../document/queries";
import type { Operation, Scatter } from "../../api/types";
import { ChoiceToken, type Choice } from "../../kit/ChoiceToken";
import { ColourToken } from "../../kit/ColourToken";
import { NumberToken } from "../../kit/NumberToken";
import { SeedToken } from "../../kit/SeedToken";
import { useProject } from "../../document/document";
import { pointPreviews } from "../../viewport/pointPreview";
import { previews } from "../../viewport/preview";
import { SCATTERED } from "../../kit/theme";
import { trialPoints } from "../../viewport/trials";
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
  const state = useProject();
  const change = useScatterEdit(scatter);
  const changed = (value: number): Operation[] => [
    { op: "set_scatter", scatter: { ...scatter, [field]: value / times } },
  ];
  const preview = (value: number | null) => {
    if (value === null) {
      previews.clear();
      pointPreviews.clear();
    } else {
      previews.ask(state.id, named.scatter(scatter.id), changed(value));
      pointPreviews.ask(state.id, scatter.id, changed(value));
    }
  };
  const token = {
    label,
    value: Number((Number(scatter[field]) * times).toFixed(4)),
    unit,
    min,
    max,
    step,
    decimals: step < 1 ? 2 : 0,
    onPreview: preview,
    onCommit: async (v: number, key: boolean) => {
      const saved = await change({ [field]: v / times }, key ? field : "");
      preview(null);
      return saved;
    },
  };
  if (field === "seed") {
    const tried = (seed: number) => ({
      id: scatter.id,
      colour: scatter.colour ?? SCATTERED,
      operations: changed(seed),
    });
    return <SeedToken {...token} picture={(seed, slot, signal) => trialPoints(state, tried(seed), slot, signal)} />;
  }
  return <NumberToken {...token} />;
}
function Where({ scatter }: OfScatter) {
  const { document } = useProject();
  const change = useScatterEdit(scatter);
  const masks = document.masks.map((mask) => ({ value: mask.id, label: mask.name }));
  const kept = scatter.keep_out ?? [];
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
      <KeptClear scatter={scatter} />
      <AskWhich
        label="+ keep out of…"
        choices={masks.filter((mask) => !kept.includes(mask.value) && mask.value !== scatter.mask)}
        onChoose={(mask) => void change({ keep_out: [...kept, mask] })}
      />
    </div>
  );
}

/** What nothing stands near: drawn lines and masks, each with a distance of its own. */
function KeptClear({ scatter }: OfScatter) {
  const { document } = useProject();
  const change = useScatterEdit(scatter);
  const clear = scatter.clear ?? [];
  const things = [
    ...(document.features ?? []).map((item) => ({ value: `feature:${item.id}`, label: item.name, group: "Drawn" })),
    ...document.masks.map((item) => ({
      value: named.mask(item.id),
      label: item.name,
      group: "Where the mask is strong",
    })),
  ];
  const chosen = (value: string): { of: "feature" | "mask"; id: string } => {
    const name = readName(value);
    return name?.kind === "mask" ? { of: "mask", id: name.mask } : { of: "feature", id: value.replace("feature:", "") };
  };
  return (
    <>
      {clear.map((item, i) => (
        <span key={`${item.of}:${item.id}`}>
          , none within{" "}
          <NumberToken
            label={`Distance ${i + 1}`}
            value={item.distance ?? 10}
            unit="m"
            min={0}
            max={2000}
            step={0.5}
            decimals={1}
            onCommit={(distance, key) =>
              change({ clear: clear.map((one, k) => (k === i ? { ...one, distance } : one)) }, key ? `clear${i}` : "")
            }
          />{" "}
          of{" "}
          <ChoiceToken
            label={`Kept clear ${i + 1}`}
            value={`${item.of}:${item.id}`}
            choices={[...things, { value: "", label: "(allow it)" }]}
            onChange={(value) =>
              void change({
                clear: clear.flatMap((one, k) =>
                  k !== i ? [one] : value === "" ? [] : [{ ...one, ...chosen(value) }],
                ),
              })
            }
          />
        </span>
      ))}
      <AskWhich
        label="+ keep away from…"
        choices={things.filter((thing) => !clear.some((item) => `${item.of}:${item.id}` === thing.value))}
        onChoose={(value) => void change({ clear: [...clear, { ...chosen(value), distance: 10 }] })}
      />
    </>
  );
}

interface AskWhichProps {
  label: string;
  choices: Choice[];
  onChoose: (value: string) => void;
}

/** Something more, asked for before it is added. */
function AskWhich({ label, choices, onChoose }: AskWhichProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  if (choices.length === 0) return null;
  return (
    <>
      <Button
        size="small"
        color="inherit"
        aria-haspopup="menu"
        sx={{ minHeight: 24, fontSize: 12 }}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        {label}
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {choices.map((choice) => (
          <MenuItem
            key={choice.value}
            dense
            onClick={() => {
              setAnchor(null);
              onChoose(choice.value);
            }}
          >
            {choice.label}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

function HowLarge({ scatter }: OfScatter) {
  const { document } = useProject();
  const readings = useReadings();
  const change = useScatterEdit(scatter);
  const choices = [
    { value: "", label: "nothing" },
    ...document.masks.map((mask) => ({ value: named.mask(mask.id), label: mask.name, group: "The mask" })),
    ...readings.map((item) => ({
      value: named.reading(item.name),
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
