import { Box, ButtonBase, Popover, Slider, TextField } from "@mui/material";
import { useRef, useState } from "react";
import { MONO, roles } from "../theme";
import { trim } from "../viewport/subjects";

export interface NumberTokenProps {
  label: string;
  value: number;
  unit: string;
  min: number;
  max: number;
  step: number;
  decimals?: number;
  /** While it moves; null: back to what is saved. */
  onPreview?: (value: number | null) => void;
  /** Saves it; resolves to false when it was refused. */
  onCommit: (value: number, keyStep: boolean) => Promise<boolean>;
}

const DRAG_PIXELS = 4;

/** A number in a sentence: click for slider and field, drag sideways, arrow keys step (Alt: a tenth), Escape takes back. */
export function NumberToken(props: NumberTokenProps) {
  const { label, value, unit, min, max, step, decimals = 2, onPreview, onCommit } = props;
  const [live, setLive] = useState<number | null>(null);
  // Steps come faster than they are saved: until all are answered, the next goes on from the last one made.
  const pending = useRef(0);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [text, setText] = useState("");
  const drag = useRef<{ x: number; from: number; moved: boolean } | null>(null);
  const before = useRef(value);
  const shown = live ?? value;

  const inside = (v: number) => Math.min(Math.max(v, min), max);
  const round = (v: number) => Number(inside(v).toFixed(6));
  const move = (v: number) => {
    const next = round(v);
    setLive(next);
    onPreview?.(next);
  };
  const keep = (v: number, keyStep = false) => {
    const next = round(v);
    if (next === value) {
      setLive(null);
      onPreview?.(null);
      return;
    }
    setLive(next);
    pending.current += 1;
    void onCommit(next, keyStep).then(() => {
      pending.current -= 1;
      if (pending.current === 0) setLive(null);
    });
  };
  const back = () => {
    drag.current = null;
    setLive(null);
    onPreview?.(null);
  };

  const onKeyDown = (event: React.KeyboardEvent<HTMLElement>) => {
    const fine = event.altKey ? 0.1 : event.shiftKey ? 10 : 1;
    const ways: Record<string, number> = {
      ArrowUp: 1,
      ArrowRight: 1,
      ArrowDown: -1,
      ArrowLeft: -1,
      PageUp: 10,
      PageDown: -10,
    };
    const way = ways[event.key];
    if (way !== undefined) {
      event.preventDefault();
      keep(shown + way * step * fine, true);
    } else if (event.key === "Escape" && live !== null) {
      event.stopPropagation();
      back();
    }
  };

  const open = (element: HTMLElement) => {
    before.current = value;
    setText(String(Number(shown.toFixed(4))));
    setAnchor(element);
  };
  const close = () => setAnchor(null);
  const typed = () => {
    const parsed = Number(text.replace(",", "."));
    if (text.trim() !== "" && Number.isFinite(parsed)) keep(parsed);
    close();
  };

  return (
    <>
      <ButtonBase
        role="spinbutton"
        aria-label={label}
        aria-valuenow={shown}
        aria-valuemin={min}
        aria-valuemax={max}
        aria-valuetext={`${trim(shown, decimals)} ${unit}`}
        onKeyDown={onKeyDown}
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          drag.current = { x: event.clientX, from: value, moved: false };
        }}
        onPointerMove={(event) => {
          const held = drag.current;
          if (!held) return;
          const dx = event.clientX - held.x;
          if (!held.moved && Math.abs(dx) < DRAG_PIXELS) return;
          held.moved = true;
          move(held.from + Math.round(dx / (event.altKey ? 20 : 3)) * step);
        }}
        onPointerUp={(event) => {
          const held = drag.current;
          drag.current = null;
          if (held?.moved && live !== null) keep(live);
          else if (held) open(event.currentTarget);
        }}
        onPointerCancel={back}
        onClick={(event) => {
          // Enter and Space arrive as clicks without a pointer.
          if (event.detail === 0) open(event.currentTarget);
        }}
        sx={{
          display: "inline-flex",
          verticalAlign: "baseline",
          fontFamily: MONO,
          fontSize: 12.5,
          fontWeight: 600,
          px: 0.8,
          mx: 0.2,
          minHeight: 24,
          minWidth: 24,
          borderRadius: 1,
          bgcolor: roles.gentianWash,
          color: roles.gentian,
          cursor: "ew-resize",
          touchAction: "none",
          whiteSpace: "nowrap",
          "&:focus-visible": { outline: `2px solid ${roles.gentian}`, outlineOffset: 1 },
        }}
      >
        {trim(shown, decimals)}
        {unit && (unit === "°" ? unit : `\u202f${unit}`)}
      </ButtonBase>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={(_, reason) => {
          if (reason === "escapeKeyDown") {
            back();
            if (value !== before.current) void onCommit(before.current, false);
          }
          close();
        }}
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
              move(v as number);
              setText(String(v as number));
            }}
            onChangeCommitted={(_, v) => keep(v as number)}
          />
          <TextField
            autoFocus
            label={unit || "value"}
            value={text}
            onChange={(event) => setText(event.target.value)}
            onFocus={(event) => event.target.select()}
            onKeyDown={(event) => {
              if (event.key !== "Enter") return;
              // Otherwise the token, focused again, would take the same key as a click.
              event.preventDefault();
              typed();
            }}
            sx={{ width: 96 }}
            slotProps={{
              htmlInput: {
                "aria-label": `${label}, typed`,
                inputMode: "decimal",
                style: { fontFamily: MONO },
              },
            }}
          />
        </Box>
      </Popover>
    </>
  );
}
