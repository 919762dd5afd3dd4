import { Box } from "@mui/material";
import { memo } from "react";
import { MONO, onMap } from "../kit/theme";

/** The longest round length that fits about 120 pixels. */
export function barLength(pixelsPerMetre: number): number {
  const most = 130 / Math.max(pixelsPerMetre, 1e-9);
  const power = 10 ** Math.floor(Math.log10(most));
  const lead = most / power;
  return (lead >= 5 ? 5 : lead >= 2 ? 2 : 1) * power;
}

interface ScaleBarProps {
  pixelsPerMetre: number;
  /** Where it holds, if not everywhere. */
  note?: string;
}

export const ScaleBar = memo(function ScaleBar({ pixelsPerMetre, note }: ScaleBarProps) {
  if (pixelsPerMetre <= 0) return null;
  const metres = barLength(pixelsPerMetre);
  const text = metres >= 1 ? `${metres} m` : `${Number((metres * 100).toPrecision(2))} cm`;
  return (
    <Box sx={{ color: onMap.light, fontFamily: MONO, fontSize: 11.5, textShadow: `0 0 3px ${onMap.dark}` }}>
      <Box sx={{ pl: 0.5, whiteSpace: "nowrap" }}>
        {text}
        {note && ` ${note}`}
      </Box>
      <Box
        sx={{
          width: metres * pixelsPerMetre,
          height: 7,
          border: `2px solid ${onMap.light}`,
          borderTop: 0,
          filter: `drop-shadow(0 0 1px ${onMap.dark})`,
        }}
      />
    </Box>
  );
});
