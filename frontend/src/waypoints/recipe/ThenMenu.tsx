import { Box, Button, ButtonBase, ListSubheader, Menu, MenuItem, Typography } from "@mui/material";
import { useState } from "react";
import { useLineKinds, useReadings, useStats } from "../../document/queries";
import type { Line, LineKind } from "../../api/types";
import { focusWhenThere } from "../../kit/focus";
import { useDocument, useProject } from "../../document/document";
import { useTools } from "../../viewport/tools";
import { useView } from "../../viewport/view";
import { type Holder, readOn } from "../../document/holder";
import { fit, fittedBand, fittedMapping } from "./fit";
import { firstReading, isPossible, newLine, readBy, slotOf, withFields } from "./lines";

const FAMILIES: { family: LineKind["family"]; title: string }[] = [
  { family: "combine", title: "Put together" },
  { family: "tone", title: "Tone" },
  { family: "area", title: "Edges and areas" },
  { family: "breakup", title: "Break up" },
  { family: "hand", title: "By hand" },
  { family: "reuse", title: "Use again" },
];

interface ThenMenuProps {
  holder: Holder;
  /** What stands on it while there is no line. */
  begin?: string;
  onPoint?: () => void;
}

/** The next line of a recipe: every verb, in families. */
export function ThenMenu({ holder, begin = "Take…", onPoint }: ThenMenuProps) {
  const { document, id } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const take = useTools((tools) => tools.take);
  const kinds = useLineKinds();
  const readings = useReadings();
  const first = firstReading(readings, readBy(holder.lines));
  const stats = useStats(first ? readOn(holder.steps, first.name) : null);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  /** Whether the menu closes because a line was chosen: the focus then goes to that line. */
  const [adding, setAdding] = useState(false);
  /** What a new line reads first begins with numbers of this ground. */
  const suited = async (line: Line, kind: LineKind): Promise<Line> => {
    const slots = kind.slots.filter((slot) => slot.start === "band" || slot.start === "mapped");
    if (!first || slots.length === 0) return line;
    const found = await fit(id, first.name, holder.steps, null, kind.holds).catch(() => null);
    if (!found) return line;
    const reads = slots.map((slot) => [
      slot.name,
      slot.start === "band" ? fittedBand(first.name, found) : fittedMapping(first, found),
    ]);
    return withFields(line, Object.fromEntries(reads) as Record<string, unknown>);
  };
  const add = async (kind: LineKind) => {
    setAdding(true);
    setAnchor(null);
    const line = await suited(newLine(kind, readings, stats.data, document, first), kind);
    if (!(await edit([holder.add(line)]))) return;
    set({ selectedLine: line.id });
    // The next thing to be done is in the new line.
    focusWhenThere(`[data-line="${line.id}"] button`);
    if (slotOf(kind, "strokes")) take({ kind: "brush", on: holder.kind, holder: holder.id, line: line.id });
  };
  return (
    <Box sx={{ display: "flex", border: "1px dashed", borderColor: "text.secondary", borderRadius: 1.3 }}>
      <ButtonBase
        aria-haspopup="menu"
        onClick={(event) => {
          setAdding(false);
          setAnchor(event.currentTarget);
        }}
        sx={{
          flex: 1,
          justifyContent: "flex-start",
          px: 1.4,
          minHeight: 36,
          color: "text.secondary",
          fontSize: 13.5,
          fontFamily: "inherit",
        }}
      >
        + {holder.lines.length === 0 ? begin : "Then…"}
      </ButtonBase>
      {onPoint && (
        <Button color="inherit" size="small" onClick={onPoint} sx={{ color: "text.secondary", fontSize: 13 }}>
          or point at the ground
        </Button>
      )}
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        disableRestoreFocus={adding}
        slotProps={{ list: { dense: true }, paper: { sx: { maxHeight: 460, width: 372 } } }}
      >
        {FAMILIES.flatMap(({ family, title }) => {
          const items = kinds.filter((kind) => kind.family === family && isPossible(kind, document));
          if (items.length === 0) return [];
          return [
            <ListSubheader role="presentation" key={family} sx={{ lineHeight: "28px" }}>
              {title}
            </ListSubheader>,
            ...items.map((kind) => (
              <MenuItem key={kind.verb} onClick={() => void add(kind)}>
                <b>{kind.title}</b>
                <Typography component="span" variant="caption" color="textSecondary" sx={{ ml: 1 }}>
                  {kind.hint}
                </Typography>
              </MenuItem>
            )),
          ];
        })}
      </Menu>
    </Box>
  );
}
