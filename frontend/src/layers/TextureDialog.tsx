import { Alert, Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import { sentence, uploadAll } from "../api/client";
import type { Operation, OwnLook, TextureSet } from "../api/types";
import { ChoiceToken } from "../parts/ChoiceToken";
import { FileButton } from "../parts/FileButton";
import { NumberToken } from "../parts/NumberToken";
import { useDocument, useProject } from "../state/document";
import { AS_IT_COMES } from "./dressing";

type Kind = NonNullable<TextureSet["files"][number]["kind"]>;

const KINDS: { value: Kind; label: string }[] = [
  { value: "albedo", label: "colour" },
  { value: "normal", label: "normal" },
  { value: "roughness", label: "roughness" },
  { value: "relief", label: "relief" },
];

/** Textures from elsewhere: sets as they were recognised, which can be corrected before they are taken. */
export function TextureDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="md">
      {open && <Form onClose={onClose} />}
    </Dialog>
  );
}

interface Taken extends TextureSet {
  size: number;
  green: "up" | "down";
}

function Form({ onClose }: { onClose: () => void }) {
  const { id, document } = useProject();
  const edit = useDocument((store) => store.edit);
  const [sets, setSets] = useState<Taken[]>([]);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const bring = async (files: File[]) => {
    setBusy(true);
    setTrouble(null);
    try {
      const paths = files.map((file) => (file.webkitRelativePath || file.name).replace(/\n/g, " ")).join("\n");
      const found = await uploadAll<TextureSet[]>(`/api/projects/${id}/textures`, files, { paths });
      setSets((now) => [...now, ...found.map((set) => ({ ...set, size: set.look?.size ?? 3, green: "up" as const }))]);
    } catch (error) {
      setTrouble(sentence(error));
    } finally {
      setBusy(false);
    }
  };
  const change = (at: number, part: Partial<Taken>) =>
    setSets((now) => now.map((set, i) => (i === at ? { ...set, ...part } : set)));
  const good = sets.filter((set) => set.look);
  const take = async () => {
    const looks = good.map((set) => ({ ...lookOf(set), size: set.size, green: set.green }));
    const worn = good.flatMap((set, i): Operation[] => {
      const look = looks[i];
      const layer = document.layers.find((item) => item.id === set.layer);
      if (!look || !set.layer) return [];
      const dressing = { ...AS_IT_COMES, look: look.id };
      if (set.layer === "base") return [{ op: "set_base", base: { ...document.base, colour: look.mean, dressing } }];
      return layer ? [{ op: "set_layer", layer: { ...layer, colour: look.mean, dressing } }] : [];
    });
    if (await edit([...looks.map((look) => ({ op: "add_look" as const, look })), ...worn])) onClose();
  };
  const layers = [
    { value: "", label: "nobody yet" },
    { value: "base", label: document.base.name ?? "Base" },
    ...document.layers.map((layer) => ({ value: layer.id, label: layer.name })),
  ];
  return (
    <>
      <DialogTitle>Bring textures in</DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="textSecondary">
          PNG, JPEG or TIFF. Files whose names agree go together; which map each is, is seen by its name or its content.
        </Typography>
        <Box sx={{ display: "flex", gap: 1, my: 1.5 }}>
          <FileButton id="texture-files" multiple onFiles={(files) => void bring(files)}>
            Choose files…
          </FileButton>
          <FolderButton onFiles={(files) => void bring(files)} />
          {busy && <Typography variant="body2">Reading…</Typography>}
        </Box>
        {trouble && <Alert severity="error">{trouble}</Alert>}
        {sets.map((set, at) => (
          <Box
            key={`${set.name}${at}`}
            component="section"
            aria-label={`Set ${set.name}`}
            sx={{ border: 1, borderColor: "divider", borderRadius: 1.3, p: 1.3, mb: 1 }}
          >
            <Box sx={{ fontSize: 13.5, lineHeight: 2 }}>
              <b>{set.name}</b>
              {set.look && (
                <>
                  ,{" "}
                  <NumberToken
                    label={`Size of ${set.name}`}
                    value={set.size}
                    unit="m"
                    min={0.05}
                    max={1000}
                    step={0.1}
                    decimals={2}
                    onCommit={(size) => {
                      change(at, { size });
                      return Promise.resolve(true);
                    }}
                  />{" "}
                  across, worn by{" "}
                  <ChoiceToken
                    label={`Who wears ${set.name}`}
                    value={set.layer ?? ""}
                    choices={layers}
                    onChange={(layer) => change(at, { layer: layer || null })}
                  />
                  {set.look.normal && (
                    <>
                      , green of its normal map points{" "}
                      <ChoiceToken
                        label={`Green of ${set.name}`}
                        value={set.green}
                        choices={[
                          { value: "up", label: "up" },
                          { value: "down", label: "down" },
                        ]}
                        onChange={(green) => change(at, { green: green as "up" | "down" })}
                      />
                    </>
                  )}
                  <Box
                    component="span"
                    sx={{
                      display: "inline-block",
                      width: 18,
                      height: 18,
                      ml: 1,
                      borderRadius: 0.6,
                      verticalAlign: "text-bottom",
                      bgcolor: set.look.mean,
                    }}
                    title="Mean colour, measured in linear light"
                  />
                </>
              )}
            </Box>
            {set.files.map((file, number) => (
              <Box key={file.file} sx={{ fontSize: 12.5, lineHeight: 1.9 }}>
                {file.problem ? (
                  <Box component="span" sx={{ color: "error.main" }}>
                    {file.file}: {file.problem}
                  </Box>
                ) : (
                  <>
                    <ChoiceToken
                      label={`What ${file.file} is`}
                      value={file.kind ?? ""}
                      choices={KINDS}
                      onChange={(kind) => change(at, { files: swapped(set, number, kind as Kind) })}
                    />{" "}
                    {file.file}, {file.cols} × {file.rows}
                    {file.told.map((text) => (
                      <Typography key={text} variant="caption" sx={{ display: "block", color: "warning.main" }}>
                        {text}
                      </Typography>
                    ))}
                  </>
                )}
              </Box>
            ))}
            {!set.look && set.files.some((file) => !file.problem) && (
              <Typography variant="caption" sx={{ color: "warning.main" }}>
                It has no colour map, so it is no look: say which of its files is the colour.
              </Typography>
            )}
          </Box>
        ))}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Cancel
        </Button>
        <Button variant="contained" disabled={good.length === 0 || busy} onClick={() => void take()}>
          {good.length === 1 ? "Take 1 look" : `Take ${good.length} looks`}
        </Button>
      </DialogActions>
    </>
  );
}

