import { Movements } from "../../api/limits";
import { Fields, Plain, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { brick, quiet } from "../../kit/tokens";
import { degrees } from "../../kit/words";
import type { BodyProps } from "../described";
import { text } from "../../text";

/** Tilt and swing: where the plane of focus lies, by numbers, or laid on what is pressed. */
export function FocusPlane({ desk, picking, pick }: BodyProps) {
  const { movements: own, lens } = desk.shot;
  const { movements: sheet } = desk.sheet;
  const off = desk.row.locked;
  if (lens.projection !== "perspective") return <p style={{ color: quiet }}>{text.movements.onlyALensInPerspective}</p>;
  const pressing = (what: string) => ({
    isSelected: picking === what,
    isDisabled: off,
    onChange: (on: boolean) => pick(on ? what : null),
  });
  return (
    <>
      <Fields>
        <NumberField
          label={text.everywhere.tilt}
          unit="degree"
          digits={2}
          step={0.25}
          of={Movements.tilt_deg}
          value={own.tilt_deg}
          off={off}
          onCommit={(tilt_deg) => desk.commit(text.everywhere.tilt, { kind: "turn_lens", tilt_deg })}
        />
        <NumberField
          label={text.movements.swing}
          unit="degree"
          digits={2}
          step={0.25}
          of={Movements.swing_deg}
          value={own.swing_deg}
          off={off}
          onCommit={(swing_deg) => desk.commit(text.movements.swing, { kind: "turn_lens", swing_deg })}
        />
        <NumberField
          label={text.movements.limit}
          unit="degree"
          digits={1}
          step={1}
          of={Movements.tilt_limit_deg}
          value={own.tilt_limit_deg ?? Movements.tilt_limit_deg.max}
          off={off}
          onCommit={(tilt_limit_deg) => desk.commit(text.movements.limitOfTilt, { movements: { tilt_limit_deg } })}
        />
      </Fields>
      <Row>
        <Toggle {...pressing("lay_on")}>{text.movements.layOnASurface}</Toggle>
        <Toggle {...pressing("lay_through")}>{text.movements.layOnThreePoints}</Toggle>
        <Plain
          isDisabled={off || sheet.turned_deg === 0}
          onPress={() => desk.commit(text.movements.lensParallelToTheFilm, { kind: "lens_parallel" })}
        >
          {text.movements.parallel}
        </Plain>
      </Row>
      {/* Below what is pressed: its length changes with the plane, and no button may move from under a hand. */}
      <p>
        {text.movements.planeOfFocus(sheet.focus_plane)}{" "}
        {!sheet.turned_ok && (
          <b style={{ color: brick }}>{text.movements.turnedFartherThanThisLens(degrees(sheet.turned_deg))}</b>
        )}
      </p>
    </>
  );
}
