import { Box, Button, IconButton } from "@mui/material";
import CloseIcon from "@mui/icons-material/Close";
import { useState } from "react";
import { useReadings, useStats } from "../api/queries";
import type { Band, Step } from "../api/types";
import { BandEditor } from "../masks/BandEditor";
import { firstBand } from "../masks/band";
import { firstReading } from "../masks/lines";
import { ChoiceToken } from "../parts/ChoiceToken";
import { useDocument } from "../state/document";

/** "Only where": bands of readings of the ground before the step; the step acts where all of them hold. */
export function StepWhere({ step, index }: { step: Step; index: number }) {
  const edit = useDocument((store) => store.edit);
  const readings = useReadings();
  const bands = step.where ?? [];
  const [open, setOpen] = useState<number | null>(null);
  const set = (where: Band[], key = false) =>
    edit([{ op: "set_step", step: { ...step, where } }], { merge: key ? `where:${step.id}` : "", what: "only where" });
  const first = firstReading(readings);
  const stats = useStats(first ? `at:${index}:${first.name}` : null);
  const add = () => {
    if (!first) return;
    const band = firstBand(first, stats.data);
    void set([...bands, band]);
    setOpen(bands.length);
  };
  return (
    <Box sx={{ fontSize: 13 }}>
      {bands.map((band, i) => (
        <WhereBand
          key={i}
          band={band}
          index={index}
          open={open === i}
          onOpen={() => setOpen(open === i ? null : i)}
          onChange={(next, key) =>
            set(
              bands.map((item, k) => (k === i ? next : item)),
              key,
            )
          }
          onRemove={() => void set(bands.filter((_, k) => k !== i))}
        />
      ))}
      <Button size="small" color="inherit" onClick={add} sx={{ px: 0.5, minHeight: 24, fontSize: 12 }}>
        {bands.length ? "+ and only where…" : "+ only where…"}
      </Button>
    </Box>
  );
}

interface WhereBandProps {
  band: Band;
  index: number;
  open: boolean;
  onOpen: () => void;
  onChange: (band: Band, key: boolean) => Promise<boolean>;
  onRemove: () => void;
}

function WhereBand({ band, index, open, onOpen, onChange, onRemove }: WhereBandProps) {
  const readings = useReadings();
  const reading = readings.find((item) => item.name === band.reading);
  const stats = useStats(open ? `at:${index}:${band.reading}` : null);
  if (!reading) return null;
  const edge = (value: number) =>
    `${Number(value.toFixed(1))}${reading.unit === "°" ? "°" : ` ${reading.unit}`}`.trim();
  return (
    <Box>
      <Box sx={{ display: "flex", alignItems: "center" }}>
        <span>
          only where{" "}
          <ChoiceToken
            label="Reading"
            value={band.reading}
            choices={readings
              .filter((item) => !item.params.some((param) => param.kind === "map" || param.kind === "file"))
              .map((item) => ({ value: item.name, label: item.title.toLowerCase() }))}
            onChange={(name) => {
              const next = readings.find((item) => item.name === name);
              if (next) void onChange(firstBand(next, undefined), false);
            }}
          />
        </span>
        <Button size="small" color="inherit" aria-expanded={open} onClick={onOpen} sx={{ fontSize: 12, minHeight: 24 }}>
          {edge(band.low)} to {edge(band.high)}
        </Button>
        <Box sx={{ flex: 1 }} />
        <IconButton sx={{ width: 24, height: 24 }} aria-label="No longer limited to it" onClick={onRemove}>
          <CloseIcon sx={{ fontSize: 14 }} />
        </IconButton>
      </Box>
      {open && stats.data && (
        <BandEditor
          band={band}
          reading={reading}
          stats={stats.data}
          onPreview={() => undefined}
          onCommit={(next, key) => onChange(next, key)}
        />
      )}
    </Box>
  );
}
