import { Button, Plain, Row, Toggle } from "../../kit/controls";
import { ShareSlider } from "../../kit/slider";
import { quiet } from "../../kit/tokens";
import { millimetres } from "../../kit/words";
import type { BodyProps } from "../described";
import { Alternatives } from "../Alternatives";
import { text } from "../../text";

/** Uprights made true, in one action or by a share; square on to a wall; and the way back. */
export function Uprights({ desk, picking, pick }: BodyProps) {
  const { movements: own, guides } = desk.shot;
  const { movements: sheet, pose } = desk.sheet;
  const off = desk.row.locked;
  if (!sheet.can_straighten) return <p style={{ color: quiet }}>{text.movements.inThisProjectionShifts}</p>;
  const to = (amount: number) => ({ kind: "straighten", amount }) as const;
  // Nothing to take out where the camera is level and was never straightened.
  const level = !sheet.back_known && Math.abs(pose.pitch_deg) < 0.005 && pose.roll_deg === 0;
  return (
    <>
      <Row>
        <Button
          isDisabled={off || level || (sheet.straightened > 0.9999 && sheet.uprights === "true")}
          onPress={() => desk.commit(text.movements.straighten, to(1))}
        >
          {text.movements.straighten}
        </Button>
        <Toggle isSelected={picking === "square_on"} isDisabled={off} onChange={(on) => pick(on ? "square_on" : null)}>
          {text.movements.squareOnAWall}
        </Toggle>
        <Plain
          isDisabled={off || !sheet.back_known}
          onPress={() => desk.commit(text.movements.asItWasBefore, { kind: "unstraighten" })}
        >
          {text.movements.reset}
        </Plain>
      </Row>
      <ShareSlider
        label={text.movements.straightened}
        value={sheet.straightened}
        off={off || level}
        shown={(share) => (level ? text.movements.levelAlready : `${Math.round(100 * share)} %`)}
        onMove={(amount) => desk.drag(to(amount))}
        onDone={(amount) => desk.commit(text.movements.straightenOf(Math.round(100 * amount)), to(amount))}
      />
      <Row>
        <Toggle
          isSelected={own.keep_uprights}
          isDisabled={off}
          onChange={(on) => desk.commit(text.movements.keepUprightsTrue, { movements: { keep_uprights: on } })}
        >
          {text.movements.keepUprightsTrue}
        </Toggle>
        <Toggle
          isSelected={guides.lean_lines}
          isDisabled={off}
          onChange={(on) => desk.commit(text.movements.leanLines, { guides: { lean_lines: on } })}
        >
          {text.movements.leanLines}
        </Toggle>
      </Row>
      {own.keep_uprights && <p style={{ color: quiet }}>{text.movements.turnedUpOrDown}</p>}
      {!sheet.circle_ok && (
        <Alternatives
          desk={desk}
          label={text.movements.beyondTheImageCircle}
          why={text.movements.theFrameReachesBeyond(millimetres(-(sheet.circle_left_mm ?? 0)))}
          offered={sheet.alternatives}
        />
      )}
    </>
  );
}
