import { Box, ButtonBase, InputBase, Popover } from "@mui/material";
import { useState } from "react";
import { TokenButton, type Choice } from "../kit/ChoiceToken";
import { roles } from "../kit/theme";
import type { Subject } from "./subjects/subject";
import { MapThumb } from "./MapThumb";
import { lately, used } from "../kit/lately";

/** Something that a line can read: what it looks like, and words by which it is found. */
export interface SourceChoice extends Choice {
  subject?: Subject;
  words?: string;
}

interface SourcePickerProps {
  label: string;
  value: string;
  choices: SourceChoice[];
  text?: string | undefined;
  onChange: (value: string) => void;
}

/** What a line reads, chosen from pictures: found by words, by family, what was used lately first. */
export function SourcePicker({ label, value, choices, text, onChange }: SourcePickerProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const chosen = choices.find((choice) => choice.value === value);
  return (
    <>
      <TokenButton
        label={`${label}: ${chosen?.label ?? "choose…"}`}
        text={text ?? chosen?.label ?? "choose…"}
        onOpen={setAnchor}
      />
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
        slotProps={{ paper: { sx: { width: 412, maxHeight: 520, p: 1.5 } } }}
      >
        {anchor && (
          <Choices
            label={label}
            value={value}
            choices={choices}
            onChoose={(next) => {
              setAnchor(null);
              used(next);
              if (next !== value) onChange(next);
            }}
          />
        )}
      </Popover>
    </>
  );
}

interface ChoicesProps {
  label: string;
  value: string;
  choices: SourceChoice[];
  onChoose: (value: string) => void;
}

function Choices({ label, value, choices, onChoose }: ChoicesProps) {
  const [find, setFind] = useState("");
  const words = find.trim().toLowerCase();
  const found = choices.filter((choice) => `${choice.label} ${choice.words ?? ""}`.toLowerCase().includes(words));
  const recent = words ? [] : lately().flatMap((name) => found.find((choice) => choice.value === name) ?? []);
  const groups = [...new Set(found.map((choice) => choice.group ?? ""))];
  const onKeyDown = (event: React.KeyboardEvent<HTMLElement>) => {
    const way = { ArrowDown: 3, ArrowUp: -3, ArrowRight: 1, ArrowLeft: -1 }[event.key];
    const field = event.target instanceof HTMLInputElement;
    if (way === undefined || (field && Math.abs(way) === 1)) return;
    event.preventDefault();
    const items = [...event.currentTarget.querySelectorAll<HTMLElement>('[role="menuitem"]')];
    const at = items.indexOf(document.activeElement as HTMLElement);
    items[at < 0 ? 0 : Math.min(Math.max(at + way, 0), items.length - 1)]?.focus();
  };
  const tiles = (title: string, items: SourceChoice[]) =>
    items.length > 0 && (
      <Box key={title} role="group" aria-label={title}>
        <Box sx={{ fontSize: 12, color: "text.secondary", mt: 1, mb: 0.4 }}>{title}</Box>
        <Box sx={{ display: "grid", gridTemplateColumns: "repeat(3, minmax(0, 1fr))", gap: 0.8 }}>
          {items.map((choice) => (
            <Tile key={choice.value} choice={choice} chosen={choice.value === value} onChoose={onChoose} />
          ))}
        </Box>
      </Box>
    );
  return (
    <Box onKeyDown={onKeyDown}>
      <InputBase
        autoFocus
        fullWidth
        value={find}
        placeholder="Find a reading, a mask, a drawn line"
        onChange={(event) => setFind(event.target.value)}
        inputProps={{ "aria-label": `Find: ${label}` }}
        sx={{ border: `1px solid ${roles.rule}`, borderRadius: 5, px: 1.4, fontSize: 13, height: 32 }}
      />
      <Box role="menu" aria-label={label}>
        {found.length === 0 && (
          <Box sx={{ fontSize: 13, py: 2 }}>Nothing here is called or does anything like that.</Box>
        )}
        {tiles("Used lately", recent)}
        {groups.map((group) =>
          tiles(
            group || "Anything",
            found.filter((choice) => (choice.group ?? "") === group && !recent.includes(choice)),
          ),
        )}
      </Box>
    </Box>
  );
}

interface TileProps {
  choice: SourceChoice;
  chosen: boolean;
  onChoose: (value: string) => void;
}

function Tile({ choice, chosen, onChoose }: TileProps) {
  return (
    <ButtonBase
      role="menuitem"
      aria-label={choice.label}
      onClick={() => onChoose(choice.value)}
      sx={{
        display: "block",
        textAlign: "left",
        borderRadius: 1.2,
        p: "3px",
        minHeight: 28,
        fontFamily: "inherit",
        fontSize: 12,
        lineHeight: 1.25,
        outline: chosen ? `2px solid ${roles.gentian}` : "2px solid transparent",
        "&:hover": { bgcolor: roles.gentianWash },
        "&:focus-visible": { outline: `2px dashed ${roles.gentian}` },
      }}
    >
      {choice.subject && <MapThumb subject={choice.subject} width="100%" height={54} lazy />}
      {choice.label}
    </ButtonBase>
  );
}
