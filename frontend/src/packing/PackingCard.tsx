import { Box, Button, Typography } from "@mui/material";
import AddIcon from "@mui/icons-material/Add";
import CheckIcon from "@mui/icons-material/Check";
import { useEffect, useState } from "react";
import type { ProjectDocument } from "../api/types";
import { Card } from "../parts/Card";
import { NameDialog } from "../parts/NameDialog";
import { newId, useDocument, useProject } from "../state/document";
import { useView } from "../state/view";
import { SheetInset } from "./SheetInset";
import { takingPart } from "../viewport/subjects";
import { LETTERS } from "./sources";

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
        <SheetInset key={sheet.id} sheet={sheet} chosen={sheet === shown} />
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
  const wanted = takingPart(document).map((item) => item.id);
  const right = wanted.every((id) => carried.filter((other) => other === id).length === 1);
  return right ? names.join(" and ") : null;
}
