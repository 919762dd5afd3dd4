import { Box, Button, ButtonBase, Tooltip, Typography } from "@mui/material";
import AddIcon from "@mui/icons-material/Add";
import CheckIcon from "@mui/icons-material/Check";
import { useEffect, useState } from "react";
import { ask, client } from "../api/client";
import { useReadings, useStats } from "../api/queries";
import type { Channel, ChannelSource, ProjectDocument, Reading, Sheet } from "../api/types";
import { Card, Piece } from "../parts/Card";
import { ChoiceToken, type Choice } from "../parts/ChoiceToken";
import { MoreMenu } from "../parts/MoreMenu";
import { NameDialog } from "../parts/NameDialog";
import { NumberToken } from "../parts/NumberToken";
import { newId, useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { MONO, roles } from "../theme";
import { MapThumb } from "../viewport/MapThumb";

const LETTERS: Record<Sheet["layout"], Channel[]> = {
  rgba: ["r", "g", "b", "a"],
  rgb: ["r", "g", "b"],
  grey: ["r"],
};

export function PackingCard() {
  const { document, cautions } = useProject();
  const edit = useDocument((store) => store.edit);
  const { subject, show } = useView();
  const [naming, setNaming] = useState(false);
  const shownId = subject.kind === "sheet" ? subject.id : subject.kind === "channel" ? subject.sheet : null;
  const shown = document.sheets.find((sheet) => sheet.id === shownId) ?? document.sheets[0] ?? null;
  const firstId = shown?.id ?? null;

  useEffect(() => {
    if (firstId === null) show({ kind: "layers", over: true });
    else if (shownId !== firstId) show({ kind: "sheet", id: firstId, style: "each" });
  }, [firstId, shownId, show]);

  const create = async (name: string) => {
    const id = newId("sheet");
    await edit([{ op: "add_sheet", sheet: { id, name, layout: "rgba", r: null, g: null, b: null, a: null } }]);
    show({ kind: "sheet", id, style: "each" });
  };
  const complete = addsUp(document);
  return (
    <Card
      title="Packing"
      action={
        <Button variant="outlined" color="inherit" startIcon={<AddIcon />} onClick={() => setNaming(true)}>
          New sheet
        </Button>
      }
      foot={
        <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between", gap: 1 }}>
          <Typography variant="caption" color="textSecondary">
            As few sheets as hold every layer and the base
          </Typography>
          <Button variant="outlined" onClick={() => void edit([{ op: "propose_sheets" }])}>
            Propose sheets
          </Button>
        </Box>
      }
    >
      {document.sheets.length === 0 && (
        <Typography color="textSecondary" sx={{ my: 1.5 }}>
          No sheets yet. A sheet is one image with up to four maps in its channels. Let us propose sheets for the
          layers, or make one yourself.
        </Typography>
      )}
      {document.sheets.map((sheet) => (
        <SheetPiece key={sheet.id} sheet={sheet} chosen={sheet === shown} />
      ))}
      {complete && (
        <Box sx={{ display: "flex", alignItems: "center", gap: 0.6, fontWeight: 600, fontSize: 13 }}>
          <CheckIcon fontSize="small" /> The weights of {complete} add up to 255 at every sample
        </Box>
      )}
      {cautions
        .filter((item) => item.waypoint === "packing")
        .map((item) => (
          <Typography key={item.message} variant="body2" color="warning" sx={{ fontWeight: 600, mt: 0.5 }}>
            ! {item.message}
          </Typography>
        ))}
      <NameDialog
        open={naming}
        title="New sheet"
        suggestion={freeName(document)}
        action="Make it"
        onClose={() => setNaming(false)}
        onName={(name) => void create(name)}
      />
    </Card>
  );
}

function freeName(document: ProjectDocument): string {
  const taken = new Set(document.sheets.map((sheet) => sheet.name.toLowerCase()));
  for (let i = 1; ; i++) if (!taken.has(`sheet_${i}`)) return `sheet_${i}`;
}

/** The sheets whose weights add up, in words; null when a weight is missing or carried twice. */
function addsUp(document: ProjectDocument): string | null {
  const carried: string[] = [];
  const names: string[] = [];
  for (const sheet of document.sheets) {
    const sources = LETTERS[sheet.layout].map((letter) => sheet[letter]);
    if (sources.some((source) => source?.kind === "rest")) return null;
    const weights = sources.flatMap((source) =>
      source?.kind === "weight" ? [source.layer] : source?.kind === "base" ? ["base"] : [],
    );
    if (weights.length) names.push(sheet.name);
    carried.push(...weights);
  }
  const wanted = ["base", ...document.layers.filter((layer) => !layer.muted && layer.mask).map((layer) => layer.id)];
  const right = wanted.every((id) => carried.filter((other) => other === id).length === 1);
  return right ? names.join(" and ") : null;
}

function SheetPiece({ sheet, chosen }: { sheet: Sheet; chosen: boolean }) {
  const edit = useDocument((store) => store.edit);
  const show = useView((view) => view.show);
  const set = (part: Partial<Sheet>) =>
    edit([{ op: "set_sheet", sheet: { ...sheet, ...part } }], { what: `a change to ${sheet.name}` });
  const style = useView((view) => (view.subject.kind === "sheet" ? view.subject.style : "each"));
  return (
    <Piece chosen={chosen} role="group" aria-label={`Sheet ${sheet.name}`}>
      <Box
        sx={{
          display: "flex",
          alignItems: "center",
          gap: 0.5,
          borderBottom: "1px dashed",
          borderColor: "divider",
          pb: 0.5,
        }}
      >
        <ButtonBase
          onClick={() => show({ kind: "sheet", id: sheet.id, style })}
          sx={{ fontFamily: "inherit", fontWeight: 700, fontSize: 14, borderRadius: 1 }}
          aria-label={`Look at ${sheet.name}`}
        >
          {sheet.name}
        </ButtonBase>
        <Box sx={{ ml: "auto", fontFamily: MONO, fontSize: 11.5, color: "text.secondary" }}>
          <ChoiceToken
            label={`Channels of ${sheet.name}`}
            value={sheet.layout}
            choices={[
              { value: "rgba", label: "RGBA 8 · straight alpha" },
              { value: "rgb", label: "RGB 8" },
              { value: "grey", label: "grey 8" },
            ]}
            onChange={(layout) => void set({ layout: layout as Sheet["layout"] })}
          />
        </Box>
        <SheetMenu sheet={sheet} />
      </Box>
      {LETTERS[sheet.layout].map((letter) => (
        <ChannelRow key={letter} sheet={sheet} letter={letter} onSet={(source) => set({ [letter]: source })} />
      ))}
    </Piece>
  );
}

function SheetMenu({ sheet }: { sheet: Sheet }) {
  const edit = useDocument((store) => store.edit);
  const [renaming, setRenaming] = useState(false);
  return (
    <>
      <MoreMenu
        label={`More for ${sheet.name}`}
        actions={[
          { label: "Rename…", act: () => setRenaming(true) },
          { label: "Delete", act: () => void edit([{ op: "delete_sheet", sheet: sheet.id }]), danger: true },
        ]}
      />
      <NameDialog
        open={renaming}
        title={`Rename ${sheet.name}`}
        suggestion={sheet.name}
        action="Rename"
        onClose={() => setRenaming(false)}
        onName={(name) => void edit([{ op: "set_sheet", sheet: { ...sheet, name } }])}
      />
    </>
  );
}

function choicesOf(document: ProjectDocument, readings: Reading[]): Choice[] {
  return [
    { value: "empty", label: "empty" },
    ...document.layers.map((layer) => ({
      value: `weight:${layer.id}`,
      label: `${layer.name} weight`,
      group: "Weights after sharing",
    })),
    { value: "base", label: `${document.base.name} base weight`, group: "Weights after sharing" },
    { value: "rest", label: "Rest of this sheet", group: "Weights after sharing" },
    ...document.masks.map((mask) => ({
      value: `mask:${mask.id}`,
      label: `${mask.name} mask`,
      group: "Masks",
    })),
    ...(document.scatters ?? []).map((item) => ({
      value: `scatter:${item.id}`,
      label: `${item.name} density`,
      group: "Scattered",
    })),
    ...readings.map((item) => ({ value: `reading:${item.name}`, label: item.title, group: "Readings" })),
  ];
}

function valueOf(source: ChannelSource | null | undefined): string {
  if (!source) return "empty";
  switch (source.kind) {
    case "weight":
      return `weight:${source.layer}`;
    case "mask":
      return `mask:${source.mask}`;
    case "scatter":
      return `scatter:${source.scatter}`;
    case "reading":
      return `reading:${source.reading}`;
    case "base":
    case "rest":
      return source.kind;
  }
}

function ChannelRow({
  sheet,
  letter,
  onSet,
}: {
  sheet: Sheet;
  letter: Channel;
  onSet: (source: ChannelSource | null) => Promise<boolean>;
}) {
  const { id: project, document } = useProject();
  const readings = useReadings();
  const show = useView((view) => view.show);
  const tell = useDocument((store) => store.tell);
  const source = sheet[letter] ?? null;
  const stats = useStats(source ? `channel:${sheet.id}:${letter}` : null);

  /** A reading begins with black and white at its own ends on this ground. */
  const readingSource = async (name: string): Promise<ChannelSource | null> => {
    const found = await ask(
      client.GET("/api/projects/{project_id}/stats", {
        params: { path: { project_id: project }, query: { name: `reading:${name}` } },
      }),
    );
    const black = Number(found.low.toPrecision(6));
    const white = Number(found.high.toPrecision(6));
    if (white <= black) {
      tell(`${name} is ${black} everywhere on this ground: it has nothing to put into a channel.`);
      return null;
    }
    return { kind: "reading", reading: name, black, white };
  };
  const choose = async (value: string) => {
    const [kind, name = ""] = value.split(":");
    if (kind === "weight") await onSet({ kind: "weight", layer: name });
    else if (kind === "mask") await onSet({ kind: "mask", mask: name });
    else if (kind === "scatter") await onSet({ kind: "scatter", scatter: name });
    else if (kind === "base" || kind === "rest") await onSet({ kind });
    else if (kind === "reading") {
      const made = await readingSource(name);
      if (made) await onSet(made);
    } else await onSet(null);
  };
  return (
    <Box
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 1,
        py: 0.6,
        borderBottom: "1px dashed",
        borderColor: "divider",
        "&:last-of-type": { borderBottom: 0 },
      }}
    >
      <Tooltip title={`Look at ${letter.toUpperCase()} alone`}>
        <ButtonBase
          aria-label={`Look at ${letter.toUpperCase()} of ${sheet.name} alone`}
          onClick={() => show({ kind: "channel", sheet: sheet.id, channel: letter })}
          sx={{
            width: 26,
            height: 26,
            border: 1,
            borderColor: "text.primary",
            borderRadius: 1,
            fontWeight: 700,
            fontSize: 12.5,
            fontFamily: "inherit",
            flexShrink: 0,
          }}
        >
          {letter.toUpperCase()}
        </ButtonBase>
      </Tooltip>
      {source ? (
        <MapThumb subject={{ kind: "channel", sheet: sheet.id, channel: letter }} width={54} height={32} />
      ) : (
        <Box
          sx={{
            width: 54,
            height: 32,
            borderRadius: 1,
            bgcolor: roles.amberWash,
            border: `1px dashed ${roles.amber}`,
            flexShrink: 0,
          }}
        />
      )}
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <ChoiceToken
          label={`What ${letter.toUpperCase()} of ${sheet.name} carries`}
          value={valueOf(source)}
          choices={choicesOf(document, readings)}
          onChange={(value) => void choose(value)}
        />
        {source?.kind === "reading" && <ReadingEnds source={source} onSet={onSet} />}
      </Box>
      {stats.data && (
        <Box component="span" sx={{ fontFamily: MONO, fontSize: 11.5, color: "text.secondary", whiteSpace: "nowrap" }}>
          {((stats.data.mean / 255) * 100).toFixed(0)} %
        </Box>
      )}
    </Box>
  );
}

type ReadingSource = Extract<ChannelSource, { kind: "reading" }>;

function ReadingEnds({ source, onSet }: { source: ReadingSource; onSet: (source: ChannelSource) => Promise<boolean> }) {
  const readings = useReadings();
  const reading = readings.find((item) => item.name === source.reading);
  const log = reading?.scale === "log";
  const end = (label: string, field: "black" | "white") => (
    <NumberToken
      label={label}
      value={source[field]}
      unit={reading?.unit ?? ""}
      min={log ? 0.000001 : -20000}
      max={log ? 1e12 : 20000}
      step={log ? Math.max(1, Math.round(source[field] / 10)) : 10 ** -Math.min(reading?.decimals ?? 1, 4)}
      decimals={Math.max(reading?.decimals ?? 2, 2)}
      onCommit={(v) => onSet({ ...source, [field]: v })}
    />
  );
  return (
    <Typography variant="caption" component="div" sx={{ lineHeight: 2 }}>
      black is {end("Black stands for", "black")}, white is {end("White stands for", "white")}
    </Typography>
  );
}
