import { named, readName } from "../../api/mapNames";
import { Box, ButtonBase, Checkbox, IconButton, Tooltip, Typography } from "@mui/material";
import BrushIcon from "@mui/icons-material/BrushOutlined";
import DragIcon from "@mui/icons-material/DragIndicator";
import VisibilityIcon from "@mui/icons-material/VisibilityOutlined";
import VisibilityOffIcon from "@mui/icons-material/VisibilityOffOutlined";
import { useState } from "react";
import type { Layer } from "../../api/types";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { ColourToken } from "../../kit/ColourToken";
import { Inset } from "../../kit/Card";
import { MoreMenu } from "../../kit/MoreMenu";
import { NameDialog } from "../../kit/NameDialog";
import { NumberToken } from "../../kit/NumberToken";
import { percent } from "../../kit/percent";
import { useDocument, useProject } from "../../document/document";
import { useToolsParts } from "../../viewport/tools";
import { useView, useViewParts } from "../../viewport/view";
import { MONO } from "../../kit/theme";
import type { Dragged } from "../../kit/useDragOrder";
import { Dressed } from "./Dressed";
import { LookThumb } from "./LookThumb";
import { useLayerEdit } from "./useLayerEdit";

interface LayerRowProps {
  layer: Layer;
  /** From the bottom. */
  index: number;
  count: number;
  share: number | undefined;
  before: number | null | undefined;
  chosen: boolean;
  /** Chosen for merging; null while nobody merges. */
  marked: boolean | null;
  onMark: (on: boolean) => void;
  drag: Dragged;
}

