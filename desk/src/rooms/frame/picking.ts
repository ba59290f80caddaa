import type { ShotGesture } from "../../api/client";

/** What a press in the finder is for, until it is made or left with Esc. */
export type Picking = "focus" | "aim" | "aim_part" | "follow" | "leave_out";

export const PICKS: Record<Picking, { words: string; label: string; gesture: (x: number, y: number) => ShotGesture }> = {
  focus: { words: "Press on what is to be sharp", label: "Focus on what was picked", gesture: (x, y) => ({ kind: "focus_at", x, y }) },
  aim: { words: "Press on the point to aim at", label: "Aim at a point", gesture: (x, y) => ({ kind: "aim_at_seen", x, y, part: false }) },
  aim_part: { words: "Press on the part whose middle is to be aimed at", label: "Aim at a part's middle", gesture: (x, y) => ({ kind: "aim_at_seen", x, y, part: true }) },
  follow: { words: "Press on what is to keep its place in the frame", label: "Follow aim", gesture: (x, y) => ({ kind: "follow_seen", x, y }) },
  leave_out: { words: "Press on each part to leave out of this shot; Esc ends it", label: "Leave out", gesture: (x, y) => ({ kind: "leave_out_seen", x, y }) },
};
