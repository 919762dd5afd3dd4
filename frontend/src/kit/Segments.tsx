import { Box, ButtonBase } from "@mui/material";
import { roles } from "./theme";

interface SegmentsProps<T extends string> {
  label: string;
  options: { value: T; label: string }[];
  value: T;
  onChange: (value: T) => void;
}

const STEPS: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };

/** A choice of a few, always all visible: one stop for the Tab key, arrow keys go round. */
export function Segments<T extends string>({ label, options, value, onChange }: SegmentsProps<T>) {
  const at = options.findIndex((option) => option.value === value);
  const onKeyDown = (event: React.KeyboardEvent<HTMLElement>) => {
    const step = STEPS[event.key];
    const next = step && options[(Math.max(at, 0) + step + options.length) % options.length];
    if (!next) return;
    event.preventDefault();
    event.stopPropagation();
    onChange(next.value);
    event.currentTarget.querySelector<HTMLElement>(`[data-value="${next.value}"]`)?.focus();
  };
  return (
    <Box
      role="radiogroup"
      aria-label={label}
      onKeyDown={onKeyDown}
      sx={{
        display: "inline-flex",
        border: 1,
        borderColor: "divider",
        borderRadius: 1.2,
        overflow: "hidden",
        bgcolor: "background.paper",
        flexShrink: 0,
      }}
    >
      {options.map((option) => {
        const chosen = option.value === value;
        return (
          <ButtonBase
            key={option.value}
            role="radio"
            aria-checked={chosen}
            data-value={option.value}
            tabIndex={chosen || (at < 0 && option === options[0]) ? 0 : -1}
            onClick={() => onChange(option.value)}
            sx={{
              px: 1.15,
              height: 28,
              fontSize: 13,
              fontFamily: "inherit",
              borderRight: 1,
              borderColor: "divider",
              "&:last-of-type": { borderRight: 0 },
              bgcolor: chosen ? roles.ink : "transparent",
              color: chosen ? roles.card : "text.primary",
              "&.Mui-focusVisible, &:focus-visible": {
                outline: `2px solid ${chosen ? roles.card : roles.gentian}`,
                outlineOffset: -3,
                boxShadow: "none",
              },
            }}
          >
            {option.label}
          </ButtonBase>
        );
      })}
    </Box>
  );
}
