import { readdirSync, readFileSync } from "node:fs";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vitest/config";

const drawn = readdirSync("src", { recursive: true, encoding: "utf8" }).filter((file) => file.endsWith(".test.tsx"));
// What puts another module in the place of one needs modules of its own; all others share theirs, which take longer to
// load than those tests take to run.
const replacing = drawn.map((file) => `src/${file}`).filter((file) => readFileSync(file, "utf8").includes("vi.mock("));
const components = { environment: "jsdom", testTimeout: 20_000 };

export default defineConfig({
  base: "/static/",
  plugins: [react()],
  build: {
    outDir: "dist",
    chunkSizeWarningLimit: 600,
    rolldownOptions: {
      output: {
        // What changes with no edit of ours is kept by browsers under its own name.
        codeSplitting: {
          groups: [
            { name: "drawn", test: /node_modules\/three\// },
            { name: "controls", test: /node_modules\/(@mui|@emotion|react-transition-group|@popperjs)\// },
            { name: "base", test: /node_modules\// },
          ],
        },
      },
    },
  },
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
        test: {
          ...components,
          name: "components",
          include: ["src/**/*.test.tsx"],
          exclude: replacing,
          isolate: false,
          restoreMocks: true,
        },
      },
      { extends: true, test: { ...components, name: "replacing", include: replacing } },
    ],
  },
});
