import { useOffer } from "../../api/client";
import { Movements, ShiftTo } from "../../api/limits";
import { Choice } from "../../kit/choice";
import { Fields, Plain, Row } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { useRemembered } from "../../kit/remembered";
import { quiet } from "../../kit/tokens";
import { millimetres } from "../../kit/words";
import type { ShotDesk } from "../../shots/draft";
import { text } from "../../text";

type Counted = "mm" | "share" | "deg";
const COUNTED = [
  { id: "mm", name: text.movements.mmOfFilm },
  { id: "share", name: text.movements.ofTheFrame },
  { id: "deg", name: text.movements.degrees },
];

/** Rise and cross by numbers, in film, in shares of the frame or in degrees; and the circle they have to stay in. */
export function Shifts({ desk }: { desk: ShotDesk }) {
  const { movements: own } = desk.shot;
  const { movements: sheet } = desk.sheet;
  const { image_circles: circles } = useOffer();
  const [chosen, count] = useRemembered<Counted>("zevlo-shifts-counted", "mm");
  const off = desk.row.locked;
  const counted = chosen === "deg" && sheet.same_as_pitch_deg == null ? "mm" : chosen;
  const unit =
    counted === "mm"
      ? ({ unit: "millimeter", digits: 2, step: 0.5 } as const)
      : counted === "share"
        ? ({ unit: "percent", digits: 1, step: 0.01 } as const)
        : ({ unit: "degree", digits: 2, step: 0.5 } as const);
  const words = {
    mm: [own.rise_mm, own.cross_mm],
    share: [sheet.rise_share, sheet.cross_share],
    deg: [sheet.same_as_pitch_deg ?? 0, sheet.same_as_turn_deg ?? 0],
  }[counted];
  const circle = own.image_circle_mm ?? null;
  const known = circles.find(({ diameter_mm }) => diameter_mm === circle);
  const room = [
    sheet.rise_room_mm != null &&
      text.movements.roomTo(
        own.rise_mm < 0 ? text.everywhere.fall : text.everywhere.rise,
        millimetres(sheet.rise_room_mm),
      ),
    sheet.cross_room_mm != null && text.movements.crossTo(millimetres(sheet.cross_room_mm)),
  ].filter(Boolean);
  return (
    <>
      <Fields>
        <NumberField
          label={text.movements.rise}
          {...unit}
          of={counted === "mm" ? Movements.rise_mm : ShiftTo.rise}
          value={words[0]!}
          off={off}
          onCommit={(rise) => desk.commit(text.movements.rise, { kind: "shift_to", counted, rise })}
        />
        <NumberField
          label={text.movements.cross}
          {...unit}
          of={counted === "mm" ? Movements.cross_mm : ShiftTo.cross}
          value={words[1]!}
          off={off}
          onCommit={(cross) => desk.commit(text.movements.cross, { kind: "shift_to", counted, cross })}
        />
        <Choice
          label={text.movements.countedIn}
          value={counted}
          options={COUNTED.filter(({ id }) => id !== "deg" || sheet.same_as_pitch_deg != null)}
          onChoose={(id) => count(id as Counted)}
        />
      </Fields>
      <Fields $columns={2}>
        <Choice
          label={text.movements.imageCircle}
          value={known?.words ?? (circle === null ? "none" : "own")}
          shown={circle === null ? text.movements.noBound : millimetres(circle)}
          off={off}
          options={[
            { id: "none", name: text.movements.noBound },
            ...circles.map(({ words }) => ({ id: words, name: words })),
          ]}
          onChoose={(id) =>
            desk.commit(text.movements.imageCircle, {
              movements: { image_circle_mm: circles.find(({ words }) => words === id)?.diameter_mm ?? null },
            })
          }
        />
        <NumberField
          label={text.movements.itsDiameter}
          unit="millimeter"
          digits={1}
          step={1}
          of={Movements.image_circle_mm}
          value={circle ?? Number(sheet.circle_used_mm.toFixed(1))}
          off={off}
          onCommit={(image_circle_mm) => desk.commit(text.movements.imageCircle, { movements: { image_circle_mm } })}
        />
      </Fields>
      {(room.length > 0 || own.rise_mm !== 0 || own.cross_mm !== 0) && (
        <Row>
          {room.length > 0 && <span style={{ color: quiet }}>{text.movements.roomFor(room.join(" or "))}</span>}
          {(own.rise_mm !== 0 || own.cross_mm !== 0) && (
            <Plain isDisabled={off} onPress={() => desk.commit(text.movements.noShifts, { kind: "unshift" })}>
              {text.movements.backToTheMiddle}
            </Plain>
          )}
        </Row>
      )}
    </>
  );
}
