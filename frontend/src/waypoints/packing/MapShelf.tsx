import { Box, Menu, MenuItem } from "@mui/material";
import { useState } from "react";
import { useReadings } from "../../document/queries";
import { Heading } from "../../kit/Card";
import { useDocument, useProject } from "../../document/document";
import { roles } from "../../kit/theme";
import { MapThumb } from "../../viewport/MapThumb";
import { choicesOf, LETTERS } from "./sources";
import { DRAGGED, useSourceOf } from "./useSourceOf";

/** Weights and masks to be dragged onto channels; by keyboard a map asks into which channel it goes. */
export function MapShelf() {
  const { document, bands } = useProject();
  const readings = useReadings();
  const edit = useDocument((store) => store.edit);
  const make = useSourceOf();
  const [asked, setAsked] = useState<{ anchor: HTMLElement; value: string; label: string } | null>(null);
  const maps = choicesOf(document, readings, bands).filter(
    (item) => item.subject && (item.group === "Masks" || item.group === "Weights after sharing"),
  );
  const places = document.sheets.flatMap((sheet) =>
    LETTERS[sheet.layout].map((letter) => ({ sheet, letter, empty: !sheet[letter] })),
  );
  const put = async (place: (typeof places)[number]) => {
    const value = asked?.value ?? "";
    setAsked(null);
    const made = await make(value);
    if (made) await edit([{ op: "set_sheet", sheet: { ...place.sheet, [place.letter]: made } }]);
  };
  if (document.sheets.length === 0 || maps.length === 0) return null;
  return (
    <>
      <Heading aside="drag one onto a channel, or press it">Maps</Heading>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, minmax(0, 1fr))", gap: 0.8 }}>
        {maps.map(({ value, label, subject }) => (
          <Box
            key={value}
            component="button"
            type="button"
            draggable
            aria-label={`Put ${label} into a channel`}
            aria-haspopup="menu"
            onDragStart={(event: React.DragEvent) => {
              event.dataTransfer.setData(DRAGGED, value);
              event.dataTransfer.effectAllowed = "copy";
            }}
            onClick={(event: React.MouseEvent<HTMLElement>) => setAsked({ anchor: event.currentTarget, value, label })}
            sx={{
              border: 0,
              p: "2px",
              bgcolor: "transparent",
              color: "text.primary",
              font: "inherit",
              fontSize: 11.5,
              lineHeight: 1.25,
              textAlign: "left",
              cursor: "grab",
              borderRadius: 1,
              "&:focus-visible": { outline: `2px solid ${roles.gentian}` },
            }}
          >
            {subject && <MapThumb subject={subject} width="100%" height={40} lazy />}
            {label}
          </Box>
        ))}
      </Box>
      <Menu
        open={asked !== null}
        anchorEl={asked?.anchor ?? null}
        onClose={() => setAsked(null)}
        slotProps={{ list: { dense: true, "aria-label": `Where ${asked?.label ?? "it"} goes` } }}
      >
        {places.map((place) => (
          <MenuItem key={`${place.sheet.id}-${place.letter}`} onClick={() => void put(place)}>
            {place.letter.toUpperCase()} of {place.sheet.name}
            {place.empty ? ", empty" : ""}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
