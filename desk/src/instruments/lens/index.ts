import type { DeskInstrument } from "../described";
import { LensInPlan } from "./InDrawings";
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
  picks: {
    face: {
      words: "Press a face to stand square before it",
      label: "Square before a face",
      gesture: (x, y) => ({ kind: "face_on", x, y }),
    },
  },
};
