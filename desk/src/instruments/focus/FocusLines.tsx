import { spruce } from "../../kit/tokens";
import type { ShotDesk } from "../../shots/draft";
import { Handle } from "../../drawings/Handle";
import type { Eye, Point } from "../../drawings/Paper";
import { text } from "../../text";

const middle = (flat: readonly number[]): Point => [(flat[0]! + flat[2]!) / 2, (flat[1]! + flat[3]!) / 2];

/** The focus line and both edges of the sharp zone on a drawing, to be taken and moved. */
export function FocusLines({
  desk,
  drawing,
  eye,
  off,
  cursor,
}: {
  desk: ShotDesk;
  drawing: "plan" | "section";
  eye: Eye;
  off: boolean;
  cursor?: string;
}) {
  const { near, far, focus } = desk.sheet.drawings[drawing];
  // Where everything is sharp there is no end to take.
  const ends =
    desk.sheet.focus.hyperfocal_m == null
      ? []
      : ([
          ["near", near],
          ["far", far ?? null],
        ] as const);
  const focusTo = ([x, y]: Point) => ({ kind: "focus_on_paper", drawing, x, y }) as const;
  const [fx, fy] = middle(focus);
  return (
    <>
      {ends.map(([end, flat]) => {
        if (!flat) return null;
        const [x, y] = middle(flat);
        const [px, py] = eye.at(x, y);
        const to = ([tx, ty]: Point) => ({ kind: "sharp_on_paper", end, drawing, x: tx, y: ty }) as const;
        return (
          <Handle
            key={end}
            eye={eye}
            x={x}
            y={y}
            off={off}
            cursor={cursor}
            label={text.everywhere.inDrawing(end === "near" ? text.focus.sharpFrom : text.focus.sharpTo, drawing)}
            onMove={(p) => desk.drag(to(p))}
            onDone={(p) => desk.commit(text.focus.sharpZone, to(p))}
            onDrop={desk.drop}
          >
            <circle cx={px} cy={py} r={3.4} fill="#fff" stroke={spruce} strokeWidth={1.4} />
          </Handle>
        );
      })}
      <Handle
        eye={eye}
        x={fx}
        y={fy}
        off={off}
        cursor={cursor}
        label={text.focus.focusIn(drawing)}
        onMove={(p) => desk.drag(focusTo(p))}
        onDone={(p) => desk.commit(text.focus.focus, focusTo(p))}
        onDrop={desk.drop}
      />
    </>
  );
}
