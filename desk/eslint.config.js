import js from "@eslint/js";
import hooks from "eslint-plugin-react-hooks";
import { createNodeResolver, importX } from "eslint-plugin-import-x";
import ts from "typescript-eslint";

// What is read on the screen is told from keys, styles and names of things by its form and by where it stands.
const TO_READ = "JSXAttribute[name.name=/^(label|aria-label|title|placeholder|tip|words|alt|legend)$/]";
const SENTENCE = "[a-z,.;:] [a-z]{2}";
const NOT_READ = [
  "BinaryExpression > *",
  "TSLiteralType > *",
  "ImportDeclaration > *",
  "Property[key.name=/^grid/] *",
  "Property > .key",
  "TSAsExpression > ArrayExpression > *",
  "NewExpression[callee.name='Error'] > *",
  "CallExpression[callee.property.name='includes'] > *",
  "JSXAttribute[name.name=/^(className|placement|style|data-handle)$/] *",
  "TaggedTemplateExpression *",
].join(", ");
const NO_TEXT = [
  "JSXText[value=/[A-Za-z]{2}/]",
  `${TO_READ} > Literal[value=/[A-Za-z]{2}/]`,
  `${TO_READ} > JSXExpressionContainer > :matches(Literal, TemplateLiteral > TemplateElement)[value.raw=/[A-Za-z]{3}/]`,
  `Literal[value=/^[A-Z][a-z]+( |$)|${SENTENCE}/]:not(${NOT_READ})`,
  `TemplateElement[value.raw=/^ ?[A-Z][a-z]+ |${SENTENCE}|^[a-z]{3,} $|^ [a-z]{3,}/]:not(${NOT_READ})`,
].map((selector) => ({ selector, message: "What is read on the screen is said in src/text." }));

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
  {
    files: ["src/**/*.{ts,tsx}"],
    ignores: ["src/text/**", "src/api/limits.ts", "src/stage/{blurred,depths,pulled,softness,within}.ts"],
    rules: { "no-restricted-syntax": ["error", ...NO_TEXT] },
  },
  { files: ["src/kit/pressed.tsx"], rules: { "no-restricted-imports": "off" } },
  { files: ["src/kit/remembered.ts"], rules: { "no-restricted-properties": "off" } },
);
