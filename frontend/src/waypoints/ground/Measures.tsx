import { Box } from "@mui/material";
import type { Diagnosis } from "../../api/types";
import { Heading, Inset } from "../../kit/Card";
import { useProject } from "../../document/document";
import { MONO } from "../../kit/theme";
import { trim } from "../../kit/numbers";
import { HeightsSentence } from "./HeightsSentence";
import { SizeSentence } from "./SizeSentence";
import { WaterSentence } from "./WaterSentence";

/** What the ground measures: heights, spacing or width and length, water. */
export function Measures({ diagnosis }: { diagnosis: Diagnosis | undefined }) {
  const { document, home, file_ends } = useProject();
  const { ground } = document;
  const [fileLow = 0, fileHigh = 0] = file_ends;
  const [low, high] = diagnosis ? [diagnosis.low, diagnosis.high] : [fileLow, fileHigh];
  const levels = ground.depth === "8" ? 255 : ground.depth === "16" ? ground.stored_high - ground.stored_low : null;
  return (
    <>
      <Heading aside="every length is in metres">What it measures</Heading>
      <Box
        data-testid="measures"
        sx={{
          display: "grid",
          gridTemplateColumns: "auto 1fr auto 1fr",
          gap: "5px 10px",
          alignItems: "center",
          fontSize: 13.5,
          "& > :nth-of-type(odd)": { color: "text.secondary" },
        }}
      >
        <span>Lowest</span>
        <Value text={`${trim(low)} m`} />
        <span>Samples</span>
        <Value text={`${trim(home.cols)} × ${trim(home.rows)}`} />
        <span>Highest</span>
        <Value text={`${trim(high)} m`} />
        <span>Width</span>
        <Value text={`${trim(home.width)} m`} />
        <span>Range</span>
        <Value text={`${trim(high - low)} m`} />
        <span>Length</span>
        <Value text={`${trim(home.length)} m`} />
        <span>Spacing</span>
        <Value
          text={
            home.spacing_x === home.spacing_y
              ? `${trim(home.spacing_x, 3)} m`
              : `${trim(home.spacing_x, 3)} × ${trim(home.spacing_y, 3)} m`
          }
        />
        <span>One step</span>
        <Value text={levels ? `${trim(((fileHigh - fileLow) / levels) * 1000, 1)} mm` : "float"} />
      </Box>
      <Box sx={{ mt: 1 }}>
        <Inset>
          <Box sx={{ fontSize: 13.5, "& > div": { lineHeight: 2 } }}>
            <HeightsSentence />
            <SizeSentence />
            <WaterSentence />
          </Box>
        </Inset>
      </Box>
    </>
  );
}

function Value({ text }: { text: string }) {
  return (
    <Box
      component="span"
      sx={{ fontFamily: MONO, fontSize: 12.5, textAlign: "right", color: "text.primary", whiteSpace: "nowrap" }}
    >
      {text}
    </Box>
  );
}
