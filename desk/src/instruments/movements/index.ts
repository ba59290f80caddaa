import { degrees, millimetres } from "../../kit/words";
import type { DeskInstrument } from "../described";
import { MovementsInPlan, MovementsInSection } from "./InDrawings";
import { MovementsBody } from "./Movements";
import { text } from "../../text";

export const movements: DeskInstrument = {
  key: "movements",
  useLine: ({ shot: { movements: own }, sheet: { movements: sheet } }) =>
    [
      sheet.circle_ok ? null : text.movements.beyondTheCircleWarning,
      own.rise_mm !== 0 &&
        `${own.rise_mm > 0 ? text.everywhere.rise : text.everywhere.fall} ${millimetres(Math.abs(own.rise_mm))}`,
      own.cross_mm !== 0 && text.movements.crossOf(millimetres(own.cross_mm)),
      sheet.turned_deg > 0 && text.movements.tilted(degrees(sheet.turned_deg)),
      text.movements.uprightsOf(sheet.uprights_short),
    ]
      .filter(Boolean)
      .join(" · "),
  Body: MovementsBody,
  InPlan: MovementsInPlan,
  InSection: MovementsInSection,
  picks: {
    square_on: {
      words: text.movements.pressTheWallToStand,
      label: text.movements.squareOn,
      gesture: (x, y) => ({ kind: "square_on", x, y, amount: 1 }),
    },
    lay_on: {
      words: text.movements.pressTheSurfaceThatIsToBeSharp,
      label: text.movements.focusLaidOnASurface,
      gesture: (x, y) => ({ kind: "focus_plane_on", x, y }),
    },
    lay_through: {
      words: text.movements.pressThreePlacesThatAreToBeSharp,
      label: text.movements.focusLaidOnThree,
      presses: 3,
      gestureOf: ([a, b, c]) => ({ kind: "focus_plane", pressed_at: [a!, b!, c!] }),
    },
  },
};
