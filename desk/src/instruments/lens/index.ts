import type { DeskInstrument } from "../described";
import { LensInPlan } from "./InPlan";
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
};
