import { Box, ButtonBase } from "@mui/material";
import { roles } from "../theme";

interface SegmentsProps<T extends string> {
  label: string;
  options: { value: T; label: string }[];
  value: T;
  onChange: (value: T) => void;
}

/** A choice of a few, always all visible. */
export function Segments<T extends string>({ label, options, value, onChange }: SegmentsProps<T>) {
  return (
    <Box
      role="radiogroup"
      aria-label={label}
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
            onClick={() => onChange(option.value)}
            sx={{
              px: 1.4,
              height: 28,
              fontSize: 13,
              fontFamily: "inherit",
              borderRight: 1,
              borderColor: "divider",
              "&:last-of-type": { borderRight: 0 },
              bgcolor: chosen ? roles.ink : "transparent",
              color: chosen ? roles.card : "text.primary",
              "&:focus-visible": { outline: `2px solid ${roles.gentian}`, outlineOffset: -2 },
            }}
          >
            {option.label}
          </ButtonBase>
        );
      })}
    </Box>
  );
}
