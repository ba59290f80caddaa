import { many } from "../../kit/words";
import type { DeskInstrument } from "../described";
import { LeftOutBody } from "./LeftOut";

export const leftOut: DeskInstrument = {
  key: "left_out",
  useLine: ({ shot }) => (shot.left_out.length ? many(shot.left_out.length, "thing") : "nothing"),
  Body: LeftOutBody,
  picks: {
    leave_out: {
      words: "Press on each part to leave out of this shot; Esc ends it",
      label: "Leave out",
      gesture: (x, y) => ({ kind: "leave_out_seen", x, y }),
      again: true,
    },
  },
  showsLeftOut: true,
};
