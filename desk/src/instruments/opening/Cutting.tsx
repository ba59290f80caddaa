import { remembered, useRemembered } from "../../kit/remembered";
import { StandBehind } from "../../api/limits";
import { Button, Fields, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { quiet } from "../../kit/tokens";
import type { BodyProps } from "../described";
import { text } from "../../text";

/** How far behind a wall one stands. */
const BEHIND_M = 2;
const KEY = "zevlo-behind";

/** How far behind a wall a press puts the camera: read where it is pressed. */
export const behind = () => remembered(KEY, BEHIND_M);

/** Opening the set for this shot: by a wall, by a line on a drawing; and standing where a wall is. */
export function Cutting({ desk, picking, pick }: BodyProps) {
  const off = desk.row.locked;
  const [distance, setDistance] = useRemembered(KEY, BEHIND_M);
  const { cap } = desk.sheet.drawings;
  const press = (what: string, words: string) => (
    <Toggle isSelected={picking === what} isDisabled={off} onChange={(on) => pick(on ? what : null)}>
      {words}
    </Toggle>
  );
  return (
    <>
      <Row>
        {press("cut_wall", text.opening.openByAWall)}
        {press("cut_line", text.opening.openByALine)}
      </Row>
      <Fields $columns={2}>
        {press("behind", text.opening.standBehindAWall)}
        <NumberField
          label={text.opening.behindItBy}
          unit="meter"
          step={0.1}
          of={StandBehind.distance_m}
          value={distance}
          off={off}
          onCommit={setDistance}
        />
      </Fields>
      {desk.shot.lens.cutting_plane && (
        <>
          <Row>
            <Button
              isDisabled={off}
              onPress={() => desk.commit(text.opening.takeTheOtherSide, { kind: "cutting_flip" })}
            >
              {text.opening.theOtherSide}
            </Button>
            <Button
              isDisabled={off}
              onPress={() => desk.commit(text.opening.closeTheSetAgain, { lens: { cutting_plane: null } })}
            >
              {text.opening.closeTheSetAgain}
            </Button>
          </Row>
          <p style={{ color: quiet }}>
            {text.opening.theSetIsOpen(
              cap && cap.open_lines > 0
                ? text.opening.itCutsNotClosed(cap.open_lines)
                : text.opening.whatItCutsIsClosed,
            )}
          </p>
        </>
      )}
    </>
  );
}
