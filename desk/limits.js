/**
 * Writes what every number of the API may be, and what it is, as the desk's limits: node limits.js openapi.json limits.ts
 * So no limit is written twice, and a field tells the words the core has for it.
 */
import { readFileSync, writeFileSync } from "node:fs";

const [from, to] = process.argv.slice(2);
const { components } = JSON.parse(readFileSync(from, "utf8"));

/** The schema of the number a property holds, or of those in it where it holds a few. */
function numberIn(schema) {
  if (schema.type === "number" || schema.type === "integer") return schema;
  for (const inner of [...(schema.anyOf ?? []), ...(schema.prefixItems ?? [])]) {
    const found = numberIn(inner);
    if (found) return found;
  }
  return null;
}

const lines = ["// Made by limits.js from what the API says of itself; see docs/architecture.md, Types.", ""];
for (const [name, schema] of Object.entries(components.schemas).sort(([a], [b]) => (a < b ? -1 : 1))) {
  if (!/^[A-Za-z]+$/.test(name) || name.endsWith("Patch")) continue;
  const fields = [];
  for (const [key, property] of Object.entries(schema.properties ?? {})) {
    const number = numberIn(property);
    if (!number) continue;
    const limit = {
      min: number.minimum,
      max: number.maximum,
      above: number.exclusiveMinimum,
      below: number.exclusiveMaximum,
    };
    const told = Object.entries(limit).filter(([, value]) => value !== undefined);
    if (told.length && property.description) told.push(["words", property.description]);
    if (told.length)
      fields.push(`  ${key}: { ${told.map(([what, value]) => `${what}: ${JSON.stringify(value)}`).join(", ")} },`);
  }
  if (fields.length) lines.push(`export const ${name} = {`, ...fields, "};", "");
}
writeFileSync(to, lines.join("\n"));
