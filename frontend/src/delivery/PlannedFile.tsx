import { Box } from "@mui/material";
import type { Schemas } from "../api/client";
import { ChoiceToken } from "../parts/ChoiceToken";
import { useDocument, useProject } from "../state/document";
import { MONO } from "../theme";

type Planned = Schemas["PlanItem"];

/** One file that will be written, and how. */
export function PlannedFile({ item }: { item: Planned }) {
  const { delivery } = useProject().document;
  const edit = useDocument((store) => store.edit);
  return (
    <Box
      sx={{
        display: "flex",
        gap: 1,
        py: 0.5,
        borderBottom: "1px dashed",
        borderColor: "divider",
        alignItems: "center",
        fontSize: 12.5,
      }}
    >
      <Box sx={{ flex: 1, minWidth: 0, fontFamily: MONO, overflow: "hidden", textOverflow: "ellipsis" }}>
        {item.file}
      </Box>
      {item.kind === "height" ? (
        <ChoiceToken
          label="Format of the height file"
          value={delivery.height_format}
          choices={[
            { value: "png16", label: "PNG 16" },
            { value: "raw16", label: "raw 16" },
          ]}
          onChange={(v) =>
            void edit([{ op: "set_delivery", delivery: { ...delivery, height_format: v as "png16" | "raw16" } }])
          }
        />
      ) : (
        <Box component="span" sx={{ color: "text.secondary" }}>
          {formatWords(item)}
        </Box>
      )}
    </Box>
  );
}

/** How a file is written: "PNG 8, RGBA", "CSV, points". */
function formatWords(item: Planned): string {
  if (item.kind === "points") return `${item.format === "geojson" ? "GeoJSON" : item.format.toUpperCase()}, points`;
  const colours = item.channels === 1 ? "grey" : item.channels === 3 ? "RGB" : "RGBA";
  return `${item.format.toUpperCase()} ${item.bits}, ${colours}`;
}
