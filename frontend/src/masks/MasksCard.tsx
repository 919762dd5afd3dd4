import { Box, Button, ButtonBase, Menu, MenuItem, Typography } from "@mui/material";
import AddIcon from "@mui/icons-material/Add";
import { useEffect, useState } from "react";
import { useReadings, useStats } from "../api/queries";
import type { Line, Mask, ProjectDocument, Verb } from "../api/types";
import { Card, Heading, WhereItGoes } from "../parts/Card";
import { MoreMenu } from "../parts/MoreMenu";
import { NameDialog } from "../parts/NameDialog";
import { newId, useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { MapThumb } from "../viewport/MapThumb";
import { firstBand } from "./band";
import { LineCard } from "./LineCard";
import { roles } from "../theme";

export function MasksCard() {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const { selectedMask, selectedLine, subject, show, set } = useView();
  const [naming, setNaming] = useState(false);
  const mask = document.masks.find((item) => item.id === selectedMask) ?? document.masks[0] ?? null;
  const line = mask?.lines.find((item) => item.id === selectedLine) ?? mask?.lines[0] ?? null;
  const lineIndex = mask && line ? mask.lines.indexOf(line) : null;
  const style = subject.kind === "mask" ? subject.style : "over";
  const maskId = mask?.id ?? null;

  // The view follows the chosen mask and line.
  useEffect(() => {
    if (maskId) show({ kind: "mask", id: maskId, style, lines: lineIndex });
    else show({ kind: "ground", style: "shade" });
  }, [maskId, style, lineIndex, show]);

  const create = async (name: string) => {
    const id = newId("mask");
    if (await edit([{ op: "add_mask", mask: { id, name, lines: [] } }])) set({ selectedMask: id, selectedLine: null });
  };
  const free = freeName(document, "Mask");
  return (
    <Card
      title="Masks"
      action={
        <Button variant="outlined" color="inherit" startIcon={<AddIcon />} onClick={() => setNaming(true)}>
          New mask
        </Button>
      }
      foot={mask && <WhereItGoes steps={thread(document, mask)} />}
    >
      {document.masks.length === 0 && (
        <Typography color="textSecondary" sx={{ mt: 2 }}>
          No masks yet. A mask is a recipe of sentences, such as “take ground where slope is 32° to 90°”. Make one with
          New mask.
        </Typography>
      )}
      <Box
        component="ul"
        aria-label="Masks"
        sx={{
          display: "grid",
          gridTemplateColumns: "repeat(4, minmax(0, 1fr))",
          gap: 1,
          p: 0,
          m: 0,
          mt: 0.5,
          listStyle: "none",
        }}
      >
        {document.masks.map((item) => (
          <MaskTile
            key={item.id}
            mask={item}
            chosen={item === mask}
            onChoose={() => set({ selectedMask: item.id, selectedLine: null })}
          />
        ))}
      </Box>
      {mask && (
        <>
          <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between", mt: 1 }}>
            <Heading>{mask.name}</Heading>
            <Box sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
              <Typography variant="caption" color="textSecondary">
                reads top to bottom
              </Typography>
              <MaskMenu mask={mask} />
            </Box>
          </Box>
          <Box component="ol" aria-label={`Recipe of ${mask.name}`} sx={{ p: 0, m: 0 }}>
            {mask.lines.map((item, index) => (
              <LineCard
                key={item.id}
                mask={mask}
                line={item}
                index={index}
                chosen={item === line}
                onChoose={() => set({ selectedLine: item.id })}
              />
            ))}
          </Box>
          <ThenButton mask={mask} />
        </>
      )}
      <NameDialog
        open={naming}
        title="New mask"
        suggestion={free}
        action="Make it"
        onClose={() => setNaming(false)}
        onName={(name) => void create(name)}
      />
    </Card>
  );
}

function freeName(document: ProjectDocument, stem: string): string {
  const taken = new Set(document.masks.map((item) => item.name.toLowerCase()));
  for (let i = document.masks.length + 1; ; i++) if (!taken.has(`${stem} ${i}`.toLowerCase())) return `${stem} ${i}`;
}

function MaskTile({ mask, chosen, onChoose }: { mask: Mask; chosen: boolean; onChoose: () => void }) {
  const stats = useStats(`mask:${mask.id}`);
  const share = stats.data ? `${(stats.data.mean * 100).toFixed(0)} %` : "…";
  return (
    <Box component="li">
      <ButtonBase
        onClick={onChoose}
        aria-pressed={chosen}
        aria-label={`${mask.name}, covers ${share}`}
        sx={{
          display: "block",
          width: "100%",
          textAlign: "left",
          borderRadius: 1.2,
          p: "2px",
          fontFamily: "inherit",
          outline: chosen ? `2px solid ${roles.gentian}` : "2px solid transparent",
          "&:focus-visible": { outline: `2px dashed ${roles.gentian}` },
        }}
      >
        <MapThumb subject={{ kind: "mask", id: mask.id, style: "alone", lines: null }} width="100%" height={54} />
        <Box sx={{ display: "flex", justifyContent: "space-between", fontSize: 11.5, gap: 0.5, mt: 0.3 }}>
          <Box component="span" sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
            {mask.name}
          </Box>
          <Box component="span" sx={{ color: "text.secondary", whiteSpace: "nowrap" }}>
            {share}
          </Box>
        </Box>
      </ButtonBase>
    </Box>
  );
}

function MaskMenu({ mask }: { mask: Mask }) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const [renaming, setRenaming] = useState(false);
  const at = document.masks.findIndex((item) => item.id === mask.id);
  const move = (to: number) => void edit([{ op: "move_mask", mask: mask.id, to }]);
  const copy = async () => {
    const id = newId("mask");
    const taken = new Set(document.masks.map((item) => item.name.toLowerCase()));
    let name = `${mask.name} copy`;
    for (let i = 2; taken.has(name.toLowerCase()); i++) name = `${mask.name} copy ${i}`;
    if (await edit([{ op: "copy_mask", mask: mask.id, id, name }])) set({ selectedMask: id, selectedLine: null });
  };
  return (
    <>
      <MoreMenu
        label={`More for ${mask.name}`}
        actions={[
          { label: "Rename…", act: () => setRenaming(true) },
          { label: "Copy", act: () => void copy() },
          { label: "Move earlier", act: () => move(at - 1), off: at === 0 },
          { label: "Move later", act: () => move(at + 1), off: at === document.masks.length - 1 },
          { label: "Delete", act: () => void edit([{ op: "delete_mask", mask: mask.id }]), danger: true },
        ]}
      />
      <NameDialog
        open={renaming}
        title={`Rename ${mask.name}`}
        suggestion={mask.name}
        action="Rename"
        onClose={() => setRenaming(false)}
        onName={(name) => void edit([{ op: "rename_mask", mask: mask.id, name }])}
      />
    </>
  );
}

