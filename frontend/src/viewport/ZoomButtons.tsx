import { Box, IconButton, Tooltip } from "@mui/material";
import AddIcon from "@mui/icons-material/Add";
import FitScreenIcon from "@mui/icons-material/FitScreenOutlined";
import RemoveIcon from "@mui/icons-material/Remove";
import { memo } from "react";
import { useViewParts } from "./view";

export const ZoomButtons = memo(function ZoomButtons() {
  const { camera, set } = useViewParts("camera", "set");
  const zoom = (factor: number) =>
    set({ camera: { ...camera, zoom: Math.min(Math.max(camera.zoom * factor, 1), 400) } });
  const buttons: [string, () => void, React.ReactNode][] = [
    ["Nearer", () => zoom(1.6), <AddIcon key="i" fontSize="small" />],
    ["Farther", () => zoom(1 / 1.6), <RemoveIcon key="i" fontSize="small" />],
    ["All of it", () => set({ camera: { x: 0.5, y: 0.5, zoom: 1 } }), <FitScreenIcon key="i" fontSize="small" />],
  ];
  return (
    <Box
      sx={{
        position: "absolute",
        top: 10,
        right: 12,
        display: "flex",
        flexDirection: "column",
        bgcolor: "background.paper",
        borderRadius: 1.5,
      }}
    >
      {buttons.map(([label, act, icon]) => (
        <Tooltip key={label} title={label} placement="left">
          <IconButton size="small" aria-label={label} onClick={act} sx={{ borderRadius: 1.5 }}>
            {icon}
          </IconButton>
        </Tooltip>
      ))}
    </Box>
  );
});
