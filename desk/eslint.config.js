import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import { createNodeResolver, importX } from "eslint-plugin-import-x";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["dist", "src/api/schema.ts"] },
  js.configs.recommended,
  ...ts.configs.recommended,
  {
    plugins: { "react-hooks": hooks, "import-x": importX },
    settings: {
      "import-x/resolver-next": [createNodeResolver({ extensions: [".ts", ".tsx"] })],
      "import-x/extensions": [".ts", ".tsx"],
      "import-x/parsers": { "@typescript-eslint/parser": [".ts", ".tsx"] },
    },
    rules: {
      "import-x/no-cycle": "error",
      "react-hooks/rules-of-hooks": "error",
      "react-hooks/exhaustive-deps": "error",
      "@typescript-eslint/consistent-type-imports": "error",
      eqeqeq: ["error", "smart"],
      "max-len": ["error", { code: 120, ignoreStrings: true, ignoreTemplateLiterals: true }],
      // A button waits for the numbers typed before it was pressed.
      "no-restricted-imports": [
        "error",
        {
          paths: [
            {
              name: "react-aria-components",
              importNames: ["Button", "ToggleButton"],
              message: "Take it from kit/pressed.",
            },
          ],
        },
      ],
      // One place knows what a browser keeps, and that it may be anything.
      "no-restricted-properties": [
        "error",
        ...["localStorage", "sessionStorage"].map((property) => ({
          property,
          message: "Take it from kit/remembered.",
        })),
      ],
      "no-restricted-globals": [
        "error",
        ...["localStorage", "sessionStorage"].map((name) => ({ name, message: "Take it from kit/remembered." })),
      ],
    },
  },
  { files: ["src/kit/pressed.tsx"], rules: { "no-restricted-imports": "off" } },
  { files: ["src/kit/remembered.ts"], rules: { "no-restricted-properties": "off" } },
);
