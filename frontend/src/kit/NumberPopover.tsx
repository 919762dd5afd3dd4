import { Box, Button, Popover, Slider, TextField, Typography } from "@mui/material";
import { useEffect, useRef } from "react";
import { MONO } from "./theme";
import { trim } from "./numbers";

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
  /** Whether the text was begun by the key that opened it. */
  begun: boolean;
  /** What stands at the limits. */
  bounds?: { min?: string; max?: string } | undefined;
  onText: (text: string) => void;
  onMove: (value: number) => void;
  onKeep: (value: number) => void;
  /** By Enter what was typed holds; by Escape all is taken back. */
  onClose: (how: "typed" | "escape" | "left") => void;
}

/** A number as it is typed, with comma or point; null: none. */
export function parsedNumber(text: string): number | null {
  const parsed = Number(text.trim().replace(",", "."));
  return text.trim() !== "" && Number.isFinite(parsed) ? parsed : null;
}

/** Why what is typed cannot be taken: nothing is moved to fit it. */
function refusal(text: string, { min, max, unit, bounds }: NumberPopoverProps): string | null {
  const parsed = parsedNumber(text);
  if (parsed === null) return text.trim() === "" || text === "-" ? null : "This is no number.";
  const said = (limit: number, what: string | undefined) =>
    `${trim(limit, 4)}${unit === "°" ? unit : unit && ` ${unit}`}${what ? `, ${what}` : ""}`;
  // As many digits as are kept.
  if (parsed < min - 1e-6) return `At least ${said(min, bounds?.min)}.`;
  return parsed > max + 1e-6 ? `At most ${said(max, bounds?.max)}.` : null;
}

/** Slider and field of a number, beside its token. */
export function NumberPopover(props: NumberPopoverProps) {
  const { label, unit, min, max, step, anchor, shown, first, text, begun, onText, onMove, onKeep, onClose } = props;
  const wrong = refusal(text, props);
  /** What was entered and could not be taken. It is, once what refused it gives way: a limit that was not known yet, or
   * the other edge, still on its way to the server. */
  const entered = useRef<string | null>(null);
  const leave = (how: "typed" | "escape" | "left") => {
    entered.current = null;
    onClose(how);
  };
  useEffect(() => {
    if (wrong === null && entered.current === text) leave("typed");
  });
  return (
    <Popover
      open={anchor !== null}
      anchorEl={anchor}
      onClose={(_, reason) => leave(reason === "escapeKeyDown" ? "escape" : "left")}
      anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      slotProps={{ paper: { sx: { p: 1.5, width: 250, border: 1, borderColor: "divider" } } }}
    >
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
        <Slider
          size="small"
          color="secondary"
          aria-label={`${label}, slider`}
          disabled={!Number.isFinite(max - min)}
          min={Number.isFinite(min) ? min : shown}
          max={Number.isFinite(max) ? max : shown}
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
          onChange={(event) => {
            entered.current = null;
            onText(event.target.value);
          }}
          error={wrong !== null}
          onFocus={(event) => {
            if (!begun) event.target.select();
          }}
          onKeyDown={(event) => {
            if (event.key !== "Enter") return;
            // Otherwise the token, focused again, would take the same key as a click.
            event.preventDefault();
            if (wrong === null) leave("typed");
            else entered.current = text;
          }}
          sx={{ width: 96 }}
          slotProps={{
            htmlInput: { "aria-label": `${label}, typed`, inputMode: "decimal", style: { fontFamily: MONO } },
          }}
        />
      </Box>
      {wrong && (
        <Typography role="alert" variant="caption" color="error" sx={{ display: "block", mt: 0.8 }}>
          {wrong}
        </Typography>
      )}
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
