import { useLength } from "../../kit/ruler";
import { degrees, pitchWords } from "../../kit/words";
import type { DeskInstrument } from "../described";
import { StandInPlan } from "./InPlan";
import { StandInSection } from "./InSection";
import { StandBody } from "./Stand";
import { text } from "../../text";

export const stand: DeskInstrument = {
  key: "stand",
  useLine: ({ sheet: { pose } }) => {
    const length = useLength();
    const height = pose.above_floor_m == null ? text.stand.noFloor : length(pose.above_floor_m);
    return `${height} · ${pose.compass} ${degrees(pose.heading_deg, 0)} · ${pitchWords(pose.pitch_deg)}`;
  },
  Body: StandBody,
  InPlan: StandInPlan,
  InSection: StandInSection,
  picks: {
    aim: {
      words: text.stand.pressOnThePoint,
      label: text.stand.aimAtAPoint,
      gesture: (x, y) => ({ kind: "aim_at_seen", x, y, part: false }),
    },
    aim_part: {
      words: text.stand.pressOnThePart,
      label: text.stand.aimAtAParts,
      gesture: (x, y) => ({ kind: "aim_at_seen", x, y, part: true }),
    },
    follow: {
      words: text.stand.pressOnWhatIsToKeep,
      label: text.stand.followAimPick,
      gesture: (x, y) => ({ kind: "follow_seen", x, y }),
    },
  },
};
