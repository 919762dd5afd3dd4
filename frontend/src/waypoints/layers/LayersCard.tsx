import { Box, Button, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { useLayerReport } from "../../document/queries";
import { Card, Heading, Inset, WhereItGoes } from "../../kit/Card";
import { ColourToken } from "../../kit/ColourToken";
import { MoreMenu } from "../../kit/MoreMenu";
import { NameDialog } from "../../kit/NameDialog";
import { percent } from "../../kit/percent";
import { useDragOrder } from "../../kit/useDragOrder";
import { newId, useDocument, useProject } from "../../document/document";
import { useTools } from "../../viewport/tools";
import { useView, useViewParts } from "../../viewport/view";
import { MONO } from "../../kit/theme";
import { outcomes } from "../../document/outcomes";
import { BrushedInset } from "./BrushedInset";
import { Budget } from "./Budget";
import { Dressed } from "./Dressed";
import { LayerRow, PaintButton } from "./LayerRow";
import { LayersOfDialog } from "./LayersOfDialog";
import { LookThumb } from "./LookThumb";
import { MixingSentence } from "./MixingSentence";
import { TextureDialog } from "./TextureDialog";
import { useLayerEdit } from "./useLayerEdit";
import { WhyHere } from "./WhyHere";

export function LayersCard() {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const { selectedLayer } = useViewParts("selectedLayer");
  const report = useLayerReport();
  const [making, setMaking] = useState(false);
  const [bringing, setBringing] = useState(false);
  const [marked, setMarked] = useState<string[] | null>(null);
  useEffect(() => () => useTools.getState().take(null), []);
  return (
    <Card
      title="Layers"
      action={
        <Box sx={{ display: "flex", alignItems: "center" }}>
          <Button variant="outlined" color="inherit" onClick={() => setMaking(true)}>
            + Layers
          </Button>
          <MoreMenu
            label="More for layers"
            actions={[
              { label: "Bring textures in…", act: () => setBringing(true) },
              { label: "Merge layers…", act: () => setMarked([]), off: document.layers.length < 2 },
            ]}
          />
        </Box>
      }
      foot={<WhereItGoes steps={["Layers", "weights", "channels of sheets", "files"]} />}
    >
      <MixingSentence />
      {document.layers.length === 0 && (
        <Typography color="textSecondary" sx={{ my: 1.5 }}>
          No layers yet: everything is base. Make layers of masks with + Layers.
        </Typography>
      )}
      {marked && <MergeBar marked={marked} onDone={() => setMarked(null)} />}
      <LayerList marked={marked} onMarked={setMarked} />
      <Merges />
      <Heading aside="under all layers">Base</Heading>
      <BaseRow share={report?.layers.find((item) => item.id === "base")?.after} chosen={selectedLayer === "base"} />
      <BrushedInset />
      {report && <Budget report={report} onMerge={() => setMarked([])} />}
      <WhyHere about="layers" />
      {document.layers.length > 0 && document.sheets.length === 0 && (
        <Button variant="contained" sx={{ mt: 1.5 }} onClick={() => void edit([{ op: "propose_sheets", channels: 4 }])}>
          Propose sheets for these
        </Button>
      )}
      <LayersOfDialog open={making} onClose={() => setMaking(false)} />
      <TextureDialog open={bringing} onClose={() => setBringing(false)} />
    </Card>
  );
}

interface LayerListProps {
  marked: string[] | null;
  onMarked: (marked: string[]) => void;
}

/** Layers from the top; a dragged one goes where it is dropped. */
function LayerList({ marked, onMarked }: LayerListProps) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const selected = useView((view) => view.selectedLayer);
  const report = useLayerReport();
  const drag = useDragOrder((layer, to) => void edit([{ op: "move_layer", layer, to }]));
  const top = [...document.layers].reverse();
  return (
    <Box component="ol" aria-label="Layers, top first" sx={{ p: 0, m: 0, listStyle: "none" }} onDragEnd={drag.end}>
      {top.map((layer, i) => {
        const index = document.layers.length - 1 - i;
        const told = report?.layers.find((item) => item.id === layer.id);
        return (
          <LayerRow
            key={layer.id}
            layer={layer}
            index={index}
            count={document.layers.length}
            share={told?.after}
            before={told?.before}
            chosen={selected === layer.id}
            marked={marked ? marked.includes(layer.id) : null}
            onMark={(on) =>
              onMarked(on ? [...(marked ?? []), layer.id] : (marked ?? []).filter((id) => id !== layer.id))
            }
            drag={drag.of(layer.id, index)}
          />
        );
      })}
    </Box>
  );
}

