import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import globals from "globals";
import tseslint from "typescript-eslint";

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
          selector: "CallExpression[callee.name=/^use(View|Document|Tools)$/][arguments.length=0]",
          message: "A whole store draws again at every change of it: take parts by name (useViewParts and its like).",
        },
      ],
    },
  },
  { files: ["*.config.{js,ts}", "src/api/askAgain.ts"], rules: { "no-restricted-syntax": "off" } },
);
