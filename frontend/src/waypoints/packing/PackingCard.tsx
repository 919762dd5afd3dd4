import { Box, Button, Menu, MenuItem, Typography } from "@mui/material";
import AddIcon from "@mui/icons-material/Add";
import CheckIcon from "@mui/icons-material/Check";
import { useEffect, useState } from "react";
import { useRules } from "../../document/queries";
import type { Operation, ProjectDocument } from "../../api/types";
import { Card } from "../../kit/Card";
import { NameDialog } from "../../kit/NameDialog";
import { newId, useDocument, useProject } from "../../document/document";
import { useViewParts } from "../../viewport/view";
import { ApartDialog } from "./ApartDialog";
import { MapShelf } from "./MapShelf";
import { SheetInset } from "./SheetInset";
import { takingPart } from "../../document/outcomes";
import { LETTERS } from "./sources";

type DataSheet = Extract<Operation, { op: "propose_data_sheets" }>["what"];

export function PackingCard() {
  const { document, cautions } = useProject();
  const edit = useDocument((store) => store.edit);
  const { subject, show } = useViewParts("subject", "show");
  const [naming, setNaming] = useState(false);
  const [apart, setApart] = useState(false);
  const shownId = subject.kind === "sheet" ? subject.id : subject.kind === "channel" ? subject.sheet : null;
  const other = subject.kind === "sums" || subject.kind === "mixed";
  const shown = document.sheets.find((sheet) => sheet.id === shownId) ?? document.sheets[0] ?? null;
  const firstId = shown?.id ?? null;

  useEffect(() => {
    if (firstId === null) show({ kind: "layers", over: true });
    else if (shownId !== firstId && !other) show({ kind: "sheet", id: firstId, style: "each" });
  }, [firstId, shownId, other, show]);

  const create = async (name: string) => {
    const id = newId("sheet");
    await edit([
      {
        op: "add_sheet",
        sheet: { id, name, layout: "rgba", bits: 8, proposed: false, r: null, g: null, b: null, a: null },
      },
    ]);
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
          <Button color="inherit" onClick={() => setApart(true)}>
            Take an image apart…
          </Button>
          <Propose />
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
        <SheetInset key={sheet.id} sheet={sheet} chosen={sheet === shown} />
      ))}
      {complete && (
        <Box sx={{ display: "flex", alignItems: "center", gap: 0.6, fontWeight: 600, fontSize: 13 }}>
          <CheckIcon fontSize="small" /> The weights of {complete} add up to full scale at every sample
        </Box>
      )}
      {cautions
        .filter((item) => item.waypoint === "packing")
        .map((item) => (
          <Typography key={item.message} variant="body2" color="warning" sx={{ fontWeight: 600, mt: 0.5 }}>
            ! {item.message}
          </Typography>
        ))}
      <MapShelf />
      <NameDialog
        open={naming}
        title="New sheet"
        suggestion={freeName(document)}
        action="Make it"
        onClose={() => setNaming(false)}
        onName={(name) => void create(name)}
      />
      <ApartDialog open={apart} onClose={() => setApart(false)} />
    </Card>
  );
}

/** Sheets for the layers the way the target takes them, or usual ones for data. */
function Propose() {
  const edit = useDocument((store) => store.edit);
  const rules = useRules();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const go = (operation: Operation) => {
    setAnchor(null);
    void edit([operation]);
  };
  return (
    <>
      <Button variant="outlined" aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        Propose sheets
      </Button>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true } }}
      >
        <MenuItem onClick={() => go({ op: "propose_sheets", channels: 4 })}>
          Every layer, as the target takes them
        </MenuItem>
        <MenuItem onClick={() => go({ op: "propose_sheets", channels: 3 })}>
          Every layer, three to a sheet, without alpha
        </MenuItem>
        {rules.data?.data_sheets.map(({ value, label }) => (
          <MenuItem key={value} onClick={() => go({ op: "propose_data_sheets", what: value as DataSheet })}>
            {label}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

function freeName(document: ProjectDocument): string {
  const taken = new Set(document.sheets.map((sheet) => sheet.name.toLowerCase()));
  for (let i = 1; ; i++) if (!taken.has(`sheet_${i}`)) return `sheet_${i}`;
}

/** The sheets whose weights add up, in words; null when a weight is missing, carried twice, turned over, or rounded to
 * another depth than the others. */
function addsUp(document: ProjectDocument): string | null {
  const carried: string[] = [];
  const names: string[] = [];
  const depths = new Set<number>();
  for (const sheet of document.sheets) {
    const sources = LETTERS[sheet.layout].map((letter) => sheet[letter]);
    if (sources.some((source) => source?.kind === "rest" || source?.kind === "step")) return null;
    const weights = sources.flatMap((source) =>
      source?.turned ? [] : source?.kind === "weight" ? [source.layer] : source?.kind === "base" ? ["base"] : [],
    );
    if (weights.length) {
      names.push(sheet.name);
      depths.add(sheet.bits);
    }
    carried.push(...weights);
  }
  const wanted = takingPart(document).map((item) => item.id);
  const right = wanted.every((id) => carried.filter((other) => other === id).length === 1);
  return right && depths.size === 1 ? names.join(" and ") : null;
}
