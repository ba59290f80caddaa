import type { DeskInstrument } from "../described";
import { LensInPlan } from "./InDrawings";
import { LensBody } from "./Lens";
import { useLensWords } from "./words";
import { text } from "../../text";

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
      words: text.lens.pressAFaceToStand,
      label: text.lens.squareBeforeAFace,
      gesture: (x, y) => ({ kind: "face_on", x, y }),
    },
  },
};
