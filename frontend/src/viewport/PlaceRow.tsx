import { ButtonBase } from "@mui/material";
import type { GridInfo } from "../api/types";
import { trim } from "../kit/numbers";
import { MONO, roles } from "../kit/theme";

interface PlaceRowProps {
  east: number;
  south: number;
  /** By how much. */
  by: string;
  onGo: () => void;
}

/** A place in metres from the north-west corner, one click away. */
export function PlaceRow({ east, south, by, onGo }: PlaceRowProps) {
  return (
    <ButtonBase
      onClick={onGo}
      sx={{
        display: "flex",
        width: "100%",
        justifyContent: "space-between",
        minHeight: 24,
        px: 0.6,
        borderRadius: 1,
        fontFamily: MONO,
        fontSize: 12,
        "&:hover": { bgcolor: roles.gentianWash },
      }}
    >
      <span>
        {trim(east, 0)} m E, {trim(south, 0)} m S
      </span>
      <span>{by}</span>
    </ButtonBase>
  );
}

/** A camera so near to a place that some two hundred samples of the ground are in sight. */
export const closeTo = (home: GridInfo, east: number, south: number) => ({
  x: east / home.width,
  y: south / home.length,
  zoom: Math.min(Math.max(Math.max(home.cols, home.rows) / 200, 2), 60),
});
