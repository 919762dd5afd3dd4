import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import globals from "globals";
import tseslint from "typescript-eslint";

// From the ground up: each imports from those before it alone. Who opens a page begins at the last.
const FLOORS = ["api", "document", "kit", "viewport", "waypoints", "shelf", "shell"];
// What all waypoints build on, and which of the others they may open. None is opened by one that it opens.
const WAYPOINTS = [
  "files",
  "recipe",
  "kits",
  "draw",
  "scatter",
  "readings",
  "layers",
  "colour",
  "masks",
  "ground",
  "packing",
  "delivery",
  "fit",
];

const above = (names, at, steps) =>
  names.slice(at + 1).flatMap((name) => steps.flatMap((step) => [`${step}${name}/*`, `${step}${name}/**`]));
const floors = FLOORS.slice(0, -1).map((floor, at) => ({
  files: [`src/${floor}/**`],
  ignores: ["**/*.test.*"],
  rules: {
    "no-restricted-imports": [
      "error",
      { patterns: [{ group: above(FLOORS, at, ["../", "../../"]), message: `${floor} lies below it: see FLOORS.` }] },
    ],
  },
}));
const waypoints = WAYPOINTS.slice(0, -1).map((waypoint, at) => ({
  files: [`src/waypoints/${waypoint}/**`],
  ignores: ["**/*.test.*"],
  rules: {
    "no-restricted-imports": [
      "error",
      {
        patterns: [
          { group: above(WAYPOINTS, at, ["../"]), message: `${waypoint} lies below it: see WAYPOINTS.` },
          { group: above(FLOORS, FLOORS.indexOf("waypoints"), ["../../"]), message: "It lies above: see FLOORS." },
        ],
      },
    ],
  },
}));
const MAPS =
  "reading|at|where|finding|picture|mask|band|count|scatter|final|weight|strength|layers|colour|colour_far|coat|surface|sheet|channel|mixed|points|look";

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  hooks.configs.flat.recommended,
  {
    languageOptions: { globals: globals.browser },
    rules: {
      "@typescript-eslint/consistent-type-imports": "error",
      "no-restricted-syntax": [
        "error",
        { selector: "ExportDefaultDeclaration", message: "Named exports only." },
        {
          selector: "CallExpression[callee.property.name='invalidateQueries']",
          message: "An answer on its way may tell of what was before: askAgain gives it up.",
        },
        {
          selector: `TemplateElement[value.raw=/^(${MAPS}):/], Literal[value=/^(${MAPS}):/]`,
          message: "Names of maps are written and read in api/mapNames.ts alone: named.mask(id), readName(text).",
        },
        {
          selector: "CallExpression[callee.name=/^use(View|Document|Tools)$/][arguments.length=0]",
          message: "A whole store draws again at every change of it: take parts by name (useViewParts and its like).",
        },
      ],
    },
  },
  ...floors,
  ...waypoints,
  { files: ["**/*.test.*", "src/testing/**", "src/api/mapNames.ts"], rules: { "no-restricted-syntax": "off" } },
  { files: ["*.config.{js,ts}", "src/document/askAgain.ts"], rules: { "no-restricted-syntax": "off" } },
);
