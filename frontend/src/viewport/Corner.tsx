import { Box } from "@mui/material";
import type { ReactNode } from "react";
import { KeyBox } from "./KeyBox";
import { LegendBox } from "./LegendBox";
import type { Picture } from "./imaging";

interface CornerProps {
  picture: Picture | null;
  /** What colours stand for, where each is a layer. */
  keys: React.ComponentProps<typeof KeyBox>["keys"] | null;
  children: ReactNode;
}

/** The lower left corner of a view: what its colours stand for, over its scale bar. */
export function Corner({ picture, keys, children }: CornerProps) {
  return (
    <Box
      sx={{
        position: "absolute",
        left: 12,
        bottom: 12,
        // In a narrow relief it stands over what light and heights are told in, beside which there is no room.
        "@container (max-width: 520px)": { bottom: 82 },
        display: "flex",
        flexDirection: "column",
        gap: 1,
        pointerEvents: "none",
      }}
    >
      {picture?.legend && <LegendBox legend={picture.legend} />}
      {keys && <KeyBox keys={keys} />}
      {children}
    </Box>
  );
}
