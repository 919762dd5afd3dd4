import { Box, Button, Typography } from "@mui/material";
import { useStepKinds } from "../../document/queries";
import { Inset } from "../../kit/Card";
import { useDocument, useProject } from "../../document/document";
import { useViewParts } from "../../viewport/view";
import { trim } from "../../kit/numbers";
import { samplesMore } from "../../viewport/places";
import { newStep } from "./newStep";

/** A step that is drawn as a rectangle, while its frame is being dragged on the plan. */
export function RectangleInset() {
  const edit = useDocument((store) => store.edit);
  const { cropping, set } = useViewParts("cropping", "set");
  const { home } = useProject();
  const kinds = useStepKinds();
  const kind = kinds.find((item) => item.tool === "rectangle");
  if (!cropping || !kind) return null;
  const more = samplesMore(home);
  const take = async () => {
    const part = {
      west: Math.max(cropping.west, 0),
      north: Math.max(cropping.north, 0),
      width: Math.max(cropping.width, home.spacing_x),
      length: Math.max(cropping.length, home.spacing_y),
    };
    if (await edit([{ op: "add_step", step: newStep(kinds, kind.kind, part) }])) set({ cropping: null });
  };
  return (
    <Inset chosen>
      <Typography variant="body2">
        Drag the corners on the plan: {trim(cropping.width, 0)} × {trim(cropping.length, 0)} m,{" "}
        {Math.round(cropping.width / home.spacing_x) + more} × {Math.round(cropping.length / home.spacing_y) + more}{" "}
        samples.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button variant="contained" size="small" onClick={() => void take()}>
          {kind.title} to this
        </Button>
        <Button size="small" color="inherit" onClick={() => set({ cropping: null })}>
          Leave it
        </Button>
      </Box>
    </Inset>
  );
}
