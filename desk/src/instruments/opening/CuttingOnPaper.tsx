import { useRef } from "react";
import { Handle } from "../../drawings/Handle";
import type { Eye, Point } from "../../drawings/Paper";
import { ink } from "../../kit/tokens";
import type { ShotDesk } from "../../shots/draft";
import { text } from "../../text";

interface Props {
  desk: ShotDesk;
  drawing: "plan" | "section";
  eye: Eye;
  off: boolean;
}
/**
 * Where the plane is taken hold of, in pixels from its own point: aside of the lens axis, on which the focus is; and
 * how far from there it is turned.
 */
const [ASIDE, ARM] = [92, 44];

/** The cutting plane where it crosses a drawing: its middle pushes it, its ends turn it. */
export function CuttingOnPaper({ desk, drawing, eye, off }: Props) {
  // While one end is pulled the other stays where it was, also when the line follows the hand.
  const stays = useRef<Point | null>(null);
  const line = desk.sheet.drawings[drawing].cutting_line;
  if (!line) return null;
  const [x0, y0, x1, y1] = line;
  const pixel = 1 / (Math.hypot(x1 - x0, y1 - y0) * eye.scale);
  const along = (pixels: number): Point => [(x1 - x0) * pixel * pixels, (y1 - y0) * pixel * pixels];
  const [aside, arm] = [along(ASIDE), along(ARM)];
  const middle: Point = [(x0 + x1) / 2 + aside[0], (y0 + y1) / 2 + aside[1]];
  const ends: [Point, Point] = [
    [middle[0] - arm[0], middle[1] - arm[1]],
    [middle[0] + arm[0], middle[1] + arm[1]],
  ];
  const to = ([x, y]: Point) => ({ kind: "cutting_to", drawing, x, y }) as const;
  const turned = (n: 0 | 1, place: Point) => {
    stays.current ??= ends[1 - n]!;
    const [start, end] = n === 0 ? [place, stays.current] : [stays.current, place];
    return { kind: "cutting_line", drawing, start, end } as const;
  };
  const [a, b] = [eye.at(x0, y0), eye.at(x1, y1)];
  const [mx, my] = eye.at(...middle);
  return (
    <g>
      <path
        d={`M${a.join(" ")}L${b.join(" ")}`}
        stroke={ink}
        strokeWidth={1.6}
        strokeDasharray="16 4 3 4"
        fill="none"
        pointerEvents="none"
      />
      <Handle
        eye={eye}
        x={middle[0]}
        y={middle[1]}
        off={off}
        label={text.opening.cuttingPlaneIn(drawing)}
        onMove={(p) => desk.drag(to(p))}
        onDone={(p) => desk.commit(text.opening.pushTheCuttingPlane, to(p))}
        onDrop={desk.drop}
      >
        <path d={`M${mx - 5} ${my}l5 -5l5 5l-5 5z`} fill="#fff" stroke={ink} strokeWidth={1.4} />
      </Handle>
      {([0, 1] as const).map((n) => {
        const [px, py] = eye.at(...ends[n]);
        return (
          <Handle
            key={n}
            eye={eye}
            x={ends[n][0]}
            y={ends[n][1]}
            off={off}
            label={text.opening.endOfTheCutting(n === 0 ? text.opening.first : text.opening.second, drawing)}
            onMove={(p) => desk.drag(turned(n, p))}
            onDone={(p) => {
              desk.commit(text.opening.turnTheCuttingPlane, turned(n, p));
              stays.current = null;
            }}
            onDrop={() => {
              stays.current = null;
              desk.drop();
            }}
          >
            <circle cx={px} cy={py} r={3} fill={ink} />
          </Handle>
        );
      })}
    </g>
  );
}
