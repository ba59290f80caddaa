import { useState } from "react";
import styled from "styled-components";
import type { Project, PutHabits, ShotGesture } from "../../api/client";
import { Habits } from "../../api/limits";
import { Button, Fields, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { quiet } from "../../kit/tokens";
import { headed, planAxes } from "../../kit/words";
import type { ShotDesk } from "../../shots/draft";
import { text } from "../../text";

type Move = Extract<ShotGesture, { kind: "grip" }>["move"];
const Table = styled.div`
  display: grid;
  grid-template-columns: 74px 1fr 1fr;
  gap: 4px 6px;
  align-items: center;
  > span {
    color: ${quiet};
    font-size: 12px;
  }
  button {
    padding: 1px 4px;
    min-height: 25px;
    font-weight: 500;
  }
`;

type Row = [string, Move, "m" | "deg", string, string];
const ROWS: Row[] = [
  [text.everywhere.dolly, "dolly", "m", text.stand.back, text.stand.ahead],
  [text.everywhere.truck, "truck", "m", text.everywhere.left, text.everywhere.right],
  [text.stand.pedestal, "pedestal", "m", text.everywhere.down, text.everywhere.up],
  [text.stand.pan, "pan", "deg", text.everywhere.left, text.everywhere.right],
  [text.everywhere.tilt, "tilt", "deg", text.everywhere.down, text.everywhere.up],
  [text.stand.roll, "roll", "deg", text.everywhere.left, text.everywhere.right],
  [text.everywhere.orbit, "orbit", "deg", text.everywhere.left, text.everywhere.right],
  [text.stand.over, "over", "deg", text.stand.lower, text.stand.higher],
];

/** Moves along one axis of the set. */
const alongAxes = (northDeg: number): Row[] => {
  const { x, y, lessX, lessY } = planAxes(northDeg);
  const more = northDeg % 360 === 0 ? [x, y] : [text.stand.more, text.stand.more];
  return [
    [headed(x), "east", "m", lessX, more[0]!],
    [headed(y), "north", "m", lessY, more[1]!],
    [text.everywhere.height, "up", "m", text.everywhere.down, text.everywhere.up],
  ];
};

/** Moves of a grip, by steps of a size one sets; along the lens or along one axis of the set. */
export function Moves({ project, desk, put }: { project: Project; desk: ShotDesk; put: PutHabits }) {
  const [both, setBoth] = useState(true);
  const { habits } = project;
  const off = desk.row.locked;
  return (
    <>
      <Fields $columns={2}>
        <NumberField
          label={text.stand.oneStep}
          unit="meter"
          digits={3}
          step={0.05}
          of={Habits.step_m}
          value={project.step_m}
          onCommit={(step_m) => put({ step_m })}
        />
        <NumberField
          label={text.stand.oneTurn}
          unit="degree"
          digits={2}
          step={0.5}
          of={Habits.step_deg}
          value={habits.step_deg}
          onCommit={(step_deg) => put({ step_deg })}
        />
      </Fields>
      <Toggle isSelected={both} onChange={setBoth}>
        {text.stand.theAimGoesAlong}
      </Toggle>
      <Table>
        {[...ROWS, ...alongAxes(project.site.north_deg)].map(([name, move, unit, less, more]) => {
          const by = (side: number) =>
            desk.commit(text.stand.byAStep(name), (_, { habits: now, step_m }) => ({
              kind: "grip",
              move,
              by: side * (unit === "m" ? step_m : now.step_deg),
              both,
            }));
          return (
            <div key={move} style={{ display: "contents" }}>
              <span>{name}</span>
              <Button aria-label={`${name} ${less}`} isDisabled={off} onPress={() => by(-1)}>
                {less}
              </Button>
              <Button aria-label={`${name} ${more}`} isDisabled={off} onPress={() => by(1)}>
                {more}
              </Button>
            </div>
          );
        })}
      </Table>
    </>
  );
}
