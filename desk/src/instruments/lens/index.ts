import type { DeskInstrument } from "../described";
import { LensInPlan, LensInSection } from "./InDrawings";
import { behind } from "./Cutting";
import { LensBody } from "./Lens";
import { useLensWords } from "./words";

export const lens: DeskInstrument = {
  key: "lens",
  useLine: (desk) => {
    const [first, then, more] = useLensWords(desk);
    return `${first}${more ? " · " : " "}${then}${more}`;
  },
  Body: LensBody,
  InPlan: LensInPlan,
  InSection: LensInSection,
  picks: {
    cut_wall: { words: "Press the wall that is to be taken away", label: "Open by a wall", gesture: (x, y) => ({ kind: "cut_at_wall", x, y }) },
    cut_line: { words: "Draw a line in plan or section: the camera’s side is taken away", label: "Open by a line", onPaper: (drawing, start, end) => ({ kind: "cutting_line", drawing, start, end }) },
    behind: { words: "Press the wall to stand behind", label: "Stand behind a wall", gesture: (x, y) => ({ kind: "stand_behind", x, y, distance_m: behind() }) },
    face: { words: "Press a face to stand square before it", label: "Square before a face", gesture: (x, y) => ({ kind: "face_on", x, y }) },
  },
};
