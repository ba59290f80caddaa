import { Movements } from "../../api/limits";
import { Fields, Plain, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { brick, quiet } from "../../kit/tokens";
import { degrees } from "../../kit/words";
import type { BodyProps } from "../described";

/** Tilt and swing: where the plane of focus lies, by numbers, or laid on what is pressed. */
export function FocusPlane({ desk, picking, pick }: BodyProps) {
  const { movements: own, lens } = desk.shot;
  const { movements: sheet } = desk.sheet;
  const off = desk.row.locked;
  if (lens.projection !== "perspective") return <p style={{ color: quiet }}>Only a lens in perspective is tilted.</p>;
  const pressing = (what: string) => ({
    isSelected: picking === what,
    isDisabled: off,
    onChange: (on: boolean) => pick(on ? what : null),
  });
  return (
    <>
      <Fields>
        <NumberField
          label="Tilt"
          unit="degree"
          digits={2}
          step={0.25}
          of={Movements.tilt_deg}
          value={own.tilt_deg}
          off={off}
          onCommit={(tilt_deg) => desk.commit("Tilt", { kind: "turn_lens", tilt_deg })}
        />
        <NumberField
          label="Swing"
          unit="degree"
          digits={2}
          step={0.25}
          of={Movements.swing_deg}
          value={own.swing_deg}
          off={off}
          onCommit={(swing_deg) => desk.commit("Swing", { kind: "turn_lens", swing_deg })}
        />
        <NumberField
          label="Limit"
          unit="degree"
          digits={1}
          step={1}
          of={Movements.tilt_limit_deg}
          value={own.tilt_limit_deg ?? Movements.tilt_limit_deg.max}
          off={off}
          onCommit={(tilt_limit_deg) => desk.commit("Limit of tilt", { movements: { tilt_limit_deg } })}
        />
      </Fields>
      <Row>
        <Toggle {...pressing("lay_on")}>Lay on a surface</Toggle>
        <Toggle {...pressing("lay_through")}>Lay on three points</Toggle>
        <Plain
          isDisabled={off || sheet.turned_deg === 0}
          onPress={() => desk.commit("Lens parallel to the film", { kind: "lens_parallel" })}
        >
          Parallel
        </Plain>
      </Row>
      {/* Below what is pressed: its length changes with the plane, and no button may move from under a hand. */}
      <p>
        Plane of focus: {sheet.focus_plane}.
        {!sheet.turned_ok && (
          <b style={{ color: brick }}> ! Turned {degrees(sheet.turned_deg)}, farther than this lens goes.</b>
        )}
      </p>
    </>
  );
}
