import { Box, Button, Menu, MenuItem, Typography } from "@mui/material";
import { useState } from "react";
import { useStepKinds } from "../../document/queries";
import type { Diagnosis, StepInfo } from "../../api/types";
import { Heading } from "../../kit/Card";
import { useDocument, useProject } from "../../document/document";
import { useView } from "../../viewport/view";
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

/** The next step: every kind, with what it is for. */
function StepMenu() {
  const { home } = useProject();
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
    void edit([{ op: "add_step", step: newStep(kinds, kind.kind) }]);
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
