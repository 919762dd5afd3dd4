import { Box, Button, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { usePainting } from "../../document/queries";
import { Card, WhereItGoes } from "../../kit/Card";
import { useDragOrder } from "../../kit/useDragOrder";
import { PictureButton } from "../readings/PictureButton";
import { useDocument, useProject } from "../../document/document";
import { useTools } from "../../viewport/tools";
import { useViewParts } from "../../viewport/view";
import { WhyHere } from "../layers/WhyHere";
import { AddCoat } from "./AddCoat";
import { CoatCard } from "./CoatCard";
import { SurfaceInset } from "./SurfaceInset";
import { WhatCameOut } from "./WhatCameOut";
import { WriteInset } from "./WriteInset";

export function ColourCard() {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const coats = document.coats ?? [];
  useEffect(() => () => useTools.getState().take(null), []);
  return (
    <Card
      title="Colour"
      action={<AddCoat />}
      sub="Upper coats lie over lower ones. Every coat has a place and a strength."
      foot={<WhereItGoes steps={["Coats", "colour and surface maps", "channels of sheets", "files"]} />}
    >
      {coats.length === 0 && (
        <Box sx={{ my: 1.5 }}>
          <Typography color="textSecondary">
            No coats yet: the ground shows the colour of the base. Lay one with + Coat, or begin with a first colour:
            what the layers look like (or heights, without any), patches, soil in shelter, pale edges, water.
          </Typography>
          <Button variant="contained" sx={{ mt: 1 }} onClick={() => void edit([{ op: "begin_colour" }])}>
            A first colour
          </Button>
        </Box>
      )}
      <CoatList />
      <WhatCameOut />
      <SurfaceInset />
      <WriteInset />
      <WhyHere about="coats" />
      <Pictures />
    </Card>
  );
}

/** Coats from the top; a dragged one goes where it is dropped. */
function CoatList() {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const { selectedCoat, set } = useViewParts("selectedCoat", "set");
  const drag = useDragOrder((coat, to) => void edit([{ op: "move_coat", coat, to }]));
  const coats = document.coats ?? [];
  return (
    <Box component="ol" aria-label="Coats, top first" sx={{ p: 0, m: 0 }} onDragEnd={drag.end}>
      {[...coats].reverse().map((coat, i) => {
        const index = coats.length - 1 - i;
        return (
          <CoatCard
            key={coat.id}
            coat={coat}
            index={index}
            count={coats.length}
            chosen={coat.id === selectedCoat}
            onChoose={() => set({ selectedCoat: coat.id })}
            drag={drag.of(coat.id, index)}
          />
        );
      })}
    </Box>
  );
}

/** Where aerial images come from. */
function Pictures() {
  const painting = usePainting();
  const [told, setTold] = useState<string | null>(null);
  return (
    <>
      <PictureButton onMade={() => setTold("It is there: lay it with + Coat, Aerial image.")} />
      <Typography variant="caption" color="textSecondary">
        {told ??
          ((painting?.pictures ?? []).length === 0
            ? "Aerial images are brought in here or among the readings, where they are moved and turned."
            : "Pictures are moved and turned among the readings.")}
      </Typography>
    </>
  );
}
