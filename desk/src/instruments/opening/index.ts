import { useLength } from "../../kit/ruler";
import type { DeskInstrument } from "../described";
import { behind } from "./Cutting";
import { OpeningInPlan, OpeningInSection } from "./InDrawings";
import { OpeningBody } from "./Opening";

export const opening: DeskInstrument = {
  key: "opening",
  useLine: ({ shot: { lens } }) => {
    const length = useLength();
    const clips =
      lens.far_m == null ? `from ${length(lens.near_m)}` : `${length(lens.near_m)} to ${length(lens.far_m)}`;
    return lens.cutting_plane ? `set open · ${clips}` : clips;
  },
  Body: OpeningBody,
  InPlan: OpeningInPlan,
  InSection: OpeningInSection,
  picks: {
    cut_wall: {
      words: "Press the wall that is to be taken away",
      label: "Open by a wall",
      gesture: (x, y) => ({ kind: "cut_at_wall", x, y }),
    },
    cut_line: {
      words: "Draw a line in plan or section: the camera’s side is taken away",
      label: "Open by a line",
      onPaper: (drawing, start, end) => ({ kind: "cutting_line", drawing, start, end }),
    },
    behind: {
      words: "Press the wall to stand behind",
      label: "Stand behind a wall",
      gesture: (x, y) => ({ kind: "stand_behind", x, y, distance_m: behind() }),
    },
  },
};
