import { useLength } from "../../kit/ruler";
import type { DeskInstrument } from "../described";
import { FocusBody } from "./Focus";
import { FocusInFinder } from "./Probes";
import { overlap } from "./Stacks";
import { soft } from "./Wanted";
import { FocusInPlan, FocusInSection } from "./InDrawings";

export const focus: DeskInstrument = {
  key: "focus",
  useLine: ({ sheet }) => {
    const length = useLength();
    return sheet.focus.hyperfocal_m == null
      ? "everything sharp"
      : `${length(sheet.focus.sharp_from_m)} – ${length(sheet.focus.sharp_to_m)} sharp`;
  },
  Body: FocusBody,
  InPlan: FocusInPlan,
  InSection: FocusInSection,
  InFinder: FocusInFinder,
  picks: {
    focus_keep: {
      words: "Press on the point that is to stay sharp",
      label: "Follow focus",
      gesture: (x, y) => ({ kind: "follow_focus_seen", x, y, where: "point" }),
    },
    focus_nearest: {
      words: "Press on the part that is to stay sharp",
      label: "Follow focus",
      gesture: (x, y) => ({ kind: "follow_focus_seen", x, y, where: "nearest" }),
    },
    sharp_two: {
      words: "Press two things that are to be sharp",
      label: "These two sharp",
      presses: 2,
      gestureOf: (places) => ({ kind: "sharp_points", pressed_at: places }),
    },
    sharp_part: {
      words: "Press the part that is to be sharp all over",
      label: "A part sharp all over",
      gesture: (x, y) => ({ kind: "part_sharp_seen", x, y }),
    },
    soft_while: {
      words: "Press what is to be sharp, then what is to be soft",
      label: "One sharp, one soft",
      presses: 2,
      gestureOf: ([a, b]) => ({ kind: "soft_while_sharp", pressed_at: [a!, b!], px: soft() }),
    },
    stack_two: {
      words: "Press the nearest and the farthest thing the stack is to cover",
      label: "Plan a stack",
      presses: 2,
      gestureOf: (places) => ({ kind: "stack_points", pressed_at: places, overlap: overlap() }),
    },
    stack_part: {
      words: "Press the part the stack is to cover",
      label: "Plan a stack",
      gesture: (x, y) => ({ kind: "stack_part_seen", x, y, overlap: overlap() }),
    },
    pair_two: {
      words: "Press what is sharp in front, and what at the back",
      label: "A pair",
      presses: 2,
      pairOf: ([a, b]) => ({ pressed_at: [a!, b!], part_at: null }),
    },
    pair_part: {
      words: "Press the part that is sharp in front in one, and at its back in the other",
      label: "A pair",
      pairOf: ([at]) => ({ pressed_at: null, part_at: at! }),
    },
    probe: {
      words: "Press where a probe is to be pinned",
      label: "Pin a probe",
      gesture: (x, y) => ({ kind: "pin_probe", x, y }),
      again: true,
    },
    focus: {
      words: "Press on what is to be sharp",
      label: "Focus on what was picked",
      gesture: (x, y) => ({ kind: "focus_at", x, y }),
    },
  },
};
