import { named } from "../../api/mapNames";
import { Box, ButtonBase } from "@mui/material";
import type { Reading } from "../../api/types";
import { Heading } from "../../kit/Card";
import { OwnFileMark } from "../files/OwnFileMark";
import { roles } from "../../kit/theme";
import { FAMILIES } from "../recipe/families";
import { MapThumb } from "../../viewport/MapThumb";

interface GalleryProps {
  readings: Reading[];
  chosen: string;
  find: string;
  onChoose: (name: string) => void;
}

/** All readings by family, each with its live picture. Only what is in sight is computed. */
export function Gallery({ readings, chosen, find, onChoose }: GalleryProps) {
  const words = find.trim().toLowerCase();
  const matches = (item: Reading) =>
    words === "" || `${item.title} ${item.sentence} ${item.good_for}`.toLowerCase().includes(words);
  const found = readings.filter(matches);
  return (
    <>
      {found.length === 0 && <Box sx={{ fontSize: 13, py: 2 }}>No reading is called or does anything like that.</Box>}
      {FAMILIES.map(([family, title]) => {
        const items = found.filter((item) => item.family === family);
        if (items.length === 0) return null;
        return (
          <Box key={family}>
            <Heading>{title}</Heading>
            <Box
              component="ul"
              aria-label={title}
              sx={{
                display: "grid",
                gridTemplateColumns: "repeat(4, minmax(0, 1fr))",
                gap: "8px 6px",
                p: 0,
                m: 0,
                listStyle: "none",
              }}
            >
              {items.map((item) => (
                <li key={item.name}>
                  <ButtonBase
                    aria-pressed={item.name === chosen}
                    onClick={() => onChoose(item.name)}
                    sx={{
                      display: "block",
                      textAlign: "left",
                      width: "100%",
                      borderRadius: 1.2,
                      p: "2px",
                      fontFamily: "inherit",
                      fontSize: 11.5,
                      lineHeight: 1.25,
                      outline: item.name === chosen ? `2px solid ${roles.gentian}` : "2px solid transparent",
                      "&:focus-visible": { outline: `2px dashed ${roles.gentian}` },
                    }}
                  >
                    <MapThumb
                      subject={{ kind: "reading", name: item.name, over: item.ramp_all && item.above }}
                      width="100%"
                      height={50}
                      lazy
                    />
                    {item.title}
                    <OwnFileMark of={named.reading(item.name)} />
                  </ButtonBase>
                </li>
              ))}
            </Box>
          </Box>
        );
      })}
    </>
  );
}
