import { Box, Button, ButtonBase, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { useReadings, useStats } from "../api/queries";
import type { Reading } from "../api/types";
import { Card, Heading } from "../parts/Card";
import { NumberToken } from "../parts/NumberToken";
import { firstBand } from "../masks/band";
import { newId, useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { MONO, roles } from "../theme";
import { MapThumb } from "../viewport/MapThumb";
import { trim } from "../viewport/subjects";
import { short } from "../masks/band";
import { PlainHistogram } from "./PlainHistogram";

const FAMILIES: [string, string][] = [
  ["relief", "Relief"],
  ["light", "Light"],
  ["water", "Water"],
];

export function ReadingsCard() {
  const readings = useReadings();
  const { subject, show } = useView();
  const [chosen, setChosen] = useState(subject.kind === "reading" ? subject.name : "slope");
  const over = subject.kind === "reading" ? subject.over : true;
  useEffect(() => show({ kind: "reading", name: chosen, over }), [chosen, over, show]);
  const reading = readings.find((item) => item.name === chosen);
  return (
    <Card title="Readings" sub="What can be measured on this ground." foot={reading && <Foot reading={reading} />}>
      {FAMILIES.map(([family, title]) => (
        <Box key={family}>
          <Heading>{title}</Heading>
          <Box
            component="ul"
            aria-label={title}
            sx={{
              display: "grid",
              gridTemplateColumns: "repeat(4, minmax(0, 1fr))",
              gap: 1,
              p: 0,
              m: 0,
              listStyle: "none",
            }}
          >
            {readings
              .filter((item) => item.family === family)
              .map((item) => (
                <li key={item.name}>
                  <ButtonBase
                    aria-pressed={item.name === chosen}
                    onClick={() => setChosen(item.name)}
                    sx={{
                      display: "block",
                      textAlign: "left",
                      width: "100%",
                      borderRadius: 1.2,
                      p: "2px",
                      fontFamily: "inherit",
                      fontSize: 12,
                      outline: item.name === chosen ? `2px solid ${roles.gentian}` : "2px solid transparent",
                      "&:focus-visible": { outline: `2px dashed ${roles.gentian}` },
                    }}
                  >
                    <MapThumb
                      subject={{ kind: "reading", name: item.name, over: item.name === "height" }}
                      width="100%"
                      height={54}
                    />
                    {item.title}
                  </ButtonBase>
                </li>
              ))}
          </Box>
        </Box>
      ))}
      {reading && <Numbers reading={reading} />}
      <Typography variant="caption" color="textSecondary" sx={{ display: "block", mt: 1.5 }}>
        Curvature, occlusion, erosion, noise and more come later; masks can be built on what is here.
      </Typography>
    </Card>
  );
}

function Numbers({ reading }: { reading: Reading }) {
  const stats = useStats(`reading:${reading.name}`);
  const data = stats.data;
  const unit = (value: number) => {
    const text = reading.scale === "log" ? short(value) : trim(value, reading.decimals);
    return reading.unit === "°" ? `${text}°` : `${text} ${reading.unit}`.trim();
  };
  return (
    <>
      <Heading aside={reading.scale === "log" ? "even on the logarithm" : undefined}>How it is spread</Heading>
      {data && <PlainHistogram stats={data} label={`Histogram of ${reading.title.toLowerCase()}`} />}
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, 1fr)", fontSize: 12, mt: 0.5, gap: 0.5 }}>
        {(
          [
            ["Least", data?.low],
            ["Mean", data?.mean],
            ["90 % below", data?.below_90],
            ["Most", data?.high],
          ] as const
        ).map(([title, value]) => (
          <div key={title}>
            <Typography variant="caption" color="textSecondary">
              {title}
            </Typography>
            <Box sx={{ fontFamily: MONO, fontSize: 12.5 }}>{value === undefined ? "…" : unit(value)}</Box>
          </div>
        ))}
      </Box>
    </>
  );
}

function Foot({ reading }: { reading: Reading }) {
  const { document, id } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const stats = useStats(`reading:${reading.name}`);
  const go = useNavigate();
  const { ground } = document;
  const start = async () => {
    const mask = newId("mask");
    const taken = new Set(document.masks.map((item) => item.name.toLowerCase()));
    let name = `By ${reading.title.toLowerCase()}`;
    for (let i = 2; taken.has(name.toLowerCase()); i++) name = `By ${reading.title.toLowerCase()} ${i}`;
    const line = {
      id: newId("line"),
      verb: "take",
      muted: false,
      strength: 1,
      source: firstBand(reading, stats.data),
    } as const;
    if (await edit([{ op: "add_mask", mask: { id: mask, name, lines: [line] } }])) {
      set({ selectedMask: mask, selectedLine: line.id });
      await go(`/project/${id}/masks`);
    }
  };
  const width = Math.max(ground.slope_width ?? 0, ground.spacing_x, ground.spacing_y);
  return (
    <>
      <Typography variant="body2">
        <b>{reading.title}</b> {reading.sentence} {reading.good_for}
      </Typography>
      {reading.name === "slope" && (
        <Typography variant="body2" sx={{ mt: 0.7 }}>
          Measured over{" "}
          <NumberToken
            label="Width of slope"
            value={width}
            unit="m"
            min={Math.max(ground.spacing_x, ground.spacing_y)}
            max={500}
            step={1}
            onCommit={(v, key) =>
              edit([{ op: "set_ground", no_water: false, slope_width: v }], {
                merge: key ? "slope-width" : "",
              })
            }
          />{" "}
          to either side.
        </Typography>
      )}
      <Button variant="contained" sx={{ mt: 1 }} onClick={() => void start()}>
        Start a mask from it
      </Button>
    </>
  );
}
