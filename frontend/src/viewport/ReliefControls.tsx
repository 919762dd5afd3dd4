import { Box, Checkbox, FormControlLabel } from "@mui/material";
import { NumberToken } from "../kit/NumberToken";
import { useViewParts } from "./view";

interface NumberProps {
  label: string;
  unit: string;
  range: [number, number, number];
  value: number;
  first: number;
  onChange: (value: number) => void;
}

/** A number of the relief: dragged, stepped or typed; what is seen follows at once. */
function ReliefNumber({ label, unit, range: [min, max, step], value, first, onChange }: NumberProps) {
  return (
    <NumberToken
      label={label}
      value={value}
      unit={unit}
      min={min}
      max={max}
      step={step}
      decimals={step < 1 ? 1 : 0}
      first={first}
      onPreview={(moved) => onChange(moved ?? value)}
      onCommit={(kept) => {
        onChange(kept);
        return Promise.resolve(true);
      }}
    />
  );
}

function Check({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <FormControlLabel
      sx={{ ml: -0.8, mr: 1, "& .MuiFormControlLabel-label": { fontSize: 12, whiteSpace: "nowrap" } }}
      control={
        <Checkbox size="small" checked={on} onChange={(event) => onChange(event.target.checked)} sx={{ p: 0.4 }} />
      }
      label={label}
    />
  );
}

/** How high heights are drawn, and where the light comes from. */
export function ReliefControls() {
  const { exaggeration, sun, near, over, subject, set } = useViewParts(
    "exaggeration",
    "sun",
    "near",
    "over",
    "subject",
    "set",
  );
  const painted = subject.kind === "layers" || (subject.kind === "colour" && subject.map.startsWith("colour"));
  return (
    <Box
      sx={{
        width: 230,
        pointerEvents: "auto",
        bgcolor: "background.paper",
        borderRadius: 1.5,
        px: 1.5,
        pt: 0.6,
      }}
    >
      <Box sx={{ fontSize: 12.5, lineHeight: 2.1 }}>
        Heights{" "}
        <ReliefNumber
          label="Exaggeration of heights"
          unit="×"
          range={[0.5, 10, 0.1]}
          value={exaggeration}
          first={1.5}
          onChange={(value) => set({ exaggeration: value })}
        />{" "}
        as high, sun from{" "}
        <ReliefNumber
          label="Sun direction"
          unit="°"
          range={[0, 360, 5]}
          value={sun.azimuth}
          first={315}
          onChange={(azimuth) => set({ sun: { ...sun, azimuth } })}
        />{" "}
        and{" "}
        <ReliefNumber
          label="Sun height"
          unit="°"
          range={[1, 90, 1]}
          value={sun.altitude}
          first={45}
          onChange={(altitude) => set({ sun: { ...sun, altitude } })}
        />{" "}
        high
      </Box>
      {painted && (
        <Box sx={{ display: "flex" }}>
          <Check label="Textures close by" on={near} onChange={(on) => set({ near: on })} />
          {subject.kind === "colour" && near && (
            <Check label="Colour over" on={over} onChange={(on) => set({ over: on })} />
          )}
        </Box>
      )}
    </Box>
  );
}
