import { Alert, Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import { sentence, uploadAll } from "../../api/client";
import type { Operation, OwnLook, TextureSet } from "../../api/types";
import { ChoiceToken } from "../../kit/ChoiceToken";
import { titlesFor, useEndings, useFormats } from "../../document/formats";
import { FileButton } from "../../kit/FileButton";
import { NumberToken } from "../../kit/NumberToken";
import { newId, useDocument, useProject } from "../../document/document";
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

/** A set with what can be said of its look before it is taken. */
interface Taken extends TextureSet {
  id: string;
  size: number;
  depth: number;
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
      setSets((now) => [...now, ...found.map(taken)]);
    } catch (error) {
      setTrouble(sentence(error));
    } finally {
      setBusy(false);
    }
  };
  const change = (at: number, part: Partial<Taken>) =>
    setSets((now) => now.map((set, i) => (i === at ? { ...set, ...part } : set)));
  const looks = sets.flatMap((set) => lookOf(set) ?? []);
  const take = async () => {
    const worn = sets.flatMap((set): Operation[] => {
      const look = looks.find((item) => item.id === set.id);
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
          {titlesFor(useFormats(), "texture")}. Files whose names agree go together; which map each is, is seen by its
          name or its content.
        </Typography>
        <Box sx={{ display: "flex", gap: 1, my: 1.5 }}>
          <FileButton id="texture-files" what="texture" multiple onFiles={(files) => void bring(files)}>
            Choose files…
          </FileButton>
          <FolderButton onFiles={(files) => void bring(files)} />
          {busy && <Typography variant="body2">Reading…</Typography>}
        </Box>
        {trouble && <Alert severity="error">{trouble}</Alert>}
        {sets.map((set, at) => (
          <SetSection key={set.id} set={set} layers={layers} onChange={(part) => change(at, part)} />
        ))}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} color="inherit">
          Cancel
        </Button>
        <Button variant="contained" disabled={looks.length === 0 || busy} onClick={() => void take()}>
          {looks.length === 1 ? "Take 1 look" : `Take ${looks.length} looks`}
        </Button>
      </DialogActions>
    </>
  );
}

/** One set of textures: what each file is, how large it is across, and who wears it. */
function SetSection({
  set,
  layers,
  onChange,
}: {
  set: Taken;
  layers: { value: string; label: string }[];
  onChange: (part: Partial<Taken>) => void;
}) {
  const metres = (field: "size" | "depth") => (
    <NumberToken
      label={`${field === "size" ? "Size" : "Relief"} of ${set.name}`}
      value={set[field]}
      unit="m"
      min={field === "size" ? 0.05 : 0}
      max={field === "size" ? 1000 : 100}
      step={field === "size" ? 0.1 : 0.01}
      decimals={2}
      onCommit={(value) => {
        onChange({ [field]: value });
        return Promise.resolve(true);
      }}
    />
  );
  return (
    <Box
      component="section"
      aria-label={`Set ${set.name}`}
      sx={{ border: 1, borderColor: "divider", borderRadius: 1.3, p: 1.3, mb: 1 }}
    >
      <Box sx={{ fontSize: 13.5, lineHeight: 2 }}>
        <b>{set.name}</b>
        {has(set, "albedo") && (
          <>
            , {metres("size")} across, worn by{" "}
            <ChoiceToken
              label={`Who wears ${set.name}`}
              value={set.layer ?? ""}
              choices={layers}
              onChange={(layer) => onChange({ layer: layer || null })}
            />
            {has(set, "relief") && <>, relief {metres("depth")} from black to white</>}
            {has(set, "normal") && (
              <>
                , green of its normal map points{" "}
                <ChoiceToken
                  label={`Green of ${set.name}`}
                  value={set.green}
                  choices={[
                    { value: "up", label: "up" },
                    { value: "down", label: "down" },
                  ]}
                  onChange={(green) => onChange({ green: green as "up" | "down" })}
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
                bgcolor: has(set, "albedo")?.mean,
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
                onChange={(kind) => onChange({ files: swapped(set, number, kind as Kind) })}
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
      {!has(set, "albedo") && set.files.some((file) => !file.problem) && (
        <Typography variant="caption" sx={{ color: "warning.main" }}>
          It has no colour map, so it is no look: say which of its files is the colour.
        </Typography>
      )}
    </Box>
  );
}

/** A file becomes another kind; who was that kind before takes its place. */
function swapped(set: Taken, number: number, kind: Kind): TextureSet["files"] {
  const before = set.files[number]?.kind ?? null;
  return set.files.map((file, i) =>
    i === number ? { ...file, kind } : file.kind === kind ? { ...file, kind: before } : file,
  );
}

function taken(set: TextureSet): Taken {
  return {
    ...set,
    id: set.look?.id ?? newId("look"),
    size: set.look?.size ?? 3,
    depth: set.look?.depth ?? 0.1,
    green: "up",
  };
}

/** The file of a set that is this map now. */
function has(set: Taken, kind: Kind): TextureSet["files"][number] | undefined {
  return set.files.find((file) => file.kind === kind && file.asset);
}

/** The look of the files as they are named now; null while none of them is its colour. */
function lookOf(set: Taken): OwnLook | null {
  const albedo = has(set, "albedo");
  if (!albedo?.asset) return null;
  const { rows, cols, mean, seam } = albedo;
  const [normal, roughness, relief] = (["normal", "roughness", "relief"] as const).map(
    (kind) => has(set, kind)?.asset ?? null,
  );
  const { id, name, size, depth, green } = set;
  return { id, name, albedo: albedo.asset, normal, roughness, relief, rows, cols, size, depth, green, mean, seam };
}

function FolderButton({ onFiles }: { onFiles: (files: File[]) => void }) {
  const endings = useEndings("texture");
  // Until it is known what a texture can be, the server says so of each file.
  const isTexture = ({ name }: File) =>
    endings.length === 0 || endings.some((ending) => name.toLowerCase().endsWith(ending));
  return (
    <Button size="small" variant="outlined" color="inherit" component="label">
      Choose a folder…
      <input
        type="file"
        hidden
        data-testid="texture-folder"
        ref={(element) => element?.setAttribute("webkitdirectory", "")}
        onChange={(event) => {
          const files = [...(event.target.files ?? [])].filter(isTexture);
          event.target.value = "";
          if (files.length > 0) onFiles(files);
        }}
      />
    </Button>
  );
}
