import { Alert, Box, Button, CircularProgress, Snackbar, Typography } from "@mui/material";
import AddIcon from "@mui/icons-material/Add";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link as RouterLink, useNavigate } from "react-router";
import { askAgain } from "../document/askAgain";
import { ask, client, sentence, upload } from "../api/client";
import type { ProjectCard, ProjectState } from "../api/types";
import { MoreMenu } from "../kit/MoreMenu";
import { NameDialog } from "../kit/NameDialog";
import { Mark } from "../kit/Mark";
import { useEndings } from "../document/formats";
import { TAB } from "../document/document";
import { MONO } from "../kit/theme";
import { trim } from "../kit/numbers";
import { NewProjectDialog } from "./NewProjectDialog";
import { ShelfPicture } from "./ShelfPicture";

const one = (id: string) => ({ params: { path: { project_id: id } } });

export function Shelf() {
  const cache = useQueryClient();
  const go = useNavigate();
  const projects = useQuery({ queryKey: ["projects"], queryFn: () => ask(client.GET("/api/projects")) });
  const projectFiles = useEndings("project");
  const [making, setMaking] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [gone, setGone] = useState<ProjectCard | null>(null);
  const picker = useRef<HTMLInputElement>(null);

  const look = () => askAgain(cache, ["projects"]);
  const run = async (work: () => Promise<unknown>) => {
    try {
      await work();
      await look();
    } catch (error) {
      setTrouble(sentence(error));
    }
  };
  const bringIn = (file: File) =>
    run(async () => {
      const made = await upload<ProjectState>("/api/projects/bring-in", file);
      await go(`/project/${made.id}/ground`);
    });

  return (
    <Box sx={{ maxWidth: 1120, mx: "auto", px: 4, py: 4 }}>
      <Box component="header" sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 4 }}>
        <Mark size={38} />
        <Box>
          <Typography variant="h1">Zigzag Meadow</Typography>
          <Typography color="textSecondary">
            From a heightmap to masks, weights and packed maps that line up.
          </Typography>
        </Box>
        <Box sx={{ flex: 1 }} />
        <Button variant="outlined" color="inherit" onClick={() => picker.current?.click()}>
          Bring in a project file
        </Button>
        <Button variant="contained" startIcon={<AddIcon />} onClick={() => setMaking(true)}>
          New from a heightmap
        </Button>
        <input
          ref={picker}
          type="file"
          hidden
          accept={projectFiles.join(",")}
          data-testid="bring-in"
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = "";
            if (file) void bringIn(file);
          }}
        />
      </Box>
      {projects.isPending && <CircularProgress aria-label="Looking at the shelf" />}
      {projects.isError && <Alert severity="error">{sentence(projects.error)}</Alert>}
      {projects.data?.length === 0 && (
        <Box
          sx={{
            border: "1px dashed",
            borderColor: "text.secondary",
            borderRadius: 2,
            p: 5,
            textAlign: "center",
          }}
        >
          <Typography variant="h2">The shelf is empty</Typography>
          <Typography color="textSecondary" sx={{ mt: 1 }}>
            Start with New from a heightmap: a PNG, TIFF or raw 16-bit file. Or bring in a project file somebody saved
            out.
          </Typography>
        </Box>
      )}
      <Box
        component="ul"
        aria-label="Projects"
        sx={{
          display: "grid",
          gridTemplateColumns: "repeat(auto-fill, minmax(250px, 1fr))",
          gap: 2.5,
          p: 0,
          m: 0,
          listStyle: "none",
        }}
      >
        {projects.data?.map((card) => (
          <ProjectTile key={card.id} card={card} run={run} onDeleted={() => setGone(card)} />
        ))}
      </Box>
      <NewProjectDialog open={making} onClose={() => setMaking(false)} />
      <Snackbar
        open={gone !== null}
        autoHideDuration={12000}
        onClose={(_, reason) => reason !== "clickaway" && setGone(null)}
        message={gone ? `${gone.name} was deleted.` : ""}
        action={
          <Button
            color="inherit"
            onClick={() => {
              const card = gone;
              setGone(null);
              if (card) void run(() => ask(client.POST("/api/projects/{project_id}/restore", one(card.id))));
            }}
          >
            Undo
          </Button>
        }
      />
      <Snackbar open={trouble !== null} onClose={(_, reason) => reason !== "clickaway" && setTrouble(null)}>
        <Alert severity="error" variant="filled" onClose={() => setTrouble(null)} sx={{ maxWidth: 640 }}>
          {trouble}
        </Alert>
      </Snackbar>
    </Box>
  );
}

