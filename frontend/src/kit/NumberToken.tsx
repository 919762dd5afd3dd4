import { ButtonBase } from "@mui/material";
import { useRef, useState } from "react";
import { MONO, roles } from "./theme";
import { trim } from "./numbers";
import { NumberPopover, parsedNumber } from "./NumberPopover";
import { useNumber, type NumberLimits } from "./useNumber";

export interface NumberTokenProps extends NumberLimits {
  label: string;
  unit: string;
  decimals?: number;
  /** What it was before anybody set it. */
  first?: number | undefined;
  /** What stands at its limits, where that is something else of the same sentence. */
  bounds?: { min?: string; max?: string };
}

/** A number in a sentence: click for slider and field, drag sideways, arrow keys step (Alt: a tenth), Escape takes back. */
export function NumberToken(props: NumberTokenProps) {
  const { label, value, unit, min, max, step, decimals = 2, first, bounds, onCommit } = props;
  const { shown, move, keep, back, letGo, onKeyDown, onPointerDown, onPointerMove } = useNumber(props);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [text, setText] = useState("");
  /** Whether it was opened by typing: what is typed goes on, instead of replacing what is chosen. */
  const [begun, setBegun] = useState(false);
  const before = useRef(value);
  const open = (element: HTMLElement, begin?: string) => {
    before.current = value;
    setText(begin ?? String(Number(shown.toFixed(4))));
    setBegun(begin !== undefined);
    setAnchor(element);
  };
  const close = (how: "typed" | "escape" | "left") => {
    const parsed = parsedNumber(text);
    if (how === "typed" && parsed !== null) keep(parsed);
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
        aria-valuemin={Number.isFinite(min) ? min : undefined}
        aria-valuemax={Number.isFinite(max) ? max : undefined}
        aria-valuetext={`${trim(shown, decimals)} ${unit}`}
        onKeyDown={(event) => {
          const plain = !event.ctrlKey && !event.metaKey && !event.altKey;
          if (!plain || !/^[0-9.,-]$/.test(event.key)) return onKeyDown(event);
          // A digit edits the number; to the page it would be a waypoint.
          event.preventDefault();
          event.stopPropagation();
          open(event.currentTarget, event.key);
        }}
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
        {...{ label, unit, min, max, step, anchor, shown, first, text, begun, bounds }}
        onText={setText}
        onMove={move}
        onKeep={keep}
        onClose={close}
      />
    </>
  );
}
