import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

export default defineConfig({
  base: "/static/",
  plugins: [react()],
  build: { outDir: "dist", chunkSizeWarningLimit: 900 },
  server: {
    host: "127.0.0.1",
    port: 5173,
    proxy: { "/api": { target: "http://127.0.0.1:8000", changeOrigin: false } },
  },
  test: {
    deps: {
      optimizer: {
        client: {
          enabled: true,
          include: [
            "@mui/material",
            "@mui/material/styles",
            "@tanstack/react-query",
            "react-router",
            "@testing-library/react",
          ],
        },
      },
    },
    // What draws no component needs no document, which takes longer to set up than those tests take to run.
    // A busy machine takes long to draw the first component: speed is measured in bench/, not here.
    projects: [
      { extends: true, test: { name: "plain", environment: "node", include: ["src/**/*.test.ts"] } },
      {
        extends: true,
        test: { name: "components", environment: "jsdom", include: ["src/**/*.test.tsx"], testTimeout: 20_000 },
      },
    ],
  },
});
