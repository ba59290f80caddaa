import type { DeskInstrument } from "../described";
import { GuidesBody } from "./Guides";

export const guides: DeskInstrument = {
  key: "guides",
  useLine: ({ sheet }) =>
    sheet.guides
      .filter(({ shown }) => shown)
      .map(({ words }) => words)
      .join(" + ") || "none",
  Body: GuidesBody,
};
