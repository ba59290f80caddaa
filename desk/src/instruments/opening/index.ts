import { useLength } from "../../kit/ruler";
import type { DeskInstrument } from "../described";
import { behind } from "./Cutting";
import { OpeningInPlan, OpeningInSection } from "./InDrawings";
import { OpeningBody } from "./Opening";
import { text } from "../../text";

export const opening: DeskInstrument = {
  key: "opening",
  useLine: ({ shot: { lens } }) => {
    const length = useLength();
    const clips =
      lens.far_m == null
        ? text.opening.from(length(lens.near_m))
        : text.opening.fromTo(length(lens.near_m), length(lens.far_m));
    return lens.cutting_plane ? text.opening.setOpen(clips) : clips;
  },
  Body: OpeningBody,
  InPlan: OpeningInPlan,
  InSection: OpeningInSection,
  picks: {
    cut_wall: {
      words: text.opening.pressTheWallThatIsToBeTaken,
      label: text.opening.openByAWall,
      gesture: (x, y) => ({ kind: "cut_at_wall", x, y }),
    },
    cut_line: {
      words: text.opening.drawALineInPlan,
      label: text.opening.openByALine,
      onPaper: (drawing, start, end) => ({ kind: "cutting_line", drawing, start, end }),
    },
    behind: {
      words: text.opening.pressTheWallToStand,
      label: text.opening.standBehindAWall,
      gesture: (x, y) => ({ kind: "stand_behind", x, y, distance_m: behind() }),
    },
  },
};
