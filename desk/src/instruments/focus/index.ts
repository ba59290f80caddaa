import { useLength } from "../../kit/ruler";
import type { DeskInstrument } from "../described";
import { FocusBody } from "./Focus";
import { FocusInFinder } from "./Probes";
import { overlap } from "./Stacks";
import { soft } from "./Wanted";
import { FocusInPlan, FocusInSection } from "./InDrawings";
import { text } from "../../text";

export const focus: DeskInstrument = {
  key: "focus",
  useLine: ({ sheet }) => {
    const length = useLength();
    return sheet.focus.hyperfocal_m == null
      ? text.everywhere.everythingSharp
      : text.focus.sharp(length(sheet.focus.sharp_from_m), length(sheet.focus.sharp_to_m));
  },
  Body: FocusBody,
  InPlan: FocusInPlan,
  InSection: FocusInSection,
  InFinder: FocusInFinder,
  picks: {
    focus_keep: {
      words: text.focus.pressOnThePoint,
      label: text.focus.followFocus,
      gesture: (x, y) => ({ kind: "follow_focus_seen", x, y, where: "point" }),
    },
    focus_nearest: {
      words: text.focus.pressOnThePart,
      label: text.focus.followFocus,
      gesture: (x, y) => ({ kind: "follow_focus_seen", x, y, where: "nearest" }),
    },
    sharp_two: {
      words: text.focus.pressTwoThingsThatAreToBeSharp,
      label: text.focus.theseTwoSharp,
      presses: 2,
      gestureOf: (places) => ({ kind: "sharp_points", pressed_at: places }),
    },
    sharp_part: {
      words: text.focus.pressThePartThatIsToBeSharp,
      label: text.focus.aPartSharpAll,
      gesture: (x, y) => ({ kind: "part_sharp_seen", x, y }),
    },
    soft_while: {
      words: text.focus.pressWhatIsToBeSharp,
      label: text.focus.oneSharpOneSoftPick,
      presses: 2,
      gestureOf: ([a, b]) => ({ kind: "soft_while_sharp", pressed_at: [a!, b!], px: soft() }),
    },
    stack_two: {
      words: text.focus.pressTheNearestAndTheFarthest,
      label: text.focus.planAStack,
      presses: 2,
      gestureOf: (places) => ({ kind: "stack_points", pressed_at: places, overlap: overlap() }),
    },
    stack_part: {
      words: text.focus.pressThePartTheStack,
      label: text.focus.planAStack,
      gesture: (x, y) => ({ kind: "stack_part_seen", x, y, overlap: overlap() }),
    },
    pair_two: {
      words: text.focus.pressWhatIsSharp,
      label: text.focus.aPair,
      presses: 2,
      pairOf: ([a, b]) => ({ pressed_at: [a!, b!], part_at: null }),
    },
    pair_part: {
      words: text.focus.pressThePartThatIsSharp,
      label: text.focus.aPair,
      pairOf: ([at]) => ({ pressed_at: null, part_at: at! }),
    },
    probe: {
      words: text.focus.pressWhereAProbe,
      label: text.focus.pinAProbe,
      gesture: (x, y) => ({ kind: "pin_probe", x, y }),
      again: true,
    },
    focus: {
      words: text.focus.pressOnWhatIsToBeSharp,
      label: text.focus.focusOnWhatWasPicked,
      gesture: (x, y) => ({ kind: "focus_at", x, y }),
    },
  },
};
