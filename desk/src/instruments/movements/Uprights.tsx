import { Button, Plain, Row, Toggle } from "../../kit/controls";
import { ShareSlider } from "../../kit/slider";
import { quiet } from "../../kit/tokens";
import { millimetres } from "../../kit/words";
import type { BodyProps } from "../described";
import { Alternatives } from "../Alternatives";

/** Uprights made true, in one action or by a share; square on to a wall; and the way back. */
export function Uprights({ desk, picking, pick }: BodyProps) {
  const { movements: own, guides } = desk.shot;
  const { movements: sheet, pose } = desk.sheet;
  const off = desk.row.locked;
  if (!sheet.can_straighten)
    return <p style={{ color: quiet }}>In this projection shifts make no uprights true; they move the frame alone.</p>;
  const to = (amount: number) => ({ kind: "straighten", amount }) as const;
  // Nothing to take out where the camera is level and was never straightened.
  const level = !sheet.back_known && Math.abs(pose.pitch_deg) < 0.005 && pose.roll_deg === 0;
  return (
    <>
      <Row>
        <Button
          isDisabled={off || level || (sheet.straightened > 0.9999 && sheet.uprights === "true")}
          onPress={() => desk.commit("Straighten", to(1))}
        >
          Straighten
        </Button>
        <Toggle isSelected={picking === "square_on"} isDisabled={off} onChange={(on) => pick(on ? "square_on" : null)}>
          Square on a wall
        </Toggle>
        <Plain
          isDisabled={off || !sheet.back_known}
          onPress={() => desk.commit("As it was before straightening", { kind: "unstraighten" })}
        >
          Reset
        </Plain>
      </Row>
      <ShareSlider
        label="Straightened"
        value={sheet.straightened}
        off={off || level}
        shown={(share) => (level ? "level already" : `${Math.round(100 * share)} %`)}
        onMove={(amount) => desk.drag(to(amount))}
        onDone={(amount) => desk.commit(`Straighten ${Math.round(100 * amount)} %`, to(amount))}
      />
      <Row>
        <Toggle
          isSelected={own.keep_uprights}
          isDisabled={off}
          onChange={(on) => desk.commit("Keep uprights true", { movements: { keep_uprights: on } })}
        >
          Keep uprights true
        </Toggle>
        <Toggle
          isSelected={guides.lean_lines}
          isDisabled={off}
          onChange={(on) => desk.commit("Lean lines", { guides: { lean_lines: on } })}
        >
          Lean lines
        </Toggle>
      </Row>
      {own.keep_uprights && (
        <p style={{ color: quiet }}>Turned up or down, the camera keeps its pitch and the film rises instead.</p>
      )}
      {!sheet.circle_ok && (
        <Alternatives
          desk={desk}
          label="Beyond the image circle"
          why={`The frame reaches ${millimetres(-(sheet.circle_left_mm ?? 0))} beyond the circle; its corner stays dark.`}
          offered={sheet.alternatives}
        />
      )}
    </>
  );
}
