import { Alert, Box, Button, CircularProgress, Snackbar, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import { Link as RouterLink, useParams } from "react-router";
import { whenBack } from "../api/alive";
import { sentence } from "../api/client";
import { ColourCard } from "../colour/ColourCard";
import { DeliveryCard } from "../delivery/DeliveryCard";
import { FitCard } from "../fit/FitCard";
import { GroundCard } from "../ground/GroundCard";
import { LayersCard } from "../layers/LayersCard";
import { MasksCard } from "../masks/MasksCard";
import { PackingCard } from "../packing/PackingCard";
import { ReadingsCard } from "../readings/ReadingsCard";
import { useDocument, useDocumentParts } from "../state/document";
import { previews } from "../state/preview";
import { useTools } from "../state/tools";
import { useView, WAYPOINTS, type Waypoint } from "../state/view";
import { ThreadsPage } from "../threads/ThreadsPage";
import { Viewport } from "../viewport/Viewport";
import { ReplaceDialog } from "../ground/ReplaceDialog";
import { ConflictDialog } from "./ConflictDialog";
import { Keys } from "./Keys";
import { TopBar } from "./TopBar";
import { Trail } from "./Trail";

const CARDS: Record<Waypoint, () => React.ReactNode> = {
  ground: GroundCard,
  readings: ReadingsCard,
  masks: MasksCard,
  layers: LayersCard,
  colour: ColourCard,
  packing: PackingCard,
  delivery: DeliveryCard,
  fit: FitCard,
};

export function ProjectPage() {
  const { id = "", waypoint = "ground" } = useParams();
  const { open, close, refresh, trouble, tell } = useDocumentParts("open", "close", "refresh", "trouble", "tell");
  // Of the document no more than its name: what is in it is drawn by those who show it.
  const shown = useDocument((store) => store.state?.id);
  const name = useDocument((store) => store.state?.document.name);
  const reset = useView((view) => view.reset);
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

  useEffect(() => {
    document.title = name === undefined ? "Zigzag Meadow" : `${name} · Zigzag Meadow`;
  }, [name]);

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
  const here = WAYPOINTS.find((item) => item === waypoint);
  const Card = here ? CARDS[here] : null;
  return (
    <Box sx={{ height: "100vh", display: "grid", gridTemplateRows: "48px 1fr", minHeight: 0 }}>
      <TopBar />
      <Box component="main" sx={{ display: "grid", gridTemplateColumns: "160px minmax(0, 1fr) 376px", minHeight: 0 }}>
        <Trail here={here ?? null} />
        {Card ? (
          <>
            <Viewport />
            <Card />
          </>
        ) : (
          <ThreadsPage />
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
