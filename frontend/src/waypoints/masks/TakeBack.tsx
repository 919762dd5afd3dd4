import { named } from "../../api/mapNames";
import { Alert, Box, Button, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { ask, client, sentence, upload, type Schemas } from "../../api/client";
import type { Mask, Operation } from "../../api/types";
import { Inset } from "../../kit/Card";
import { Segments } from "../../kit/Segments";
import { newId, settled, useDocument, useProject } from "../../document/document";
import { previews } from "../../viewport/preview";
import { useView } from "../../viewport/view";
import { FileButton } from "../../kit/FileButton";

type Returned = Schemas["TakenBackOut"];

/** An edited mask comes back: looked at, compared with what went out, and kept as a line with its source. */
export function TakeBack({ mask, onDone }: { mask: Mask; onDone: () => void }) {
  const { id } = useProject();
  const edit = useDocument((store) => store.edit);
  const set = useView((view) => view.set);
  const [found, setFound] = useState<Returned | null>(null);
  const [look, setLook] = useState<"back" | "changed">("changed");
  const [trouble, setTrouble] = useState<string | null>(null);

  useEffect(() => {
    if (found)
      previews.ask(id, named.mask(mask.id), operations(mask, found, look === "changed" ? "difference" : "take"));
    return () => previews.clear();
  }, [id, mask, found, look]);

  const bring = async (file: File) => {
    setTrouble(null);
    try {
      setFound(await upload<Returned>(`/api/projects/${id}/take-back/${mask.id}`, file));
    } catch (error) {
      setTrouble(sentence(error));
    }
  };
  const keep = async () => {
    if (!found) return;
    setTrouble(null);
    try {
      const made = look === "changed" ? await changedOnly(id, mask, found) : operations(mask, found, "take");
      const line = made.find((op) => op.op === "add_line");
      if (await edit(made, { what: "the mask that came back" })) {
        set({ selectedLine: line?.op === "add_line" ? line.line.id : null });
        onDone();
      }
    } catch (error) {
      setTrouble(sentence(error));
    }
  };
  return (
    <Inset role="region" aria-label={`Take ${mask.name} back`} chosen>
      <Box sx={{ display: "flex", justifyContent: "space-between", alignItems: "center", mb: 1 }}>
        <b>Take {mask.name} back</b>
        <Button size="small" color="inherit" onClick={onDone}>
          Close
        </Button>
      </Box>
      <FileButton id="take-back-file" what="mask" onFiles={([file]) => file && void bring(file)}>
        {found ? "Another file…" : "Choose the edited file…"}
      </FileButton>
      {trouble && (
        <Alert severity="error" sx={{ mt: 1 }}>
          {trouble}
        </Alert>
      )}
      {found && (
        <>
          <Alert severity={found.sized && found.alike > 0.2 && found.turn === 0 ? "info" : "warning"} sx={{ my: 1 }}>
            <b>{found.name}</b>, {found.columns} × {found.rows}. {found.says}
          </Alert>
          <Segments
            label="What is shown"
            options={[
              { value: "changed", label: "What was changed" },
              { value: "back", label: "As it came back" },
            ]}
            value={look}
            onChange={setLook}
          />
          <Box sx={{ mt: 1 }}>
            <Button size="small" variant="contained" onClick={() => void keep()}>
              {look === "changed" ? "Keep what was changed" : "Keep the file as it is"}
            </Button>
          </Box>
          <Typography variant="caption" color="textSecondary" component="div" sx={{ mt: 0.5 }}>
            {look === "changed"
              ? `A line lays over what was added and removed outside${found.since === null ? "" : " since it was sent out"}; the recipe above it goes on working.`
              : "A line takes the file instead of everything above it: lines above change nothing any more."}
          </Typography>
        </>
      )}
    </Inset>
  );
}

/** A line that lays over what was changed, and nothing else. */
async function changedOnly(project: string, mask: Mask, found: Returned): Promise<Operation[]> {
  const { asset, name, turn, flip, samples } = found;
  await settled();
  const part = await ask(
    client.POST("/api/projects/{project_id}/take-back/{mask_id}/changed", {
      params: { path: { project_id: project, mask_id: mask.id } },
      body: { asset, name, turn, flip, samples },
    }),
  );
  const line = {
    id: newId("line"),
    verb: "lay_over" as const,
    muted: false,
    note: name,
    strength: 1,
    asset: part.asset,
  };
  return [{ op: "add_line", mask: mask.id, line }];
}

/** The file as a reading laid over the ground the way it belongs, and a line that reads it. */
function operations(mask: Mask, found: Returned, verb: "take" | "difference"): Operation[] {
  const reading = newId("back");
  const name = `${mask.name}, edited`.slice(0, 60);
  const numbers = { asset: found.asset, turn: found.turn, flip: found.flip, samples: found.samples };
  const source = { kind: "reading" as const, reading, black: 0, white: 1 };
  const line = { id: newId("line"), muted: false, note: found.name, strength: 1, source };
  return [
    { op: "add_reading", setting: { id: reading, kind: "picture", name, numbers } },
    { op: "add_line", mask: mask.id, line: verb === "take" ? { ...line, verb } : { ...line, verb } },
  ];
}
