import { Box, Button } from "@mui/material";
import { useState } from "react";
import type { Line, Mask } from "../../api/types";
import { Inset } from "../../kit/Card";
import { MoreMenu } from "../../kit/MoreMenu";
import { newId, useDocument, useProject } from "../../document/document";
import { copied, movedBy, muted, without } from "./several";

interface SeveralBarProps {
  mask: Mask;
  chosen: Set<string>;
  onChosen: (chosen: Set<string>) => void;
  onDone: () => void;
}

/** What can be done with several chosen lines at once. */
export function SeveralBar({ mask, chosen, onChosen, onDone }: SeveralBarProps) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const [busy, setBusy] = useState(false);
  const count = chosen.size;
  const many = count === 1 ? "1 line" : `${count} lines`;
  const put = async (lines: Line[], what: string) => {
    setBusy(true);
    await edit([{ op: "set_lines", mask: mask.id, lines, what }], { what });
    setBusy(false);
  };
  const picked = mask.lines.filter((line) => chosen.has(line.id));
  const toOther = async (other: Mask, move: boolean) => {
    const fresh = picked.map((line) => ({ ...line, id: newId("line") }));
    const what = `${move ? "move" : "copy"} ${many} to ${other.name}`.slice(0, 60);
    setBusy(true);
    const saved = await edit(
      [
        { op: "set_lines", mask: other.id, lines: [...other.lines, ...fresh], what },
        ...(move ? [{ op: "set_lines" as const, mask: mask.id, lines: without(mask.lines, chosen), what }] : []),
      ],
      { what },
    );
    setBusy(false);
    if (saved && move) onChosen(new Set());
  };
  const others = document.masks.filter((item) => item.id !== mask.id);
  const button = (label: string, act: () => void) => (
    <Button size="small" color="inherit" variant="outlined" disabled={busy || count === 0} onClick={act}>
      {label}
    </Button>
  );
  return (
    <Inset chosen role="region" aria-label="Several lines">
      <Box sx={{ display: "flex", alignItems: "center", justifyContent: "space-between" }}>
        <b>{count === 0 ? "Tick the lines" : `${many} chosen`}</b>
        <Box>
          <Button size="small" color="inherit" onClick={() => onChosen(new Set(mask.lines.map((line) => line.id)))}>
            All
          </Button>
          <Button size="small" color="inherit" onClick={onDone}>
            Done
          </Button>
        </Box>
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.6, mt: 0.6, alignItems: "center" }}>
        {button("Up", () => void put(movedBy(mask.lines, chosen, -1), `move ${many}`))}
        {button("Down", () => void put(movedBy(mask.lines, chosen, 1), `move ${many}`))}
        {button("Mute", () => void put(muted(mask.lines, chosen, true), `mute ${many}`))}
        {button("Use again", () => void put(muted(mask.lines, chosen, false), `unmute ${many}`))}
        {button(
          "Copy",
          () =>
            void put(
              copied(mask.lines, chosen, () => newId("line")),
              `copy ${many}`,
            ),
        )}
        {button("Delete", () => {
          void put(without(mask.lines, chosen), `delete ${many}`).then(() => onChosen(new Set()));
        })}
        <MoreMenu
          label="To another mask"
          actions={others.flatMap((other) => [
            { label: `Copy to ${other.name}`, act: () => void toOther(other, false), off: count === 0 },
            { label: `Move to ${other.name}`, act: () => void toOther(other, true), off: count === 0 },
          ])}
        />
      </Box>
    </Inset>
  );
}
