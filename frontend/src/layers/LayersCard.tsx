import { Box, Button, IconButton, Menu, MenuItem, Tooltip, Typography } from "@mui/material";
import AddIcon from "@mui/icons-material/Add";
import ArrowDownwardIcon from "@mui/icons-material/ArrowDownward";
import ArrowUpwardIcon from "@mui/icons-material/ArrowUpward";
import CheckIcon from "@mui/icons-material/Check";
import DeleteIcon from "@mui/icons-material/DeleteOutlined";
import EditIcon from "@mui/icons-material/EditOutlined";
import VisibilityIcon from "@mui/icons-material/VisibilityOutlined";
import VisibilityOffIcon from "@mui/icons-material/VisibilityOffOutlined";
import { useQueries } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Layer, ProjectState } from "../api/types";
import { getOptions } from "../api/useGet";
import { Card, Heading, Inset, WhereItGoes } from "../parts/Card";
import { ChoiceToken } from "../parts/ChoiceToken";
import { ColourToken } from "../parts/ColourToken";
import { NameDialog } from "../parts/NameDialog";
import { percent } from "../parts/percent";
import { newId, useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { LAYER_COLOURS, MONO } from "../theme";

/** Shares of the ground after sharing, by layer id; the base is "base". */
function useShares(state: ProjectState): Record<string, number | undefined> {
  const ids = ["base", ...state.document.layers.map((layer) => layer.id)];
  const results = useQueries({
    queries: ids.map((id) =>
      getOptions("/api/projects/{project_id}/stats", state.id, {
        query: { name: `weight:${id}` },
        stamp: [state.revision],
      }),
    ),
  });
  return Object.fromEntries(ids.map((id, i) => [id, results[i]?.data?.mean]));
}

export function LayersCard() {
  const state = useProject();
  const { document } = state;
  const edit = useDocument((store) => store.edit);
  const { subject, show } = useView();
  const shares = useShares(state);
  const over = subject.kind === "layers" ? subject.over : true;
  useEffect(() => show({ kind: "layers", over }), [over, show]);

  const values = Object.values(shares);
  const sum = values.every((v) => v !== undefined) ? values.reduce((a: number, b) => a + (b ?? 0), 0) : null;
  const top = [...document.layers].reverse();
  return (
    <Card
      title="Layers"
      action={<NewLayer />}
      sub="Upper layers cover lower ones; the base takes what is left."
      foot={<WhereItGoes steps={["Layers", "weights", "channels of sheets", "files"]} />}
    >
      {document.layers.length === 0 && (
        <Typography color="textSecondary" sx={{ my: 1.5 }}>
          No layers yet: everything is base. Make a layer of a mask with New layer.
        </Typography>
      )}
      <Box component="ol" aria-label="Layers, top first" sx={{ p: 0, m: 0, listStyle: "none" }}>
        {top.map((layer, i) => (
          <LayerRow
            key={layer.id}
            layer={layer}
            index={document.layers.length - 1 - i}
            count={document.layers.length}
            share={shares[layer.id]}
          />
        ))}
      </Box>
      <Heading aside="under all layers">Base</Heading>
      <BaseRow share={shares.base} />
      <Box
        data-testid="sum-check"
        sx={{ display: "flex", alignItems: "center", gap: 0.7, fontWeight: 600, fontSize: 13.5, mt: 1 }}
      >
        {sum === null ? (
          "Adding up…"
        ) : Math.abs(sum - 1) < 1e-5 ? (
          <>
            <CheckIcon fontSize="small" /> All shares add up to {(sum * 100).toFixed(2)} %
          </>
        ) : (
          <Box component="span" sx={{ color: "error.main" }}>
            Shares add up to {(sum * 100).toFixed(3)} %
          </Box>
        )}
      </Box>
      <Typography variant="caption" color="textSecondary" sx={{ display: "block", mt: 1.5 }}>
        Sharing is by cover here, with a plain colour a layer; textures, sharing by strength and by relief, and budgets
        come later.
      </Typography>
      {document.layers.length > 0 && document.sheets.length === 0 && (
        <Button variant="contained" sx={{ mt: 1.5 }} onClick={() => void edit([{ op: "propose_sheets" }])}>
          Propose sheets for these
        </Button>
      )}
    </Card>
  );
}

function LayerRow({
  layer,
  index,
  count,
  share,
}: {
  layer: Layer;
  index: number;
  count: number;
  share: number | undefined;
}) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const [renaming, setRenaming] = useState(false);
  const set = (part: Partial<Layer>) =>
    void edit([{ op: "set_layer", layer: { ...layer, ...part } }], { what: `a change to ${layer.name}` });
  const masks = document.masks.map((mask) => ({ value: mask.id, label: mask.name }));
  return (
    <Box component="li" aria-label={`Layer ${layer.name}`}>
      <Inset>
        <Box sx={{ display: "flex", alignItems: "center", gap: 1, opacity: layer.muted ? 0.5 : 1 }}>
          <ColourToken label={`Colour of ${layer.name}`} value={layer.colour} onCommit={(colour) => set({ colour })} />
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
              <Typography sx={{ fontWeight: 650 }} noWrap>
                {layer.name}
              </Typography>
              <Box
                component="span"
                sx={{
                  fontFamily: MONO,
                  fontSize: 12.5,
                  color: "text.secondary",
                  ml: "auto",
                  whiteSpace: "nowrap",
                }}
              >
                {layer.muted ? "off" : share === undefined ? "…" : percent(share, 1)}
              </Box>
            </Box>
            <Typography variant="caption" color="textSecondary">
              where{" "}
              <ChoiceToken
                label={`Mask of ${layer.name}`}
                value={layer.mask ?? ""}
                choices={masks}
                onChange={(mask) => set({ mask })}
              />
            </Typography>
          </Box>
        </Box>
        <Box sx={{ display: "flex", justifyContent: "flex-end", mt: 0.3 }}>
          <Act label={`Rename ${layer.name}`} icon={<EditIcon />} act={() => setRenaming(true)} />
          <Act
            label={`Move ${layer.name} up`}
            icon={<ArrowUpwardIcon />}
            off={index === count - 1}
            act={() => void edit([{ op: "move_layer", layer: layer.id, to: index + 1 }])}
          />
          <Act
            label={`Move ${layer.name} down`}
            icon={<ArrowDownwardIcon />}
            off={index === 0}
            act={() => void edit([{ op: "move_layer", layer: layer.id, to: index - 1 }])}
          />
          <Act
            label={layer.muted ? `Switch ${layer.name} on` : `Switch ${layer.name} off`}
            icon={layer.muted ? <VisibilityOffIcon /> : <VisibilityIcon />}
            act={() => set({ muted: !layer.muted })}
          />
          <Act
            label={`Delete ${layer.name}`}
            icon={<DeleteIcon />}
            act={() => void edit([{ op: "delete_layer", layer: layer.id }])}
          />
        </Box>
      </Inset>
      <NameDialog
        open={renaming}
        title={`Rename ${layer.name}`}
        suggestion={layer.name}
        action="Rename"
        onClose={() => setRenaming(false)}
        onName={(name) => set({ name })}
      />
    </Box>
  );
}

