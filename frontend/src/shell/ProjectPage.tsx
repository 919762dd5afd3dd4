import { Alert, Box, Button, CircularProgress, Snackbar, Typography } from "@mui/material";
import { Suspense, useEffect, useState } from "react";
import { Link as RouterLink, useParams } from "react-router";
import { whenBack } from "../api/alive";
import { sentence } from "../api/client";
import { useDocument, useDocumentParts } from "../document/document";
import { previews } from "../viewport/preview";
import { useTools } from "../viewport/tools";
import { useViewParts } from "../viewport/view";
import { fetchCards, WAYPOINTS } from "../waypoints/register";
import { WatchNotice } from "../waypoints/ground/WatchInset";
import { NoSuchPlace } from "./NoSuchPlace";
import { THREADS, ThreadsPage } from "./ThreadsPage";
import { Viewport } from "../viewport/Viewport";
import { ReplaceDialog } from "../waypoints/ground/ReplaceDialog";
import { ConflictDialog } from "./ConflictDialog";
import { Keys } from "./Keys";
import { TopBar } from "./TopBar";
import { Trail } from "./Trail";

/** In the place of a card that is being fetched. */
function Coming() {
  return (
    <Box sx={{ display: "grid", placeItems: "center", borderLeft: 1, borderColor: "divider" }}>
      <CircularProgress aria-label="Fetching the card" />
    </Box>
  );
}

export function ProjectPage() {
  const { id = "", waypoint = "ground" } = useParams();
  const { open, close, refresh, trouble, tell } = useDocumentParts("open", "close", "refresh", "trouble", "tell");
  // Of the document no more than its name: what is in it is drawn by those who show it.
  const shown = useDocument((store) => store.state?.id);
  const name = useDocument((store) => store.state?.document.name);
  const { reset, show } = useViewParts("reset", "show");
  const [missing, setMissing] = useState<{ id: string; why: string } | null>(null);

  useEffect(() => {
    reset();
    useTools.getState().reset();
    previews.clear();
    open(id).catch((error: unknown) => setMissing({ id, why: sentence(error) }));
    return close;
  }, [id, open, close, reset]);

  // Another tab may have edited while this one was away.
  useEffect(() => {
    const look = () => void refresh();
    window.addEventListener("focus", look);
    return () => window.removeEventListener("focus", look);
  }, [refresh]);

  useEffect(() => whenBack(() => void refresh()), [refresh]);

  useEffect(() => fetchCards(), []);

  useEffect(() => {
    document.title = name === undefined ? "Zigzag Meadow" : `${name} · Zigzag Meadow`;
  }, [name]);

  const here = WAYPOINTS.find((item) => item.name === waypoint);
  const ready = shown === id;
  useEffect(() => {
    const first = ready ? here?.opens?.() : undefined;
    if (first) show(first);
  }, [here, ready, show]);

  if (missing?.id === id)
    return (
      <Box sx={{ p: 6, maxWidth: 560, mx: "auto" }}>
        <Typography variant="h2">This project cannot be opened</Typography>
        <Typography sx={{ my: 2 }}>{missing.why}</Typography>
        <Button component={RouterLink} to="/" variant="contained">
          To the shelf
        </Button>
      </Box>
    );
  if (shown !== id)
    return (
      <Box sx={{ height: "100%", display: "grid", placeItems: "center" }}>
        <CircularProgress aria-label="Opening the project" />
      </Box>
    );
  return (
    <Box sx={{ height: "100vh", display: "grid", gridTemplateRows: "48px 1fr", minHeight: 0 }}>
      <TopBar />
      <Box component="main" sx={{ display: "grid", gridTemplateColumns: "160px minmax(0, 1fr) 376px", minHeight: 0 }}>
        <Trail here={here ?? null} />
        {here ? (
          <>
            <Viewport notices={<WatchNotice />} />
            <Suspense fallback={<Coming />}>
              <here.Card />
            </Suspense>
          </>
        ) : waypoint === THREADS ? (
          <ThreadsPage />
        ) : (
          <NoSuchPlace name={waypoint} />
        )}
      </Box>
      <Keys />
      <ReplaceDialog />
      <ConflictDialog />
      <Snackbar
        open={trouble !== null}
        onClose={(_, reason) => reason !== "clickaway" && tell(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "center" }}
      >
        <Alert severity="error" variant="filled" onClose={() => tell(null)} sx={{ maxWidth: 640 }}>
          {trouble}
        </Alert>
      </Snackbar>
    </Box>
  );
}
