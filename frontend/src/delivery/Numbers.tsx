import { Box } from "@mui/material";
import { MONO } from "../theme";

/** Titles and values, to be read off and copied. */
export function Numbers({ rows }: { rows: [string, string][] }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "auto 1fr", gap: "4px 14px", fontSize: 12.5 }}>
      {rows.map(([title, value]) => (
        <Box key={title} sx={{ display: "contents" }}>
          <Box component="span" sx={{ color: "text.secondary" }}>
            {title}
          </Box>
          <Box component="span" sx={{ fontFamily: MONO, textAlign: "right", userSelect: "all" }}>
            {value}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
