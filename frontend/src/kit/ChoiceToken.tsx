import { ButtonBase, ListSubheader, Menu, MenuItem } from "@mui/material";
import { useState } from "react";
import { roles } from "./theme";

export interface Choice {
  value: string;
  label: string;
  group?: string;
}

interface ChoiceTokenProps {
  label: string;
  value: string;
  choices: Choice[];
  /** What is written on it, where that may be shorter than the choice. */
  text?: string | undefined;
  onChange: (value: string) => void;
}

interface TokenButtonProps {
  label: string;
  text: string;
  onOpen: (anchor: HTMLElement) => void;
}

/** The token itself: a word in a sentence that opens what it can be swapped for. */
export function TokenButton({ label, text, onOpen }: TokenButtonProps) {
  return (
    <ButtonBase
      aria-label={label}
      aria-haspopup="menu"
      onClick={(event) => onOpen(event.currentTarget)}
      sx={{
        display: "inline-flex",
        verticalAlign: "baseline",
        fontSize: 13,
        fontWeight: 600,
        fontFamily: "inherit",
        px: 0.9,
        mx: 0.2,
        minHeight: 24,
        borderRadius: 1,
        bgcolor: roles.mossWash,
        color: "text.primary",
        "&:focus-visible": { outline: `2px solid ${roles.gentian}`, outlineOffset: 1 },
      }}
    >
      {text}
    </ButtonBase>
  );
}

/** A reading, mask or word in a sentence that can be swapped for another. */
export function ChoiceToken({ label, value, choices, text, onChange }: ChoiceTokenProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const chosen = choices.find((choice) => choice.value === value);
  return (
    <>
      <TokenButton
        label={`${label}: ${chosen?.label ?? text ?? "choose…"}`}
        text={text ?? chosen?.label ?? "choose…"}
        onOpen={setAnchor}
      />
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true, "aria-label": label } }}
      >
        {choices.flatMap((choice, i) => [
          ...(choice.group && choice.group !== choices[i - 1]?.group
            ? [
                <ListSubheader
                  role="presentation"
                  key={`g-${choice.group}`}
                  sx={{ lineHeight: "28px", bgcolor: "transparent" }}
                >
                  {choice.group}
                </ListSubheader>,
              ]
            : []),
          <MenuItem
            key={choice.value}
            selected={choice.value === value}
            onClick={() => {
              setAnchor(null);
              if (choice.value !== value) onChange(choice.value);
            }}
          >
            {choice.label}
          </MenuItem>,
        ])}
      </Menu>
    </>
  );
}
