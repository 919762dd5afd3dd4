import { Box } from "@mui/material";
import { useState } from "react";

/** A plain colour: the browser's own picker, saved when it closes. */
export function ColourToken({
  label,
  value,
  onCommit,
}: {
  label: string;
  value: string;
  onCommit: (value: string) => void;
}) {
  const [live, setLive] = useState<string | null>(null);
  return (
    <Box
      component="input"
      type="color"
      aria-label={label}
      value={live ?? value}
      onChange={(event: React.ChangeEvent<HTMLInputElement>) => setLive(event.target.value)}
      onBlur={() => {
        if (live && live !== value) onCommit(live);
        setLive(null);
      }}
      sx={{
        width: 34,
        height: 28,
        p: 0,
        border: 1,
        borderColor: "divider",
        borderRadius: 1,
        bgcolor: "transparent",
        cursor: "pointer",
      }}
    />
  );
}