function Act({
  label,
  icon,
  act,
  off = false,
}: {
  label: string;
  icon: React.ReactNode;
  act: () => void;
  off?: boolean;
}) {
  return (
    <Tooltip title={label}>
      <span>
        <IconButton size="small" aria-label={label} onClick={act} disabled={off} sx={{ "& svg": { fontSize: 17 } }}>
          {icon}
        </IconButton>
      </span>
    </Tooltip>
  );
}

function BaseRow({ share }: { share: number | undefined }) {
  const { base } = useProject().document;
  const edit = useDocument((store) => store.edit);
  const [renaming, setRenaming] = useState(false);
  return (
    <Inset>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
        <ColourToken
          label={`Colour of ${base.name}`}
          value={base.colour}
          onCommit={(colour) => void edit([{ op: "set_base", base: { ...base, colour } }])}
        />
        <Typography sx={{ fontWeight: 650, flex: 1 }} noWrap>
          {base.name}
        </Typography>
        <Act label={`Rename ${base.name}`} icon={<EditIcon />} act={() => setRenaming(true)} />
        <Box component="span" sx={{ fontFamily: MONO, fontSize: 12.5, color: "text.secondary" }}>
          {share === undefined ? "…" : percent(share, 1)}
        </Box>
      </Box>
      <NameDialog
        open={renaming}
        title={`Rename ${base.name}`}
        suggestion={base.name}
        action="Rename"
        onClose={() => setRenaming(false)}
        onName={(name) => void edit([{ op: "set_base", base: { ...base, name } }])}
      />
    </Inset>
  );
}

function NewLayer() {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const used = new Set(document.layers.map((layer) => layer.mask));
  const add = (mask: { id: string; name: string }) => {
    setAnchor(null);
    const taken = new Set(
      [document.base.name, ...document.layers.map((layer) => layer.name)].map((n) => n.toLowerCase()),
    );
    let name = mask.name;
    for (let i = 2; taken.has(name.toLowerCase()); i++) name = `${mask.name} ${i}`;
    const colour = LAYER_COLOURS[document.layers.length % LAYER_COLOURS.length] ?? LAYER_COLOURS[0];
    void edit([{ op: "add_layer", layer: { id: newId("layer"), name, mask: mask.id, colour, muted: false } }]);
  };
  return (
    <>
      <Button
        variant="outlined"
        color="inherit"
        startIcon={<AddIcon />}
        aria-haspopup="menu"
        disabled={document.masks.length === 0}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        New layer
      </Button>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true, "aria-label": "Make a layer of" } }}
      >
        {document.masks.map((mask) => (
          <MenuItem key={mask.id} onClick={() => add(mask)}>
            {mask.name}
            {used.has(mask.id) && (
              <Typography component="span" variant="caption" color="textSecondary" sx={{ ml: 1 }}>
                already a layer
              </Typography>
            )}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
