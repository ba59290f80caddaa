import { degrees, millimetres } from "../../kit/words";
import type { DeskInstrument } from "../described";
import { MovementsInPlan, MovementsInSection } from "./InDrawings";
import { MovementsBody } from "./Movements";

export const movements: DeskInstrument = {
  key: "movements",
  useLine: ({ shot: { movements: own }, sheet: { movements: sheet } }) =>
    [
      sheet.circle_ok ? null : "! beyond the circle",
      own.rise_mm !== 0 && `${own.rise_mm > 0 ? "rise" : "fall"} ${millimetres(Math.abs(own.rise_mm))}`,
      own.cross_mm !== 0 && `cross ${millimetres(own.cross_mm)}`,
      sheet.turned_deg > 0 && `tilted ${degrees(sheet.turned_deg)}`,
      `uprights ${sheet.uprights.split(" at ")[0]}`,
    ]
      .filter(Boolean)
      .join(" · "),
  Body: MovementsBody,
  InPlan: MovementsInPlan,
  InSection: MovementsInSection,
  picks: {
    square_on: {
      words: "Press the wall to stand square on",
      label: "Square on",
      gesture: (x, y) => ({ kind: "square_on", x, y, amount: 1 }),
    },
    lay_on: {
      words: "Press the surface that is to be sharp",
      label: "Focus laid on a surface",
      gesture: (x, y) => ({ kind: "focus_plane_on", x, y }),
    },
    lay_through: {
      words: "Press three places that are to be sharp",
      label: "Focus laid on three points",
      presses: 3,
      gestureOf: ([a, b, c]) => ({ kind: "focus_plane", pressed_at: [a!, b!, c!] }),
    },
  },
};
