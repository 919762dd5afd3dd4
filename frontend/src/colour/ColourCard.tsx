import { Typography } from "@mui/material";
import { useEffect } from "react";
import { Card, WhereItGoes } from "../parts/Card";
import { useView } from "../state/view";

/** Says what this waypoint will be; nothing here pretends to work. */
export function ColourCard() {
  const show = useView((view) => view.show);
  useEffect(() => show({ kind: "layers", over: true }), [show]);
  return (
    <Card title="Colour" foot={<WhereItGoes steps={["Coats", "colour map", "sheet", "file"]} />}>
      <Typography sx={{ mt: 1 }}>
        Here a colour map will be laid in <b>coats</b>: plain colours, ramps along a reading or mask, the layers’ own
        textures at ground scale, aerial images, water by depth. Each coat is limited by a mask and laid over those
        below.
      </Typography>
      <Typography sx={{ mt: 1.5 }}>
        This version has no coats yet. The view shows the layers in their plain colours; those colours travel with the
        delivery, in the picture legend of the import note.
      </Typography>
    </Card>
  );
}
