import { Box, Button, ListSubheader, Menu, MenuItem, Typography } from "@mui/material";
import AddIcon from "@mui/icons-material/Add";
import { useState } from "react";
import { usePainting } from "../../document/queries";
import type { Coat, CoatKind } from "../../api/types";
import { newId, useDocument, useProject } from "../../document/document";
import { useView } from "../../viewport/view";

const FAMILIES: { family: CoatKind["family"]; title: string }[] = [
  { family: "ground", title: "Lay colours" },
  { family: "wear", title: "Wear and weather" },
  { family: "change", title: "Change what is below" },
];

/** A new coat on top, of any kind. */
export function AddCoat() {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const painting = usePainting();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const pieces = document.coat_pieces ?? [];
  const add = async (kind: CoatKind) => {
    setAnchor(null);
    const piece = kind.kind === "piece" ? { piece: pieces[0]?.id } : {};
    const coat = { ...kind.fresh, ...piece, kind: kind.kind, id: newId("coat") } as unknown as Coat;
    if (await edit([{ op: "add_coat", coat }])) set({ selectedCoat: coat.id });
  };
  /** Why a kind cannot be added yet. */
  const missing = (kind: CoatKind): string | null => {
    if (kind.slots.some((slot) => slot.kind === "picture") && (painting?.pictures ?? []).length === 0)
      return "needs a picture: bring one in below";
    if (kind.kind === "piece" && pieces.length === 0) return "no piece has been made yet";
    return null;
  };
  return (
    <>
      <Button
        variant="outlined"
        color="inherit"
        startIcon={<AddIcon />}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Coat
      </Button>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true, "aria-label": "Kinds of coats" }, paper: { sx: { width: 372 } } }}
      >
        {FAMILIES.flatMap(({ family, title }) => [
          <ListSubheader role="presentation" key={family} sx={{ lineHeight: "28px" }}>
            {title}
          </ListSubheader>,
          ...(painting?.coats ?? [])
            .filter((kind) => kind.family === family)
            .map((kind) => (
              <MenuItem
                key={kind.kind}
                disabled={missing(kind) !== null}
                onClick={() => void add(kind)}
                sx={{ whiteSpace: "normal" }}
              >
                <Box>
                  <b>{kind.title}</b>
                  <Typography component="span" variant="caption" color="textSecondary" sx={{ ml: 1 }}>
                    {missing(kind) ?? kind.hint}
                  </Typography>
                </Box>
              </MenuItem>
            )),
        ])}
      </Menu>
    </>
  );
}
