import { Box, Button, ButtonBase, Typography } from "@mui/material";
import { useState } from "react";
import type { ChosenTiles } from "../../document/queries";
import { Inset } from "../../kit/Card";
import { MONO, roles } from "../../kit/theme";

interface TilesProps {
  /** Tiles of the height, across and down. */
  tiles: number[];
  busy: boolean;
  onDeliver: (chosen: ChosenTiles) => Promise<void>;
}

/** Some tiles only, as they lie on the ground: as a trial, or written again beside all others. */
export function TilesInset({ tiles, busy, onDeliver }: TilesProps) {
  const [across = 1, down = 1] = tiles;
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  if (across * down < 2) return null;
  if (!open)
    return (
      <Button size="small" color="inherit" onClick={() => setOpen(true)}>
        Only some tiles…
      </Button>
    );
  const places = [...chosen]
    .map((place) => place.split(",").map(Number))
    .filter(([c = 0, r = 0]) => c < across && r < down);
  const toggle = (place: string) => {
    const next = new Set(chosen);
    if (!next.delete(place)) next.add(place);
    setChosen(next);
  };
  const go = (again: boolean) => void onDeliver({ tiles: places, again });
  return (
    <Inset chosen role="group" aria-label="Tiles of the height">
      <Typography variant="body2">Choose tiles as they lie on the ground, north up.</Typography>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: `repeat(${across}, 28px)`,
          gap: "3px",
          my: 1,
          maxHeight: 320,
          overflow: "auto",
        }}
      >
        {Array.from({ length: across * down }, (_, at) => {
          const [column, row] = [at % across, Math.floor(at / across)];
          const place = `${column},${row}`;
          const on = chosen.has(place);
          return (
            <ButtonBase
              key={place}
              disableRipple
              aria-pressed={on}
              aria-label={`Tile ${column + 1} from the west, ${row + 1} from the north`}
              onClick={() => toggle(place)}
              sx={{
                height: 28,
                borderRadius: 1,
                border: 1,
                borderColor: on ? "secondary.main" : "divider",
                bgcolor: on ? roles.gentianWash : "transparent",
                fontFamily: MONO,
                fontSize: 10.5,
              }}
            >
              {column + 1},{row + 1}
            </ButtonBase>
          );
        })}
      </Box>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <Button size="small" variant="contained" disabled={busy || places.length === 0} onClick={() => go(true)}>
          Write them again
        </Button>
        <Button
          size="small"
          variant="outlined"
          color="inherit"
          disabled={busy || places.length === 0}
          onClick={() => go(false)}
        >
          Only them, to try
        </Button>
        <Button size="small" color="inherit" onClick={() => setOpen(false)}>
          Leave it
        </Button>
      </Box>
      <Typography variant="caption" color="textSecondary" component="p" sx={{ mt: 0.5, mb: 0 }}>
        Written again: all other files are taken from the delivery before, as they are.
      </Typography>
    </Inset>
  );
}
