import { Cross } from "../../drawings/ink";
import { Handle } from "../../drawings/Handle";
import type { Point } from "../../drawings/Paper";
import type { HandleProps } from "../described";
import { text } from "../../text";

/** The aim and the stand in plan, to be taken and put elsewhere. */
export function StandInPlan({ desk, eye, off }: HandleProps) {
  const { stand, aim } = desk.sheet.drawings.plan;
  const standTo = ([x, y]: Point) => ({ kind: "stand_to", x, y }) as const;
  const aimTo = ([x, y]: Point) => ({ kind: "aim_to", x, y }) as const;
  return (
    <>
      <Handle
        eye={eye}
        x={aim[0]}
        y={aim[1]}
        off={off}
        label={text.stand.aimInPlan}
        onMove={(p) => desk.drag(aimTo(p))}
        onDone={(p) => desk.commit(text.stand.moveTheAim, aimTo(p))}
        onDrop={desk.drop}
      >
        <Cross eye={eye} x={aim[0]} y={aim[1]} />
      </Handle>
      <Handle
        eye={eye}
        x={stand[0]}
        y={stand[1]}
        off={off}
        label={text.stand.standInPlan}
        onMove={(p) => desk.drag(standTo(p))}
        onDone={(p) => desk.commit(text.stand.moveTheStand, standTo(p))}
        onDrop={desk.drop}
      />
    </>
  );
}
