import { Box, Button, Checkbox, FormControlLabel, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { useTogether } from "../../document/queries";
import { Inset } from "../../kit/Card";
import { percent } from "../../kit/percent";
import { useProject } from "../../document/document";
import { useView } from "../../viewport/view";

/** Overlap and gaps between chosen masks, on the map and in shares of the ground. */
export function Together({ onDone }: { onDone: () => void }) {
  const { document } = useProject();
  const show = useView((view) => view.show);
  const [chosen, setChosen] = useState<string[]>(() => document.masks.slice(0, 2).map((mask) => mask.id));
  const masks = chosen.filter((id) => document.masks.some((mask) => mask.id === id));
  const found = useTogether(masks).data;
  const key = masks.join();

  useEffect(() => {
    const ids = key.split(",").filter(Boolean);
    if (ids.length > 1) show({ kind: "together", masks: ids });
  }, [key, show]);

  return (
    <Inset role="region" aria-label="Overlap and gaps" chosen>
      <Box sx={{ display: "flex", justifyContent: "space-between", alignItems: "center" }}>
        <b>Overlap and gaps</b>
        <Button size="small" color="inherit" onClick={onDone}>
          Close
        </Button>
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr" }}>
        {document.masks.map((mask) => (
          <FormControlLabel
            key={mask.id}
            control={
              <Checkbox
                size="small"
                checked={masks.includes(mask.id)}
                disabled={!masks.includes(mask.id) && masks.length >= 12}
                onChange={(_, on) => setChosen(on ? [...masks, mask.id] : masks.filter((id) => id !== mask.id))}
              />
            }
            label={mask.name}
            slotProps={{ typography: { noWrap: true, sx: { fontSize: 13 } } }}
          />
        ))}
      </Box>
      {masks.length < 2 ? (
        <Typography variant="caption" color="textSecondary">
          Choose two masks or more.
        </Typography>
      ) : (
        found && (
          <Typography sx={{ fontSize: 13, mt: 0.5 }} role="status">
            None of them is strong on <b>{percent(found.none)}</b> of the ground (amber), more than one on{" "}
            <b>{percent(found.more)}</b> (red), exactly one on {percent(found.one)}.
          </Typography>
        )
      )}
    </Inset>
  );
}
