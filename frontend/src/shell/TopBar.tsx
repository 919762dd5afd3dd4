import { THREADS } from "./ThreadsPage";
import { Box, Button, ButtonBase, IconButton, Tooltip, Typography } from "@mui/material";
import { useColorScheme } from "@mui/material/styles";
import DarkModeIcon from "@mui/icons-material/DarkModeOutlined";
import RedoIcon from "@mui/icons-material/Redo";
import UndoIcon from "@mui/icons-material/Undo";
import { useState } from "react";
import { Link as RouterLink, useLocation } from "react-router";
import { useAlive } from "../api/alive";
import { useJobs } from "../document/queries";
import { NameDialog } from "../kit/NameDialog";
import { useDocument, useDocumentParts, useProject } from "../document/document";
import { HEADING, MONO } from "../kit/theme";
import { useViewParts } from "../viewport/view";
import { trim } from "../kit/numbers";
import { Mark } from "../kit/Mark";

function Pill({ children, title }: { children: React.ReactNode; title: string }) {
  return (
    <Tooltip title={title}>
      <Box
        sx={{
          border: 1,
          borderColor: "divider",
          bgcolor: "background.paper",
          borderRadius: 4,
          px: 1.4,
          height: 26,
          display: "flex",
          alignItems: "center",
          gap: 0.6,
          fontSize: 12.5,
          whiteSpace: "nowrap",
        }}
      >
        {children}
      </Box>
    </Tooltip>
  );
}

const number = { fontFamily: MONO, fontSize: 12 } as const;

const JOBS = { delivery: "Delivering", fit: "Checking the fit", finals: "Comparing with the final" };

export function TopBar() {
  const { id, document, home, final, undo, undo_place: place, redo } = useProject();
  const { step, edit } = useDocumentParts("step", "edit");
  const jobs = useJobs();
  const { mode, setMode } = useColorScheme();
  const { pathname } = useLocation();
  const [renaming, setRenaming] = useState(false);
  const running = jobs.data?.[0];
  const threads = pathname.endsWith(`/${THREADS}`);
  return (
    <Box
      component="header"
      sx={{
        display: "flex",
        alignItems: "center",
        gap: 1.2,
        px: 1.5,
        borderBottom: 1,
        borderColor: "divider",
        bgcolor: "background.default",
        minWidth: 0,
      }}
    >
      <Tooltip title="To the shelf of projects">
        <ButtonBase component={RouterLink} to="/" aria-label="To the shelf" sx={{ borderRadius: 1, p: 0.5 }}>
          <Mark />
        </ButtonBase>
      </Tooltip>
      <Tooltip title="Rename the project">
        <ButtonBase
          onClick={() => setRenaming(true)}
          sx={{
            fontFamily: HEADING,
            fontWeight: 700,
            fontSize: 15.5,
            borderRadius: 1,
            px: 0.5,
            maxWidth: 220,
            overflow: "hidden",
            textOverflow: "ellipsis",
            whiteSpace: "nowrap",
          }}
        >
          {document.name}
        </ButtonBase>
      </Tooltip>
      <Pill title="What the ground measures, and its samples">
        {trim(home.width, 0)} m × {trim(home.length, 0)} m ·{" "}
        <Box component="b" sx={number}>
          {home.cols === home.rows ? `${trim(home.cols)}²` : `${trim(home.cols)} × ${trim(home.rows)}`}
        </Box>
      </Pill>
      <DraftFinal draft={Math.max(home.cols, home.rows)} final={Math.max(final.cols, final.rows)} />
      <Box sx={{ flex: 1 }} />
      {running && (
        <Pill title={running.message}>
          {JOBS[running.kind]} {(running.progress * 100).toFixed(0)} %
        </Pill>
      )}
      <Tooltip title={undo ? `Undo “${undo}”${place ? `: ${place}` : ""}` : "Nothing to undo"} describeChild>
        <span>
          <Button
            variant="outlined"
            color="inherit"
            startIcon={<UndoIcon />}
            disabled={undo === null}
            onClick={() => void step("undo")}
            aria-label={undo ? `Undo ${undo}` : "Undo"}
            sx={{
              maxWidth: 230,
              whiteSpace: "nowrap",
              overflow: "hidden",
              bgcolor: "background.paper",
              borderColor: "divider",
            }}
          >
            <Box component="span" sx={{ overflow: "hidden", textOverflow: "ellipsis" }}>
              {undo ? `Undo “${undo}”` : "Undo"}
            </Box>
          </Button>
        </span>
      </Tooltip>
      <Tooltip title={redo ? `Redo “${redo}”` : "Nothing to redo"}>
        <span>
          <IconButton
            size="small"
            disabled={redo === null}
            onClick={() => void step("redo")}
            aria-label={redo ? `Redo ${redo}` : "Redo"}
          >
            <RedoIcon fontSize="small" />
          </IconButton>
        </span>
      </Tooltip>
      <SavingState />
      <Tooltip title={mode === "dark" ? "Day colours" : "Dusk colours"}>
        <IconButton
          size="small"
          aria-label={mode === "dark" ? "Day colours" : "Dusk colours"}
          onClick={() => setMode(mode === "dark" ? "light" : "dark")}
        >
          <DarkModeIcon fontSize="small" />
        </IconButton>
      </Tooltip>
      <Button
        component={RouterLink}
        to={`/project/${id}/${THREADS}`}
        variant={threads ? "contained" : "outlined"}
        color={threads ? "primary" : "inherit"}
        sx={{ bgcolor: threads ? undefined : "background.paper", borderColor: "divider", borderRadius: 4 }}
      >
        Threads
      </Button>
      <NameDialog
        open={renaming}
        title="Rename the project"
        suggestion={document.name}
        action="Rename"
        onClose={() => setRenaming(false)}
        onName={(name) => void edit([{ op: "rename_project", name }])}
      />
    </Box>
  );
}

