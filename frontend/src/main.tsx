import { CssBaseline, ThemeProvider } from "@mui/material";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./App";
import { whenBack } from "./api/alive";
import { askAgain } from "./document/askAgain";
import { Problem } from "./api/client";
import "./base.css";
import { theme } from "./kit/theme";

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      // The server runs on this machine: it answers without any network.
      networkMode: "always",
      refetchOnWindowFocus: false,
      // A refusal will not change by asking again; an unreachable or busy server may.
      retry: (count, error) => count < 2 && error instanceof Problem && (error.status === 0 || error.status === 503),
    },
  },
});

// What was asked for while nobody answered is asked for once more.
whenBack(() => void askAgain(queries, []));

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <ThemeProvider theme={theme} defaultMode="light">
        <CssBaseline />
        <QueryClientProvider client={queries}>
          <App />
        </QueryClientProvider>
      </ThemeProvider>
    </StrictMode>,
  );
