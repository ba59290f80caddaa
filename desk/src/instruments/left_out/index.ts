import type { DeskInstrument } from "../described";
import { LeftOutBody } from "./LeftOut";
import { text } from "../../text";

export const leftOut: DeskInstrument = {
  key: "left_out",
  useLine: ({ shot }) => (shot.left_out.length ? text.counts.thing(shot.left_out.length) : text.leftOut.nothing),
  Body: LeftOutBody,
  picks: {
    leave_out: {
      words: text.leftOut.pressOnEachPart,
      label: text.leftOut.leaveOutIt,
      gesture: (x, y) => ({ kind: "leave_out_seen", x, y }),
      again: true,
    },
  },
  showsLeftOut: true,
};