interface ProjectTileProps {
  card: ProjectCard;
  run: (work: () => Promise<unknown>) => Promise<void>;
  onDeleted: () => void;
}

function ProjectTile({ card, run, onDeleted }: ProjectTileProps) {
  const go = useNavigate();
  const [renaming, setRenaming] = useState(false);
  const remove = async () => {
    await ask(client.DELETE("/api/projects/{project_id}", one(card.id)));
    onDeleted();
  };
  const rename = (name: string) =>
    ask(
      client.POST("/api/projects/{project_id}/edits", {
        ...one(card.id),
        body: { base: card.revision, tab: TAB, merge: "", operations: [{ op: "rename_project", name }] },
      }),
    );
  const back = () =>
    ask(client.POST("/api/projects/{project_id}/undo", { ...one(card.id), body: { base: card.revision } }));
  if (card.trouble !== null)
    return (
      <TroubledTile
        card={card}
        trouble={card.trouble}
        onBack={() => void run(back)}
        onDelete={() => void run(remove)}
      />
    );
  return (
    <Box
      component="li"
      aria-label={card.name}
      sx={{
        border: 1,
        borderColor: "divider",
        borderRadius: 1.6,
        overflow: "hidden",
        bgcolor: "background.paper",
      }}
    >
      <Box
        component={RouterLink}
        to={`/project/${card.id}/ground`}
        aria-label={`Open ${card.name}`}
        sx={{ display: "block" }}
      >
        <ShelfPicture card={card} />
      </Box>
      <Box sx={{ display: "flex", alignItems: "flex-start", p: 1.5 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography variant="h3" noWrap>
            <Box
              component={RouterLink}
              to={`/project/${card.id}/ground`}
              sx={{ color: "inherit", textDecoration: "none" }}
            >
              {card.name}
            </Box>
          </Typography>
          <Typography variant="caption" color="textSecondary" component="div">
            {trim(card.width, 0)} × {trim(card.length, 0)} m · {card.layers === 1 ? "1 layer" : `${card.layers} layers`}
          </Typography>
          <Box sx={{ fontFamily: MONO, fontSize: 11.5, color: "text.secondary" }}>
            {trim(card.cols)} × {trim(card.rows)} · {(card.bytes / 1e6).toFixed(1)} MB
          </Box>
        </Box>
        <MoreMenu
          label={`More for ${card.name}`}
          actions={[
            { label: "Open", act: () => void go(`/project/${card.id}/ground`) },
            { label: "Rename…", act: () => setRenaming(true) },
            {
              label: "Duplicate",
              act: () => void run(() => ask(client.POST("/api/projects/{project_id}/duplicate", one(card.id)))),
            },
            { label: "Save out a project file", act: { href: `/api/projects/${card.id}/save-out` } },
            { label: "Delete", act: () => void run(remove), danger: true },
          ]}
        />
      </Box>
      <NameDialog
        open={renaming}
        title={`Rename ${card.name}`}
        suggestion={card.name}
        action="Rename"
        onClose={() => setRenaming(false)}
        onName={(name) => void run(() => rename(name))}
      />
    </Box>
  );
}

interface TroubledTileProps {
  card: ProjectCard;
  trouble: string;
  onBack: () => void;
  onDelete: () => void;
}

/** A project that cannot be opened: it says why, can be saved out as it is, and led back to a state that can be read. */
function TroubledTile({ card, trouble, onBack, onDelete }: TroubledTileProps) {
  return (
    <Box
      component="li"
      aria-label={card.name}
      sx={{ border: 1, borderColor: "warning.main", borderRadius: 1.6, p: 1.5, bgcolor: "background.paper" }}
    >
      <Box sx={{ display: "flex", alignItems: "flex-start", gap: 1 }}>
        <Typography variant="h3" noWrap sx={{ flex: 1 }}>
          {card.name}
        </Typography>
        <MoreMenu label={`More for ${card.name}`} actions={[{ label: "Delete", act: onDelete, danger: true }]} />
      </Box>
      <Typography variant="body2" color="warning" sx={{ my: 1, overflowWrap: "anywhere" }}>
        ! {trouble}
      </Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
        <Button variant="outlined" color="inherit" href={`/api/projects/${card.id}/save-out`}>
          Save it out
        </Button>
        <Button variant="outlined" color="inherit" onClick={onBack}>
          Go back to what can be read
        </Button>
      </Box>
    </Box>
  );
}