/** Which layers are to count as one, and under which name. */
function MergeBar({ marked, onDone }: { marked: string[]; onDone: () => void }) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const report = useLayerReport();
  const [naming, setNaming] = useState(false);
  const layers = document.layers.filter((layer) => marked.includes(layer.id));
  const shares = layers.map((layer) => report?.layers.find((item) => item.id === layer.id)?.after ?? 0);
  const merge = (name: string) => {
    const ids = layers.map((layer) => layer.id);
    void edit([{ op: "merge_layers", id: newId("merge"), name, layers: ids, shares }]).then((done) => done && onDone());
  };
  return (
    <Inset>
      <Typography variant="body2">
        Tick the layers that are to count as one: its weight is the sum of theirs, its look theirs by how much of the
        ground each covers.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button size="small" variant="contained" disabled={layers.length < 2} onClick={() => setNaming(true)}>
          Merge {layers.length}…
        </Button>
        <Button size="small" color="inherit" onClick={onDone}>
          Cancel
        </Button>
      </Box>
      <NameDialog
        open={naming}
        title={`Merge ${layers.map((layer) => layer.name).join(", ")}`}
        suggestion={layers
          .map((layer) => layer.name)
          .join(" and ")
          .slice(0, 60)}
        action="Merge"
        onClose={() => setNaming(false)}
        onName={merge}
      />
    </Inset>
  );
}

function Merges() {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const report = useLayerReport();
  const merges = document.merges ?? [];
  if (merges.length === 0) return null;
  return (
    <>
      <Heading aside={`${outcomes(document).length} with the base`}>Merged</Heading>
      {merges.map((merge) => (
        <Inset key={merge.id}>
          <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
            <Box sx={{ width: 26, height: 26, borderRadius: 1, bgcolor: merge.colour }} />
            <Box sx={{ flex: 1, minWidth: 0 }}>
              <b>{merge.name}</b>
              <Typography variant="caption" color="textSecondary" sx={{ display: "block" }} noWrap>
                {merge.layers.map((id) => document.layers.find((item) => item.id === id)?.name ?? "?").join(", ")}
              </Typography>
            </Box>
            <Box component="span" sx={{ fontFamily: MONO, fontSize: 12.5, color: "text.secondary" }}>
              {percent(report?.layers.find((item) => item.id === merge.id)?.after ?? 0, 1)}
            </Box>
            <Button
              size="small"
              color="inherit"
              onClick={() => void edit([{ op: "take_merge_apart", merge: merge.id }])}
            >
              Part
            </Button>
          </Box>
        </Inset>
      ))}
    </>
  );
}

function BaseRow({ share, chosen }: { share: number | undefined; chosen: boolean }) {
  const setView = useView((view) => view.set);
  const { name, colour, dressing, set } = useLayerEdit("base");
  const [renaming, setRenaming] = useState(false);
  const choose = () => setView({ selectedLayer: chosen ? null : "base" });
  return (
    <Inset chosen={chosen} role="group" aria-label={`Base ${name}`}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
        {dressing.look ? (
          <LookThumb look={dressing.look} size={34} />
        ) : (
          <Box sx={{ width: 34, height: 34, borderRadius: 1, bgcolor: colour }} />
        )}
        <Typography sx={{ fontWeight: 650, flex: 1 }} noWrap>
          {name}
        </Typography>
        <PaintButton id="base" name={name} />
        <Box component="span" sx={{ fontFamily: MONO, fontSize: 12.5, color: "text.secondary" }}>
          {share === undefined ? "…" : percent(share, 1)}
        </Box>
        <MoreMenu
          label={`More for ${name}`}
          actions={[
            { label: chosen ? "Close the look" : "Look…", act: choose },
            { label: "Rename…", act: () => setRenaming(true) },
          ]}
        />
      </Box>
      {chosen && (
        <>
          <Dressed id="base" />
          <Box sx={{ fontSize: 13, display: "flex", alignItems: "center", gap: 1, mt: 0.5 }}>
            In the plain colour{" "}
            <ColourToken label={`Colour of ${name}`} value={colour} onCommit={(next) => void set({ colour: next })} />
          </Box>
        </>
      )}
      <NameDialog
        open={renaming}
        title={`Rename ${name}`}
        suggestion={name}
        action="Rename"
        onClose={() => setRenaming(false)}
        onName={(next) => void set({ name: next })}
      />
    </Inset>
  );
}
