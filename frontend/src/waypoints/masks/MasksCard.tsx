import { Box, Button, Typography } from "@mui/material";
import AddIcon from "@mui/icons-material/Add";
import { useEffect, useState } from "react";
import { DrawnTab } from "../draw/DrawnTab";
import { KitsTab } from "../kits/KitsTab";
import { Card } from "../../kit/Card";
import { MoreMenu } from "../../kit/MoreMenu";
import { NameDialog } from "../../kit/NameDialog";
import { Segments } from "../../kit/Segments";
import { ScatterTab } from "../scatter/ScatterTab";
import { newId, useDocument, useProject } from "../../document/document";
import { useTools } from "../../viewport/tools";
import { useView } from "../../viewport/view";
import { LayersOfDialog } from "../layers/LayersOfDialog";
import { FinishedDialog } from "./FinishedDialog";
import { freeName } from "../recipe/lines";
import { Recipe } from "./Recipe";
import { MaskFoot } from "./MaskFoot";

type Tab = "recipes" | "drawn" | "scatter" | "kits";

const SUBS: Record<Tab, string> = {
  recipes: "A mask is a recipe of sentences, read from top to bottom.",
  drawn: "Lines and areas on the map. A recipe takes them by width and fade.",
  scatter: "Plants and stones by a mask; never part of the height.",
  kits: "Recipes and pieces without the ground, for any project.",
};

export function MasksCard() {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const reset = useTools((tools) => tools.reset);
  const [tab, setTab] = useState<Tab>("recipes");
  const [naming, setNaming] = useState(false);
  const [finished, setFinished] = useState(false);
  const [together, setTogether] = useState(false);
  const [layersOf, setLayersOf] = useState<string[] | null>(null);

  // Whatever tool was in hand is put away with the card.
  useEffect(() => reset, [reset]);

  const create = async (name: string) => {
    const id = newId("mask");
    if (await edit([{ op: "add_mask", mask: { id, name, lines: [] } }])) {
      setTab("recipes");
      set({ selectedMask: id, selectedLine: null });
    }
  };
  return (
    <Card
      title="Masks"
      action={
        <Box sx={{ display: "flex", alignItems: "center" }}>
          <Button variant="outlined" color="inherit" startIcon={<AddIcon />} onClick={() => setNaming(true)}>
            New mask
          </Button>
          <MoreMenu
            label="More for masks"
            actions={[
              {
                label: "Overlap and gaps…",
                off: document.masks.length < 2,
                act: () => {
                  setTab("recipes");
                  setTogether(true);
                },
              },
              { label: "Bring in finished masks…", act: () => setFinished(true) },
            ]}
          />
        </Box>
      }
      foot={tab === "recipes" && <MaskFoot />}
    >
      <Segments
        label="Part of Masks"
        options={[
          { value: "recipes", label: "Recipes" },
          { value: "drawn", label: "Drawn" },
          { value: "scatter", label: "Scatter" },
          { value: "kits", label: "Kits" },
        ]}
        value={tab}
        onChange={(next) => {
          useTools.getState().reset();
          setTab(next);
        }}
      />
      <Typography variant="caption" color="textSecondary" sx={{ display: "block", mt: 0.8 }}>
        {SUBS[tab]}
      </Typography>
      {tab === "recipes" && <Recipe together={together} onTogether={setTogether} onNew={() => setNaming(true)} />}
      {tab === "drawn" && <DrawnTab onUsed={() => setTab("recipes")} />}
      {tab === "scatter" && <ScatterTab />}
      {tab === "kits" && <KitsTab />}
      <NameDialog
        open={naming}
        title="New mask"
        suggestion={freeName(
          document.masks.map((item) => item.name),
          `Mask ${document.masks.length + 1}`,
        )}
        action="Make it"
        onClose={() => setNaming(false)}
        onName={(name) => void create(name)}
      />
      <FinishedDialog
        open={finished}
        onClose={() => setFinished(false)}
        onLayers={(masks) => setLayersOf(masks.map((mask) => `${mask}:`))}
      />
      <LayersOfDialog open={layersOf !== null} chosen={layersOf ?? []} onClose={() => setLayersOf(null)} />
    </Card>
  );
}
