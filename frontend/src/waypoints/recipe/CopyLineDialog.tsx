import { Dialog, DialogTitle, List, ListItem, ListItemButton, ListItemText } from "@mui/material";
import type { Line, Mask } from "../../api/types";
import { newId, useDocument, useProject } from "../../document/document";
import { useView } from "../../viewport/view";

interface CopyLineDialogProps {
  open: boolean;
  /** The mask that it is in, if it is in one. */
  mask: Mask | null;
  line: Line;
  onClose: () => void;
}

/** To which other mask a line is copied, at its end. */
export function CopyLineDialog({ open, mask, line, onClose }: CopyLineDialogProps) {
  const { document } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const copy = async (to: string) => {
    onClose();
    const id = newId("line");
    if (await edit([{ op: "add_line", mask: to, line: { ...line, id } }])) set({ selectedMask: to, selectedLine: id });
  };
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="xs">
      <DialogTitle>Copy this line to…</DialogTitle>
      <List>
        {document.masks
          .filter((item) => item.id !== mask?.id)
          .map((item) => (
            <ListItem key={item.id} disablePadding>
              <ListItemButton onClick={() => void copy(item.id)}>
                <ListItemText primary={item.name} secondary={`${item.lines?.length ?? 0} lines`} />
              </ListItemButton>
            </ListItem>
          ))}
      </List>
    </Dialog>
  );
}