/** One layer: its look, where it lies and how strongly, what is left of it after sharing. */
export function LayerRow(props: LayerRowProps) {
  const { layer, index, count, share, before, chosen, marked, onMark, drag } = props;
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const setView = useView((view) => view.set);
  const { set, preview } = useLayerEdit(layer.id);
  const [renaming, setRenaming] = useState(false);
  const merge = (document.merges ?? []).find((item) => item.layers.includes(layer.id));
  const move = (to: number) => void edit([{ op: "move_layer", layer: layer.id, to }]);
  const choose = () => setView({ selectedLayer: chosen ? null : layer.id });
  return (
    <Box
      component="li"
      aria-label={`Layer ${layer.name}`}
      onDragOver={drag.onDragOver}
      onDrop={drag.onDrop}
      sx={{ borderTop: drag.over ? 2 : 0, borderColor: "secondary.main" }}
      onKeyDown={(event) => {
        // Alt and an arrow move the layer, wherever in it the focus is.
        if (!event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
        event.preventDefault();
        const to = index + (event.key === "ArrowUp" ? 1 : -1);
        if (to >= 0 && to < count) move(to);
      }}
    >
      <Inset chosen={chosen}>
        <Box
          {...(marked === null ? drag.grip : {})}
          sx={{ display: "flex", alignItems: "center", gap: 1, opacity: layer.muted ? 0.5 : 1, cursor: "grab" }}
        >
          {marked === null ? (
            <Tooltip title="Drag to another place, or Alt with an arrow key">
              <Box aria-hidden sx={{ display: "flex", color: "text.secondary", mx: -0.6 }}>
                <DragIcon fontSize="small" />
              </Box>
            </Tooltip>
          ) : (
            <Checkbox
              size="small"
              checked={marked}
              disabled={merge !== undefined}
              onChange={(event) => onMark(event.target.checked)}
              slotProps={{ input: { "aria-label": `Merge ${layer.name}` } }}
              sx={{ p: 0.3, mx: -0.5 }}
            />
          )}
          <ButtonBase
            onClick={choose}
            aria-label={`Open ${layer.name}`}
            aria-expanded={chosen}
            sx={{ borderRadius: 1, "&:focus-visible": { outline: "2px solid", outlineOffset: 1 } }}
          >
            {layer.dressing?.look ? (
              <LookThumb look={layer.dressing.look} />
            ) : (
              <Box sx={{ width: 46, height: 46, borderRadius: 1, bgcolor: layer.colour }} />
            )}
          </ButtonBase>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
              <Typography
                sx={{ fontWeight: 650 }}
                noWrap
                title="Double click to rename"
                onDoubleClick={() => setRenaming(true)}
              >
                {layer.name}
              </Typography>
              <Box
                component="span"
                sx={{ fontFamily: MONO, fontSize: 12.5, color: "text.secondary", ml: "auto", whiteSpace: "nowrap" }}
              >
                {layer.muted ? "off" : share === undefined ? "…" : percent(share, 1)}
              </Box>
            </Box>
            <Box sx={{ fontSize: 13, lineHeight: 1.9 }}>
              where <MaskToken layer={layer} onChange={(mask, band) => void set({ mask, band })} /> at{" "}
              <NumberToken
                label={`Strength of ${layer.name}`}
                value={Math.round((layer.strength ?? 1) * 100)}
                unit="%"
                min={0}
                max={100}
                step={1}
                onPreview={(v) => preview(v === null ? null : { strength: v / 100 })}
                onCommit={(v, key) => set({ strength: v / 100 }, key, "strength")}
              />
            </Box>
          </Box>
          <LayerButtons layer={layer} index={index} count={count} chosen={chosen} onRename={() => setRenaming(true)} />
        </Box>
        {!layer.mask && (
          <Typography variant="caption" sx={{ color: "warning.main" }}>
            It has no mask: it covers nothing until you choose one.
          </Typography>
        )}
        {merge && (
          <Typography variant="caption" color="textSecondary" sx={{ display: "block" }}>
            Counts as part of {merge.name}.
          </Typography>
        )}
        {chosen && <OpenedLayer layer={layer} share={share} before={before} />}
      </Inset>
      <NameDialog
        open={renaming}
        title={`Rename ${layer.name}`}
        suggestion={layer.name}
        action="Rename"
        onClose={() => setRenaming(false)}
        onName={(name) => void set({ name })}
      />
    </Box>
  );
}

/** What else a layer can do, and whether it takes part. */
function LayerButtons({
  layer,
  index,
  count,
  chosen,
  onRename,
}: Pick<LayerRowProps, "layer" | "index" | "count" | "chosen"> & { onRename: () => void }) {
  const edit = useDocument((store) => store.edit);
  const { subject, show, set: setView } = useViewParts("subject", "show", "set");
  const { set } = useLayerEdit(layer.id);
  const solo = subject.kind === "layers" && subject.solo === layer.id;
  const move = (to: number) => void edit([{ op: "move_layer", layer: layer.id, to }]);
  const choose = () => setView({ selectedLayer: chosen ? null : layer.id });
  return (
    <Box sx={{ display: "flex", flexDirection: "column", alignSelf: "flex-start" }}>
      <MoreMenu
        label={`More for ${layer.name}`}
        actions={[
          { label: chosen ? "Close the look" : "Look…", act: choose },
          { label: "Rename…", act: () => onRename() },
          {
            label: solo ? "Show all layers" : "Alone over the base",
            act: () => show({ kind: "layers", over: true, solo: solo ? null : layer.id }),
          },
          { label: "Before | after sharing", act: () => show({ kind: "weight", id: layer.id, style: "wipe" }) },
          { label: "Move up", act: () => move(index + 1), off: index === count - 1 },
          { label: "Move down", act: () => move(index - 1), off: index === 0 },
          { label: "Delete", act: () => void edit([{ op: "delete_layer", layer: layer.id }]), danger: true },
        ]}
      />
      <Tooltip title={layer.muted ? "Switched off: takes no part" : "Switch off"}>
        <IconButton
          size="small"
          aria-label={layer.muted ? `Switch ${layer.name} on` : `Switch ${layer.name} off`}
          aria-pressed={layer.muted ?? false}
          onClick={() => void set({ muted: !layer.muted })}
        >
          {layer.muted ? <VisibilityOffIcon sx={{ fontSize: 17 }} /> : <VisibilityIcon sx={{ fontSize: 17 }} />}
        </IconButton>
      </Tooltip>
    </Box>
  );
}

/** What an opened layer wears, its plain colour, its shares and its brush. */
function OpenedLayer({ layer, share, before }: Pick<LayerRowProps, "layer" | "share" | "before">) {
  const { set } = useLayerEdit(layer.id);
  return (
    <>
      <Dressed id={layer.id} />
      <Box sx={{ display: "flex", alignItems: "center", gap: 0.8, mt: 0.5, fontSize: 13 }}>
        <Box component="span" sx={{ whiteSpace: "nowrap" }}>
          Plain colour
        </Box>
        <ColourToken
          label={`Colour of ${layer.name}`}
          value={layer.colour}
          onCommit={(colour) => void set({ colour })}
        />
        <Typography variant="caption" color="textSecondary" sx={{ flex: 1 }}>
          {typeof before === "number" && share !== undefined
            ? `${percent(before, 1)} before sharing, ${percent(share, 1)} after`
            : ""}
        </Typography>
        <PaintButton id={layer.id} name={layer.name} />
      </Box>
    </>
  );
}

/** Takes the layer brush into the hand, or puts it away. */
export function PaintButton({ id, name }: { id: string; name: string }) {
  const { tool, take } = useToolsParts("tool", "take");
  const active = tool?.kind === "paint" && tool.layer === id;
  return (
    <Tooltip title={`Raise ${name} by brush, after sharing; the others make room`}>
      <IconButton
        size="small"
        aria-label={active ? "Put the layer brush away" : `Brush ${name}`}
        aria-pressed={active}
        color={active ? "secondary" : "default"}
        onClick={() => take(active ? null : { kind: "paint", layer: id })}
      >
        <BrushIcon sx={{ fontSize: 18 }} />
      </IconButton>
    </Tooltip>
  );
}

function MaskToken({
  layer,
  onChange,
}: {
  layer: Layer;
  onChange: (mask: string | null, band: number | null) => void;
}) {
  const { document, bands } = useProject();
  const choices = document.masks.flatMap((mask) => [
    { value: named.mask(mask.id) as string, label: mask.name },
    ...Array.from({ length: bands[mask.id] ?? 0 }, (_, k) => ({
      value: named.band(mask.id, k) as string,
      label: `${mask.name}, band ${k + 1}`,
    })),
  ]);
  const whole = layer.mask ? named.mask(layer.mask) : "";
  const value = layer.mask && typeof layer.band === "number" ? named.band(layer.mask, layer.band) : whole;
  return (
    <ChoiceToken
      label={`Mask of ${layer.name}`}
      value={value}
      choices={[...choices, { value: "", label: "no mask", group: "None" }]}
      onChange={(next) => {
        const name = readName(next);
        if (name?.kind === "band") onChange(name.mask, name.band);
        else onChange(name?.kind === "mask" ? name.mask : null, null);
      }}
    />
  );
}
