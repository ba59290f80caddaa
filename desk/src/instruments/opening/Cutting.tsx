import { remembered, useRemembered } from "../../kit/remembered";
import { StandBehind } from "../../api/limits";
import { Button, Fields, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { quiet } from "../../kit/tokens";
import { many } from "../../kit/words";
import type { BodyProps } from "../described";

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
  const way = (what: string, words: string) => (
    <Toggle isSelected={picking === what} isDisabled={off} onChange={(on) => pick(on ? what : null)}>
      {words}
    </Toggle>
  );
  return (
    <>
      <Row>
        {way("cut_wall", "Open by a wall")}
        {way("cut_line", "Open by a line")}
      </Row>
      <Fields $columns={2}>
        {way("behind", "Stand behind a wall")}
        <NumberField
          label="Behind it by"
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
            <Button isDisabled={off} onPress={() => desk.commit("Take the other side away", { kind: "cutting_flip" })}>
              The other side
            </Button>
            <Button
              isDisabled={off}
              onPress={() => desk.commit("Close the set again", { lens: { cutting_plane: null } })}
            >
              Close the set again
            </Button>
          </Row>
          <p style={{ color: quiet }}>
            The set is open in this shot alone.{" "}
            {cap && cap.open_lines > 0
              ? `${many(cap.open_lines, "surface")} it cuts ${cap.open_lines === 1 ? "is" : "are"} not closed and stay${cap.open_lines === 1 ? "s" : ""} open.`
              : "What it cuts is closed with dark faces."}
          </p>
        </>
      )}
    </>
  );
}
