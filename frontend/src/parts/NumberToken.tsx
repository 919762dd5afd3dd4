import { ButtonBase } from "@mui/material";
import { useRef, useState } from "react";
import { MONO, roles } from "../theme";
import { trim } from "../viewport/subjects";
import { NumberPopover } from "./NumberPopover";
import { useNumber, type NumberLimits } from "./useNumber";

export interface NumberTokenProps extends NumberLimits {
  label: string;
  unit: string;
  decimals?: number;
  /** What it was before anybody set it. */
  first?: number | undefined;
}

/** A number in a sentence: click for slider and field, drag sideways, arrow keys step (Alt: a tenth), Escape takes back. */
export function NumberToken(props: NumberTokenProps) {
  const { label, value, unit, min, max, step, decimals = 2, first, onCommit } = props;
  const { shown, move, keep, back, letGo, onKeyDown, onPointerDown, onPointerMove } = useNumber(props);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [text, setText] = useState("");
  const before = useRef(value);
  const open = (element: HTMLElement) => {
    before.current = value;
    setText(String(Number(shown.toFixed(4))));
    setAnchor(element);
  };
  const close = (how: "typed" | "escape" | "left") => {
    const parsed = Number(text.replace(",", "."));
    if (how === "typed" && text.trim() !== "" && Number.isFinite(parsed)) keep(parsed);
    if (how === "escape") {
      back();
      if (value !== before.current) void onCommit(before.current, false);
    }
    setAnchor(null);
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
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={(event) => {
          if (letGo()) open(event.currentTarget);
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
      <NumberPopover
        {...{ label, unit, min, max, step, anchor, shown, first, text }}
        onText={setText}
        onMove={move}
        onKeep={keep}
        onClose={close}
      />
    </>
  );
}
