import {
  Box,
  Button,
  ButtonBase,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useSizes, useTargets } from "../../document/queries";
import { useDocument, useProject } from "../../document/document";
import { MONO, roles } from "../../kit/theme";
import { trim } from "../../kit/numbers";
import { Coming } from "../../kit/Coming";
import { KindSizes } from "./KindSizes";
import { megabytes } from "../../kit/megabytes";

/** A size found by typing near it, with what it costs; where any size is taken, one typed freely. */
export function SizeDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm">
      {open && <Sizes onClose={onClose} />}
    </Dialog>
  );
}

function Sizes({ onClose }: { onClose: () => void }) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const targets = useTargets();
  const [find, setFind] = useState("");
  const chosen = targets.data?.find((item) => item.id === document.delivery.target);
  const wanted = /^\s*(\d{1,5})(?:\s*[x×, ]\s*(\d{1,5}))?\s*$/.exec(find);
  const cols = wanted ? Number(wanted[1]) : null;
  const rows = wanted?.[2] ? Number(wanted[2]) : null;
  const sizes = useSizes(true, cols === null ? null : Math.max(cols, rows ?? 0, 1));
  const away = (item: { rows: number; cols: number }) =>
    Math.abs(Math.max(item.cols, item.rows) - Math.max(cols ?? 0, rows ?? 0)) +
    (rows === null ? 0 : Math.abs(item.rows - rows) + Math.abs(item.cols - (cols ?? 0)));
  const offered = [...(sizes.data ?? [])];
  if (cols !== null) offered.sort((a, b) => away(a) - away(b));
  const any = chosen?.rules.sizes.kind === "any";
  const take = async (size: { rows: number; cols: number }) => {
    const delivery = { ...document.delivery, rows: size.rows, cols: size.cols };
    if (await edit([{ op: "set_delivery", delivery }])) onClose();
  };
  return (
    <>
      <DialogTitle>Sizes</DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1.5 }}>
          {chosen?.sentences.find((item) => item.title === "Sizes")?.sentence} Other maps follow below.
        </Typography>
        <TextField
          autoFocus
          fullWidth
          size="small"
          label="Samples, or columns × rows"
          value={find}
          onChange={(event) => setFind(event.target.value)}
          helperText={cols === null ? "Nearest to the ground's own come first" : "Nearest to that come first"}
        />
        {any && cols !== null && (
          <Button sx={{ mt: 1 }} variant="outlined" onClick={() => void take({ cols, rows: rows ?? cols })}>
            Take {cols} × {rows ?? cols}
          </Button>
        )}
        <Coming asked={sizes} what="Sizes are coming…" />
        <Box
          role="listbox"
          aria-label="Sizes that are taken"
          aria-busy={sizes.isPlaceholderData}
          sx={{ mt: 1, maxHeight: 200, overflowY: "auto" }}
        >
          {offered.slice(0, 60).map((item) => {
            const now = item.rows === document.delivery.rows && item.cols === document.delivery.cols;
            return (
              <ButtonBase
                key={`${item.cols}x${item.rows}`}
                role="option"
                aria-selected={now}
                // Until those near to what was typed are here, the first one is none of them.
                disabled={sizes.isPlaceholderData}
                onClick={() => void take(item)}
                sx={{
                  display: "grid",
                  gridTemplateColumns: "120px 1fr 90px",
                  width: "100%",
                  textAlign: "left",
                  fontFamily: MONO,
                  fontSize: 13,
                  minHeight: 30,
                  px: 1,
                  borderRadius: 1,
                  bgcolor: now ? roles.gentianWash : "transparent",
                  "&:hover, &:focus-visible": { bgcolor: roles.mossWash },
                }}
              >
                <b>
                  {item.cols} × {item.rows}
                </b>
                <span>
                  {trim(item.spacing_x, 4)} × {trim(item.spacing_y, 4)} m apart{item.own ? ", the ground's own" : ""}
                </span>
                <span style={{ textAlign: "right" }}>{megabytes(item.bytes)}</span>
              </ButtonBase>
            );
          })}
        </Box>
        <KindSizes />
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onClose}>
          Close
        </Button>
      </DialogActions>
    </>
  );
}
