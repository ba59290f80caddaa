import { Handle } from "../../drawings/Handle";
import type { Point } from "../../drawings/Paper";
import { spruce } from "../../kit/tokens";
import { useGives, useOneSide } from "../choices";
import type { HandleProps } from "../described";
import { text } from "../../text";

/** Both sides of the wedge in plan, to be taken and turned: together, or each alone. */
export function LensInPlan({ desk, eye, off }: HandleProps) {
  const [left, right] = desk.sheet.drawings.plan.sides;
  const [alone] = useOneSide();
  const [gives] = useGives();
  return (
    <>
      {(
        [
          ["left", left],
          ["right", right],
        ] as const
      ).map(([side, line]) => {
        if (!line) return null;
        const [x, y] = [(line[0] + line[2]) / 2, (line[1] + line[3]) / 2];
        const wedge = ([wx, wy]: Point) =>
          alone
            ? ({ kind: "side_to", side, x: wx, y: wy, gives } as const)
            : ({ kind: "wedge_to", side, x: wx, y: wy } as const);
        const [px, py] = eye.at(x, y);
        return (
          <Handle
            key={side}
            eye={eye}
            x={x}
            y={y}
            off={off}
            label={text.lens.sideOfTheWedge(side)}
            onMove={(p) => desk.drag(wedge(p))}
            onDone={(p) => desk.commit(alone ? text.lens.oneSideOfTheWedge : text.lens.angleOfView, wedge(p))}
            onDrop={desk.drop}
          >
            <circle cx={px} cy={py} r={3.4} fill={alone ? spruce : "#fff"} stroke={spruce} strokeWidth={1.4} />
          </Handle>
        );
      })}
    </>
  );
}
