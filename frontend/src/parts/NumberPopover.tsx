import { Box, Button, Popover, Slider, TextField } from "@mui/material";
import { MONO } from "../theme";
import { trim } from "../viewport/subjects";

interface NumberPopoverProps {
  label: string;
  unit: string;
  min: number;
  max: number;
  step: number;
  anchor: HTMLElement | null;
  shown: number;
  /** What it was before anybody set it: one click brings it back. */
  first?: number | undefined;
  text: string;
  onText: (text: string) => void;
  onMove: (value: number) => void;
  onKeep: (value: number) => void;
  /** By Enter what was typed holds; by Escape all is taken back. */
  onClose: (how: "typed" | "escape" | "left") => void;
}

/** Slider and field of a number, beside its token. */
export function NumberPopover(props: NumberPopoverProps) {
  const { label, unit, min, max, step, anchor, shown, first, text, onText, onMove, onKeep, onClose } = props;
  return (
    <Popover
      open={anchor !== null}
      anchorEl={anchor}
      onClose={(_, reason) => onClose(reason === "escapeKeyDown" ? "escape" : "left")}
      anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      slotProps={{ paper: { sx: { p: 1.5, width: 250, border: 1, borderColor: "divider" } } }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
        <Slider
          size="small"
          color="secondary"
          aria-label={`${label}, slider`}
          min={min}
          max={max}
          step={step}
          value={shown}
          onChange={(_, v) => {
            onMove(v as number);
            onText(String(v as number));
          }}
          onChangeCommitted={(_, v) => onKeep(v as number)}
        />
        <TextField
          autoFocus
          label={unit || "value"}
          value={text}
          onChange={(event) => onText(event.target.value)}
          onFocus={(event) => event.target.select()}
          onKeyDown={(event) => {
            if (event.key !== "Enter") return;
            // Otherwise the token, focused again, would take the same key as a click.
            event.preventDefault();
            onClose("typed");
          }}
          sx={{ width: 96 }}
          slotProps={{
            htmlInput: { "aria-label": `${label}, typed`, inputMode: "decimal", style: { fontFamily: MONO } },
          }}
        />
      </Box>
      {first !== undefined && Math.abs(first - shown) > step / 1000 && (
        <Button
          size="small"
          color="inherit"
          sx={{ mt: 0.5, minHeight: 24 }}
          onClick={() => {
            onText(String(first));
            onKeep(first);
          }}
        >
          As at first: {trim(first, 4)}
          {unit && (unit === "°" ? unit : ` ${unit}`)}
        </Button>
      )}
    </Popover>
  );
}
