import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useDocumentParts } from "../document/document";

/** Two tabs edited the same project: nothing is overwritten, the unsent edit is kept, the artist decides. */
export function ConflictDialog() {
  const { conflict, resolve } = useDocumentParts("conflict", "resolve");
  return (
    <Dialog open={conflict !== null} aria-labelledby="conflict-title">
      <DialogTitle id="conflict-title">This project changed elsewhere</DialogTitle>
      <DialogContent>
        <Typography>
          While you worked here, another tab did this: <b>{conflict?.since.join(", ") || "another change"}</b>.
        </Typography>
        {conflict?.both && (
          <Typography sx={{ mt: 1.5 }}>
            {conflict.both.length === 0 ? (
              "Nothing of it touches what you changed: made on top, both stay."
            ) : (
              <>
                Both changed <b>{conflict.both.join(", ")}</b>: made on top, yours stands where they differ.
              </>
            )}
          </Typography>
        )}
        <Typography sx={{ mt: 1.5 }}>
          Yours, <b>{conflict?.what}</b>, is not saved yet and not lost. Make it on top of the newest state, or leave it
          out.
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={() => void resolve(false)}>
          Leave mine out
        </Button>
        <Button variant="contained" onClick={() => void resolve(true)}>
          Make mine on top
        </Button>
      </DialogActions>
    </Dialog>
  );
}
