import { Cross } from "../../drawings/ink";
import { Handle, type Point } from "../../drawings/Paper";
import type { HandleProps } from "../described";

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
        label="Aim in plan"
        onMove={(p) => desk.drag(aimTo(p))}
        onDone={(p) => desk.commit("Move the aim", aimTo(p))}
        onDrop={desk.drop}
      >
        <Cross eye={eye} x={aim[0]} y={aim[1]} />
      </Handle>
      <Handle
        eye={eye}
        x={stand[0]}
        y={stand[1]}
        off={off}
        label="Stand in plan"
        onMove={(p) => desk.drag(standTo(p))}
        onDone={(p) => desk.commit("Move the stand", standTo(p))}
        onDrop={desk.drop}
      />
    </>
  );
}
