import { useLength } from "../../kit/ruler";
import { degrees, pitchWords } from "../../kit/words";
import type { DeskInstrument } from "../described";
import { StandInPlan } from "./InPlan";
import { StandInSection } from "./InSection";
import { StandBody } from "./Stand";

export const stand: DeskInstrument = {
  key: "stand",
  useLine: ({ sheet: { pose } }) => {
    const length = useLength();
    const height = pose.above_floor_m == null ? "no floor" : length(pose.above_floor_m);
    return `${height} · ${pose.compass} ${degrees(pose.heading_deg, 0)} · ${pitchWords(pose.pitch_deg)}`;
  },
  Body: StandBody,
  InPlan: StandInPlan,
  InSection: StandInSection,
  picks: {
    aim: {
      words: "Press on the point to aim at",
      label: "Aim at a point",
      gesture: (x, y) => ({ kind: "aim_at_seen", x, y, part: false }),
    },
    aim_part: {
      words: "Press on the part whose middle is to be aimed at",
      label: "Aim at a part's middle",
      gesture: (x, y) => ({ kind: "aim_at_seen", x, y, part: true }),
    },
    follow: {
      words: "Press on what is to keep its place in the frame",
      label: "Follow aim",
      gesture: (x, y) => ({ kind: "follow_seen", x, y }),
    },
  },
};
