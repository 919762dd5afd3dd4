import { Box } from "@mui/material";
import { memo } from "react";
import { MONO } from "../kit/theme";
import type { Legend } from "./imaging";
import { cssRamp } from "./ramps";

export const LegendBox = memo(function LegendBox({ legend }: { legend: Legend }) {
  return (
    <Box
      sx={{ bgcolor: "background.paper", borderRadius: 1.2, px: 1.2, py: 1, width: legend.middle ? 208 : 158 }}
      data-testid="legend"
    >
      <Box sx={{ height: 10, borderRadius: 1, background: cssRamp(legend.ramp) }} />
      <Box sx={{ display: "flex", justifyContent: "space-between", fontFamily: MONO, fontSize: 11.5, mt: 0.5 }}>
        <span>{legend.low}</span>
        {legend.middle && <span>{legend.middle}</span>}
        <span>{legend.high}</span>
      </Box>
      {legend.middle && (
        <Box sx={{ fontSize: 11.5, color: "text.secondary", mt: 0.2 }}>Stretched towards low values</Box>
      )}
    </Box>
  );
});
