import { TextField } from "@mui/material";
import { useState } from "react";
import { useDocument, useProject } from "../state/document";
import { MONO } from "../theme";

/** How files are named. */
export function NamePattern() {
  const { delivery } = useProject().document;
  const edit = useDocument((store) => store.edit);
  const [text, setText] = useState<string | null>(null);
  const keep = () => {
    if (text !== null && text !== delivery.pattern)
      void edit([{ op: "set_delivery", delivery: { ...delivery, pattern: text } }]);
    setText(null);
  };
  return (
    <TextField
      fullWidth
      label="Names of files"
      value={text ?? delivery.pattern}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === "Enter") keep();
        if (event.key === "Escape") setText(null);
      }}
      helperText="{project}, {map} and {size} stand for what they say"
      sx={{ mt: 1.5 }}
      slotProps={{ htmlInput: { style: { fontFamily: MONO, fontSize: 12.5 } } }}
    />
  );
}
