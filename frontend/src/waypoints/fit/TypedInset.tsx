import { Box, Button, Checkbox, FormControlLabel, MenuItem, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { sentence } from "../../api/client";
import { useTypedNumbers } from "../../document/queries";
import type { Fit, Typed, TypedNumbers } from "../../api/types";
import { Inset } from "../../kit/Card";
import { MONO } from "../../kit/theme";
import { trim } from "../../kit/numbers";

interface TypedProps {
  number: number;
  fit: Fit;
  busy: boolean;
  onCheck: (typed: Typed) => void;
}

interface Place {
  east: string;
  north: string;
  height: string;
  strongest: string;
}

/** What was typed at the target and read off there: to be checked in place of the note. */
export function TypedInset({ number, fit, busy, onCheck }: TypedProps) {
  const [open, setOpen] = useState(false);
  const asked = useTypedNumbers(open ? number : null);
  const before = fit.typed_in;
  if (!open)
    return (
      <Inset>
        <Typography variant="body2" color="textSecondary">
          Is it in there already? Enter what was typed, and read off a few heights: they are checked, too.
        </Typography>
        <Button size="small" variant="outlined" color="inherit" sx={{ mt: 1 }} onClick={() => setOpen(true)}>
          Enter what I typed…
        </Button>
      </Inset>
    );
  if (asked.error)
    return (
      <Inset>
        <Typography variant="body2" color="error">
          {sentence(asked.error)}
        </Typography>
        <Button size="small" variant="outlined" color="inherit" sx={{ mt: 1 }} onClick={() => void asked.refetch()}>
          Read the note again
        </Button>
      </Inset>
    );
  if (!asked.data) return <Inset>Reading the note…</Inset>;
  return <Form key={number} asked={asked.data} before={before} busy={busy} onCheck={onCheck} />;
}

/** A number as people type it: a comma is a point, spaces group. */
function parsed(text: string): number | null {
  const plain = text
    .replace(/[\s\u202f]/g, "")
    .replace(",", ".")
    .replace("−", "-");
  if (plain === "") return null;
  const value = Number(plain);
  return Number.isFinite(value) ? value : NaN;
}

function Form({
  asked,
  before,
  busy,
  onCheck,
}: {
  asked: TypedNumbers;
  before: Typed | undefined;
  busy: boolean;
  onCheck: (typed: Typed) => void;
}) {
  const [numbers, setNumbers] = useState<Record<string, string>>(() =>
    Object.fromEntries(Object.entries(before?.numbers ?? {}).map(([name, value]) => [name, String(value)])),
  );
  const [left, setLeft] = useState<string[]>([...(before?.left_on ?? [])]);
  const [places, setPlaces] = useState<Place[]>(() => startingPlaces(asked, before));
  const wrong =
    Object.values(numbers).some((text) => Number.isNaN(parsed(text))) ||
    places.some((place) => [place.east, place.north, place.height].some((text) => Number.isNaN(parsed(text))));
  const send = () => {
    const points = places.flatMap((place) => {
      const [east, north, height] = [parsed(place.east), parsed(place.north), parsed(place.height)];
      if (east === null || north === null || height === null) return [];
      return [{ east, north, height, strongest: place.strongest }];
    });
    const typed = Object.entries(numbers).flatMap(([name, text]) => {
      const value = parsed(text);
      return value === null ? [] : [[name, value] as const];
    });
    onCheck({ numbers: Object.fromEntries(typed), left_on: left, points });
  };
  const put = (at: number, part: Partial<Place>) =>
    setPlaces(places.map((place, i) => (i === at ? { ...place, ...part } : place)));
  return (
    <Inset role="group" aria-label="What I typed">
      <Box
        component="table"
        sx={{ width: "100%", fontSize: 12.5, borderCollapse: "collapse", "& td": { py: 0.3, verticalAlign: "middle" } }}
      >
        <thead>
          <tr>
            <Box component="th" sx={{ textAlign: "left", fontWeight: 600 }}>
              Number
            </Box>
            <Box component="th" sx={{ textAlign: "right", fontWeight: 600, pr: 1 }}>
              On the note
            </Box>
            <Box component="th" sx={{ textAlign: "left", fontWeight: 600, width: 104 }}>
              I typed
            </Box>
          </tr>
        </thead>
        <tbody>
          {asked.numbers.map((item) => (
            <tr key={item.name}>
              <td>{item.title}</td>
              <Box component="td" sx={{ fontFamily: MONO, textAlign: "right", pr: 1, whiteSpace: "nowrap" }}>
                {Number(item.value.toPrecision(9))} {item.unit}
              </Box>
              <td>
                <Field
                  label={`${item.title}, typed`}
                  value={numbers[item.name] ?? ""}
                  hint="as noted"
                  onChange={(text) => setNumbers({ ...numbers, [item.name]: text })}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </Box>
      {asked.settings.length > 0 && (
        <Typography variant="body2" sx={{ fontWeight: 650, mt: 1.2 }}>
          Not set as the note says
        </Typography>
      )}
      {asked.settings.map((item) => (
        <FormControlLabel
          key={item.setting}
          sx={{ display: "flex", mr: 0, "& .MuiFormControlLabel-label": { fontSize: 12.5 } }}
          control={
            <Checkbox
              size="small"
              sx={{ py: 0.3 }}
              checked={left.includes(item.setting)}
              onChange={(_, on) => setLeft(on ? [...left, item.setting] : left.filter((one) => one !== item.setting))}
            />
          }
          label={`${item.setting} is not “${item.to}”`}
        />
      ))}
      <Typography variant="body2" sx={{ fontWeight: 650, mt: 1.2 }}>
        Read off there
      </Typography>
      <Typography variant="caption" color="textSecondary" component="div" sx={{ mb: 0.5 }}>
        Metres east and north in its own coordinates, the height shown there, and the strongest layer.
      </Typography>
      {places.map((place, at) => (
        <Box key={at} sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr 1.2fr", gap: 0.5, mb: 0.5 }}>
          <Field
            label={`Place ${at + 1}, east`}
            value={place.east}
            hint="east"
            onChange={(east) => put(at, { east })}
          />
          <Field
            label={`Place ${at + 1}, north`}
            value={place.north}
            hint="north"
            onChange={(north) => put(at, { north })}
          />
          <Field
            label={`Place ${at + 1}, height`}
            value={place.height}
            hint="height"
            onChange={(height) => put(at, { height })}
          />
          <TextField
            select
            size="small"
            value={place.strongest}
            onChange={(event) => put(at, { strongest: event.target.value })}
            slotProps={{
              htmlInput: { "aria-label": `Place ${at + 1}, strongest layer` },
              select: { displayEmpty: true },
              input: { sx: { fontSize: 12.5, height: 28 } },
            }}
          >
            <MenuItem value="">any layer</MenuItem>
            {asked.layers.map((name) => (
              <MenuItem key={name} value={name}>
                {name}
              </MenuItem>
            ))}
          </TextField>
        </Box>
      ))}
      <Button variant="contained" disabled={busy || wrong} onClick={send} sx={{ mt: 1 }}>
        Check what I typed
      </Button>
      {wrong && (
        <Typography variant="caption" color="error" component="div">
          Some of it is no number.
        </Typography>
      )}
    </Inset>
  );
}

/** Three places to begin with: those of the last check, or of the note, far apart. */
function startingPlaces(asked: TypedNumbers, before: Typed | undefined): Place[] {
  const kept = (before?.points ?? []).map((point) => ({
    east: String(point.east),
    north: String(point.north),
    height: String(point.height),
    strongest: point.strongest ?? "",
  }));
  const known = asked.places.map((place) => ({
    east: trimmed(place.east),
    north: trimmed(place.north),
    height: "",
    strongest: "",
  }));
  return [...kept, ...known].slice(0, Math.max(kept.length, 3));
}

function trimmed(value: number): string {
  return trim(value, 3).replace(/\u202f/g, "");
}

function Field({
  label,
  value,
  hint,
  onChange,
}: {
  label: string;
  value: string;
  hint: string;
  onChange: (text: string) => void;
}) {
  return (
    <TextField
      size="small"
      value={value}
      placeholder={hint}
      error={Number.isNaN(parsed(value))}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{
        htmlInput: { "aria-label": label, inputMode: "decimal" },
        input: { sx: { fontFamily: MONO, fontSize: 12.5, height: 28 } },
      }}
    />
  );
}