/** Apart from the rest of the bar, as it changes twice with every edit. */
function SavingState() {
  const saving = useDocument((store) => store.saving);
  const away = useAlive((alive) => alive.away);
  const changes = saving === 1 ? "1 change waits" : `${saving} changes wait`;
  return (
    <Box
      role="status"
      aria-label="Saving state"
      sx={{ display: "flex", alignItems: "center", gap: 0.7, fontSize: 12.5, minWidth: 66, whiteSpace: "nowrap" }}
    >
      <Box
        sx={{ width: 9, height: 9, borderRadius: "50%", bgcolor: away || saving > 0 ? "warning.main" : "primary.main" }}
      />
      <Typography component="span" variant="body2">
        {away ? (saving > 0 ? `${changes} for the application` : "No answer") : saving > 0 ? "Saving" : "Saved"}
      </Typography>
    </Box>
  );
}

/** The size worked at, or the size that is delivered: what single samples in the view are. */
function DraftFinal({ draft, final }: { draft: number; final: number }) {
  const { final: on, set } = useViewParts("final", "set");
  return (
    <Tooltip
      title={`You work on the draft, the ground's own ${trim(draft)} samples; files are written at the final ${trim(final)}. ${
        on ? "The view shows single samples of the final now." : "Switch to see single samples of the final."
      }`}
    >
      <ButtonBase
        role="switch"
        aria-checked={on}
        aria-label={`Final size, ${final}`}
        onClick={() => set({ final: !on })}
        sx={{
          display: "inline-flex",
          border: 1,
          borderColor: on ? "secondary.main" : "divider",
          borderRadius: 5,
          bgcolor: "background.paper",
          fontSize: 12,
          fontFamily: "inherit",
          overflow: "hidden",
          "&:focus-visible": { outline: "2px solid", outlineColor: "secondary.main" },
          "& > span": { px: 1.3, py: 0.5 },
          "& > span[data-on=true]": { bgcolor: "secondary.main", color: "secondary.contrastText" },
        }}
      >
        <span data-on={!on}>
          Draft{" "}
          <Box component="b" sx={number}>
            {trim(draft)}
          </Box>
        </span>
        <span data-on={on}>
          Final{" "}
          <Box component="b" sx={number}>
            {trim(final)}
          </Box>
        </span>
      </ButtonBase>
    </Tooltip>
  );
}
