import { Box, Button, Dialog, Menu, MenuItem, Typography } from "@mui/material";
import { useState } from "react";
import { useStepKinds } from "../../document/queries";
import type { Diagnosis, Inspection, ProjectState, StepInfo } from "../../api/types";
import { Heading } from "../../kit/Card";
import { useDocument, useProject } from "../../document/document";
import { useView } from "../../viewport/view";
import { ChooseHeightmap } from "../files/ChooseHeightmap";
import { newStep } from "./newStep";
import { RectangleInset } from "./RectangleInset";
import { StepInset } from "./StepInset";

/** What is done to the ground before anything is measured on it, in order. */
export function Preparation({ diagnosis }: { diagnosis: Diagnosis | undefined }) {
  const steps = useProject().document.ground.steps ?? [];
  return (
    <>
      <Heading aside="in this order">Preparation</Heading>
      {steps.map((step, index) => (
        <StepInset key={step.id} step={step} index={index} count={steps.length} diagnosis={diagnosis} />
      ))}
      <RectangleInset />
      <StepMenu />
    </>
  );
}

/** The numbers of a step that reads a file: which it is, how it is read, and its metres: by the ground's own codes where
 * it is stored alike, as they are where floats are metres, else between the ground's own ends. */
function ofFile(found: Inspection, { document, codes, file_ends }: ProjectState): Record<string, unknown> {
  const { asset, name, rows, columns, byte_order, header, sample, channel, code, nodata } = found;
  const [low = 0, high = 0] = file_ends;
  const alike = codes !== null && found.depth === document.ground.depth && document.ground.heights !== "stored";
  const metres = /f$|signed|RGB/.test(found.depth) || found.high === found.low;
  const step = metres ? 1 : (high - low) / (found.high - found.low);
  const coded = alike
    ? { metres_a_step: codes.metres_a_step, at_zero: codes.at_zero }
    : { metres_a_step: step, at_zero: metres ? 0 : low - found.low * step };
  const read = { byte_order, header, sample, channel, code, nodata };
  return { asset, file_name: name, rows, cols: columns, ...read, ...coded };
}

/** The next step: every kind, with what it is for. */
function StepMenu() {
  const state = useProject();
  const { home } = state;
  const [bringing, setBringing] = useState<string | null>(null);
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const kinds = useStepKinds();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const add = (kind: StepInfo) => {
    setAnchor(null);
    if (kind.tool === "rectangle") {
      const inset = { west: home.width / 8, north: home.length / 8 };
      set({ cropping: { ...inset, width: home.width * 0.75, length: home.length * 0.75 } });
      return;
    }
    if (kind.tool === "heightmap") {
      setBringing(kind.kind);
      return;
    }
    void edit([{ op: "add_step", step: newStep(kinds, kind.kind) }]);
  };
  const bring = (found: Inspection) => {
    if (bringing) void edit([{ op: "add_step", step: newStep(kinds, bringing, ofFile(found, state)) }]);
    setBringing(null);
  };
  return (
    <>
      <Button
        fullWidth
        variant="outlined"
        color="inherit"
        sx={{ borderStyle: "dashed", justifyContent: "flex-start" }}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        + Then…
      </Button>
      <Dialog open={bringing !== null} onClose={() => setBringing(null)} fullWidth maxWidth="sm">
        {bringing !== null && (
          <ChooseHeightmap
            title="Another heightmap over this ground"
            onFound={bring}
            onClose={() => setBringing(null)}
          />
        )}
      </Dialog>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true } }}
      >
        {kinds.map((kind) => (
          <MenuItem key={kind.kind} onClick={() => add(kind)}>
            <Typography variant="body2">
              <b>{kind.title}</b>{" "}
              <Box component="span" sx={{ color: "text.secondary" }}>
                {kind.hint}
              </Box>
            </Typography>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
