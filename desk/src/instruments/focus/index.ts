import { useLength } from "../../kit/ruler";
import type { DeskInstrument } from "../described";
import { FocusBody } from "./Focus";
import { FocusInPlan, FocusInSection } from "./InDrawings";

export const focus: DeskInstrument = {
  key: "focus",
  useLine: ({ sheet }) => {
    const length = useLength();
    return sheet.focus.hyperfocal_m == null ? "everything sharp" : `${length(sheet.focus.sharp_from_m)} – ${length(sheet.focus.sharp_to_m)} sharp`;
  },
  Body: FocusBody,
  InPlan: FocusInPlan,
  InSection: FocusInSection,
  picks: { focus: { words: "Press on what is to be sharp", label: "Focus on what was picked", gesture: (x, y) => ({ kind: "focus_at", x, y }) } },
};
