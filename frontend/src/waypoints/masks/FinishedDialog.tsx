import { Alert, Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import { sentence, uploadAll, type Schemas } from "../../api/client";
import type { Operation } from "../../api/types";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { newId, useDocument, useProject } from "../../document/document";
import { useView } from "../../viewport/view";
import { freeName } from "../recipe/lines";
import { FileButton } from "../../kit/FileButton";

type Finished = Schemas["FinishedOut"];

interface FilesProps {
  onClose: () => void;
  /** Layers are wanted of the masks that were brought in. */
  onLayers: (masks: string[]) => void;
}

/** Finished masks from elsewhere, many at once, matched with the project's own by name. */
export function FinishedDialog({ open, ...rest }: FilesProps & { open: boolean }) {
  return (
    <Dialog open={open} onClose={rest.onClose} fullWidth maxWidth="md">
      {open && <Files {...rest} />}
    </Dialog>
  );
}

function Files({ onClose, onLayers }: FilesProps) {
  const { id, document } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const [found, setFound] = useState<Finished[]>([]);
  const [fate, setFate] = useState<Record<string, string>>({});
  const [trouble, setTrouble] = useState<string | null>(null);
  const good = found.filter((item) => item.asset !== null);
  const bring = async (files: File[]) => {
    setTrouble(null);
    try {
      const answer = await uploadAll<Finished[]>(`/api/projects/${id}/finished`, files);
      setFound(answer);
      setFate(Object.fromEntries(answer.map((item) => [item.file, item.mask ?? "new"])));
    } catch (error) {
      setTrouble(sentence(error));
    }
  };
  const make = async (layers: boolean) => {
    const made: string[] = [];
    const taken = document.masks.map((item) => item.name);
    const operations: Operation[] = [];
    let first: string | null = null;
    for (const item of good) {
      const goal = fate[item.file] ?? "new";
      if (goal === "leave" || item.asset === null) continue;
      const reading = newId("picture");
      const setting = {
        id: reading,
        kind: "picture",
        name: item.title,
        numbers: { asset: item.asset, samples: item.samples },
      };
      const source = { kind: "reading" as const, reading, black: 0, white: 1 };
      const line = { id: newId("line"), verb: "take" as const, muted: false, note: item.file, strength: 1, source };
      operations.push({ op: "add_reading", setting });
      if (goal === "new") {
        const name = freeName(taken, item.title);
        taken.push(name);
        const mask = newId("mask");
        first ??= mask;
        made.push(mask);
        operations.push({ op: "add_mask", mask: { id: mask, name, lines: [line] } });
      } else {
        first ??= goal;
        made.push(goal);
        operations.push({ op: "add_line", mask: goal, line });
      }
    }
    onClose();
    if (operations.length > 0 && (await edit(operations, { what: "finished masks" }))) {
      set({ selectedMask: first, selectedLine: null });
      if (layers) onLayers(made);
    }
  };
  return (
    <>
      <DialogTitle>Bring in finished masks</DialogTitle>
      <DialogContent>
        <Typography color="textSecondary">
          Choose all files of a folder at once. Each becomes a mask laid over the whole ground; files that are named
          like a mask here become its last line.
        </Typography>
        <Box sx={{ my: 1.5 }}>
          <FileButton id="finished-files" size="medium" multiple what="mask" onFiles={(files) => void bring(files)}>
            Choose files…
          </FileButton>
        </Box>
        {trouble && <Alert severity="error">{trouble}</Alert>}
        <Box component="ul" aria-label="Files" sx={{ p: 0, m: 0, listStyle: "none" }}>
          {found.map((item) => (
            <Box
              component="li"
              key={item.file}
              sx={{ display: "grid", gridTemplateColumns: "220px 1fr", gap: 1, py: 0.6, fontSize: 13.5 }}
            >
              <Box component="span" sx={{ overflow: "hidden", textOverflow: "ellipsis" }}>
                {item.file}
              </Box>
              {item.problem ? (
                <Box component="span" sx={{ color: "error.main" }}>
                  {item.problem}
                </Box>
              ) : (
                <span>
                  becomes{" "}
                  <ChoiceToken
                    label={`What becomes of ${item.file}`}
                    value={fate[item.file] ?? "new"}
                    choices={[
                      { value: "new", label: `a new mask, ${item.title}` },
                      ...document.masks.map((mask) => ({ value: mask.id, label: `the last line of ${mask.name}` })),
                      { value: "leave", label: "nothing" },
                    ]}
                    onChange={(value) => setFate({ ...fate, [item.file]: value })}
                  />
                  {item.remark && (
                    <Typography variant="caption" color="textSecondary" sx={{ display: "block" }}>
                      {item.remark}
                    </Typography>
                  )}
                </span>
              )}
            </Box>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Cancel
        </Button>
        <Button color="inherit" disabled={good.length === 0} onClick={() => void make(true)}>
          Bring in and make layers of these…
        </Button>
        <Button variant="contained" disabled={good.length === 0} onClick={() => void make(false)}>
          Bring in {good.length || ""} {good.length === 1 ? "mask" : "masks"}
        </Button>
      </DialogActions>
    </>
  );
}
