import { Box, Button, Popover, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { usePlan } from "../../document/queries";
import { TokenButton } from "../../kit/ChoiceToken";
import { useDocument, useProject } from "../../document/document";
import { MONO } from "../../kit/theme";
import { TileNaming } from "./TileNaming";

/** How files are named: a pattern, with what it makes of the files there are. */
export function NamePattern() {
  const { delivery } = useProject().document;
  const edit = useDocument((store) => store.edit);
  const plan = usePlan();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [text, setText] = useState("");
  const now = plan.data?.pattern ?? delivery.pattern ?? "";
  const keep = async (pattern: string | null) => {
    const changed = pattern !== delivery.pattern && (pattern === null || pattern !== now);
    // What is refused stays to be mended.
    if (!changed || (await edit([{ op: "set_delivery", delivery: { ...delivery, pattern } }]))) setAnchor(null);
  };
  const names = plan.data?.groups.flatMap((group) => group.items.map((item) => item.name)) ?? [];
  return (
    <>
      <TokenButton
        label={`Names of files: ${now}`}
        text={now}
        onOpen={(element) => {
          setText(now);
          setAnchor(element);
        }}
      />
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        <Box sx={{ p: 2, width: 400 }}>
          <TextField
            autoFocus
            fullWidth
            size="small"
            label="Names of files"
            value={text}
            onChange={(event) => setText(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === "Enter") void keep(text);
            }}
            helperText={`${plan.data?.tokens.join(", ") ?? ""} stand for what they say`}
            slotProps={{ htmlInput: { style: { fontFamily: MONO, fontSize: 12.5 } } }}
          />
          <Typography variant="caption" color="textSecondary" component="div" sx={{ mt: 1, fontFamily: MONO }}>
            {names.slice(0, 4).join(", ")}
            {names.length > 4 ? " …" : ""}
          </Typography>
          {plan.data && (
            <Box sx={{ mt: 1 }}>
              <TileNaming
                value={plan.data.tile_names}
                onChange={(tile_names) => edit([{ op: "set_delivery", delivery: { ...delivery, tile_names } }])}
              />
              {delivery.tile_names && (
                <Button
                  size="small"
                  color="inherit"
                  onClick={() => void edit([{ op: "set_delivery", delivery: { ...delivery, tile_names: null } }])}
                >
                  Tiles as the target has them
                </Button>
              )}
            </Box>
          )}
          <Box sx={{ display: "flex", gap: 1, mt: 1.5 }}>
            <Button variant="contained" size="small" onClick={() => void keep(text)}>
              Keep
            </Button>
            <Button size="small" color="inherit" disabled={!delivery.pattern} onClick={() => void keep(null)}>
              As the target has it
            </Button>
          </Box>
        </Box>
      </Popover>
    </>
  );
}
