import { Box, Checkbox, FormControlLabel, Slider, Typography } from "@mui/material";
import { useView } from "../state/view";

interface NamedSliderProps {
  title: string;
  label: string;
  range: [number, number, number];
  value: number;
  onChange: (value: number) => void;
}

function NamedSlider({ title, label, range: [min, max, step], value, onChange }: NamedSliderProps) {
  return (
    <Box sx={{ flex: 1 }}>
      <Typography variant="caption">{title}</Typography>
      <Slider
        size="small"
        aria-label={label}
        min={min}
        max={max}
        step={step}
        value={value}
        onChange={(_, moved) => onChange(moved as number)}
        sx={{ display: "block", py: 0.8 }}
      />
    </Box>
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
  const { exaggeration, sun, near, over, subject, set } = useView();
  const painted = subject.kind === "layers" || (subject.kind === "colour" && subject.map.startsWith("colour"));
  return (
    <Box
      sx={{
        position: "absolute",
        right: 12,
        bottom: 12,
        width: 230,
        bgcolor: "background.paper",
        borderRadius: 1.5,
        px: 1.5,
        pt: 0.6,
      }}
    >
      <NamedSlider
        title={`Heights ${exaggeration.toFixed(1)}× as high`}
        label="Exaggeration of heights"
        range={[0.5, 4, 0.1]}
        value={exaggeration}
        onChange={(value) => set({ exaggeration: value })}
      />
      {painted && (
        <Box sx={{ display: "flex" }}>
          <Check label="Textures close by" on={near} onChange={(on) => set({ near: on })} />
          {subject.kind === "colour" && near && (
            <Check label="Colour over" on={over} onChange={(on) => set({ over: on })} />
          )}
        </Box>
      )}
      <Box sx={{ display: "flex", gap: 1.5 }}>
        <NamedSlider
          title={`Sun from ${sun.azimuth}°`}
          label="Sun direction"
          range={[0, 360, 5]}
          value={sun.azimuth}
          onChange={(azimuth) => set({ sun: { ...sun, azimuth } })}
        />
        <NamedSlider
          title={`${sun.altitude}° high`}
          label="Sun height"
          range={[5, 85, 5]}
          value={sun.altitude}
          onChange={(altitude) => set({ sun: { ...sun, altitude } })}
        />
      </Box>
    </Box>
  );
}