/** A file becomes another kind; who was that kind before takes its place. */
function swapped(set: Taken, number: number, kind: Kind): TextureSet["files"] {
  const before = set.files[number]?.kind ?? null;
  return set.files.map((file, i) =>
    i === number ? { ...file, kind } : file.kind === kind ? { ...file, kind: before } : file,
  );
}

/** The look with the files as they are named now. */
function lookOf(set: Taken): OwnLook {
  const asset = (kind: Kind) => set.files.find((file) => file.kind === kind && file.asset)?.asset ?? null;
  const look = set.look as OwnLook;
  return {
    ...look,
    albedo: asset("albedo") ?? look.albedo,
    normal: asset("normal"),
    roughness: asset("roughness"),
    relief: asset("relief"),
  };
}

function FolderButton({ onFiles }: { onFiles: (files: File[]) => void }) {
  return (
    <Button size="small" variant="outlined" color="inherit" component="label">
      Choose a folder…
      <input
        type="file"
        hidden
        data-testid="texture-folder"
        ref={(element) => element?.setAttribute("webkitdirectory", "")}
        onChange={(event) => {
          const files = [...(event.target.files ?? [])].filter((file) => /\.(png|jpe?g|tiff?)$/i.test(file.name));
          event.target.value = "";
          if (files.length > 0) onFiles(files);
        }}
      />
    </Button>
  );
}