const THEN: { verb: Verb; label: string; hint: string }[] = [
  { verb: "take", label: "Take", hint: "ground by a reading, or another mask" },
  { verb: "leave_out", label: "Leave out", hint: "where a reading or mask is strong" },
  { verb: "keep_within", label: "Keep only within", hint: "where a reading or mask is strong" },
  { verb: "turn_over", label: "Turn over", hint: "in becomes out" },
  { verb: "levels", label: "Levels", hint: "lift, clean, clamp" },
];

function ThenButton({ mask }: { mask: Mask }) {
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const readings = useReadings();
  const stats = useStats("reading:slope");
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const add = async (verb: Verb) => {
    setAnchor(null);
    const id = newId("line");
    const slope = readings.find((item) => item.name === "slope");
    if (!slope) return;
    const source = firstBand(slope, stats.data);
    const lines: Record<Verb, Line> = {
      take: { id, verb: "take", muted: false, strength: 1, source },
      leave_out: { id, verb: "leave_out", muted: false, strength: 1, source },
      keep_within: { id, verb: "keep_within", muted: false, strength: 1, source },
      turn_over: { id, verb: "turn_over", muted: false },
      levels: { id, verb: "levels", muted: false, in_low: 0, in_high: 1, middle: 1, out_low: 0, out_high: 1 },
    };
    if (await edit([{ op: "add_line", mask: mask.id, line: lines[verb] }])) set({ selectedLine: id });
  };
  return (
    <>
      <ButtonBase
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{
          width: "100%",
          justifyContent: "flex-start",
          border: "1px dashed",
          borderColor: "text.secondary",
          borderRadius: 1.3,
          px: 1.4,
          minHeight: 36,
          color: "text.secondary",
          fontSize: 13.5,
          fontFamily: "inherit",
        }}
      >
        + {mask.lines.length === 0 ? "Take…" : "Then…"}
      </ButtonBase>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true } }}
      >
        {THEN.map((item) => (
          <MenuItem key={item.verb} onClick={() => void add(item.verb)}>
            <b>{item.label}</b>
            <Typography component="span" variant="caption" color="textSecondary" sx={{ ml: 1 }}>
              {item.hint}
            </Typography>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** A mask's way from here: layer, channel, file. */
function thread(document: ProjectDocument, mask: Mask): string[] {
  const steps = [mask.name];
  const layer = document.layers.find((item) => item.mask === mask.id);
  if (layer) steps.push(`layer ${layer.name}`);
  for (const sheet of document.sheets) {
    for (const channel of ["r", "g", "b", "a"] as const) {
      const source = sheet[channel];
      const carries =
        (source?.kind === "weight" && source.layer === layer?.id) ||
        (source?.kind === "mask" && source.mask === mask.id);
      if (carries) return [...steps, `${sheet.name} · ${channel.toUpperCase()}`];
    }
  }
  const readers = document.masks.filter((item) =>
    item.lines.some((line) => "source" in line && line.source.kind === "mask" && line.source.mask === mask.id),
  );
  if (!layer && readers.length > 0) return [...steps, `read by ${readers.map((item) => item.name).join(", ")}`];
  return [...steps, layer ? "no channel yet" : "nowhere yet: make a layer of it"];
}
