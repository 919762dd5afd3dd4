import { Alert, Snackbar } from "@mui/material";
import { useAlive } from "../api/alive";

/** What happened, where the application ended by itself and goes on. */
export function StartedAgain() {
  const { again, told } = useAlive();
  return (
    <Snackbar
      open={again !== null}
      onClose={(_, reason) => reason !== "clickaway" && told()}
      anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
    >
      <Alert severity="warning" onClose={told} sx={{ maxWidth: 560 }}>
        {again}
      </Alert>
    </Snackbar>
  );
}
