import { Handle } from "../../drawings/Handle";
import type { Eye, Point } from "../../drawings/Paper";
import { spruce } from "../../kit/tokens";
import type { ShotDesk } from "../../shots/draft";
import type { HandleProps } from "../described";
import { text } from "../../text";

/** The wedge of a tilted lens runs on to its hinge: that is taken and moved, and the plane of focus by its end. */
function TiltOnPaper({
  desk,
  drawing,
  eye,
  off,
  open,
}: Pick<HandleProps, "desk" | "eye" | "off" | "open"> & { drawing: "plan" | "section" }) {
  const { hinge, focus, near, far, stand } = desk.sheet.drawings[drawing];
  const ends: [number, number][] = [
    [focus[0]!, focus[1]!],
    [focus.at(-2)!, focus.at(-1)!],
  ];
  const away = ([x, y]: [number, number]) => Math.hypot(x - stand[0], y - stand[1]);
  if (desk.shot.lens.projection !== "perspective" || !(open || desk.sheet.movements.turned_deg > 0)) return null;
  return (
    <>
      {hinge && (
        <Hinge desk={desk} drawing={drawing} eye={eye} off={off} at={hinge} lines={[focus, near, far ?? null]} />
      )}
      <PlaneEnd
        desk={desk}
        drawing={drawing}
        eye={eye}
        off={off}
        at={away(ends[0]!) < 0.98 * away(ends[1]!) ? ends[0]! : ends[1]!}
      />
    </>
  );
}

interface Own {
  desk: ShotDesk;
  drawing: "plan" | "section";
  eye: Eye;
  off: boolean;
  at: readonly [number, number];
}

function Hinge({ desk, drawing, eye, off, at: [x, y], lines }: Own & { lines: (readonly number[] | null)[] }) {
  const [px, py] = eye.at(x, y);
  const to = ([tx, ty]: Point) => ({ kind: "hinge_on_paper", drawing, x: tx, y: ty }) as const;
  return (
    <g data-hinge>
      {lines.map((flat, n) => {
        if (!flat) return null;
        const [ex, ey] = eye.at(flat[0]!, flat[1]!);
        return (
          <line
            key={n}
            x1={px}
            y1={py}
            x2={ex}
            y2={ey}
            stroke={spruce}
            strokeWidth={n === 0 ? 1.6 : 0.9}
            strokeDasharray={n === 0 ? "6 3" : "1 3"}
            pointerEvents="none"
          />
        );
      })}
      <Handle
        eye={eye}
        x={x}
        y={y}
        off={off}
        label={text.movements.hingeIn(drawing)}
        onMove={(p) => desk.drag(to(p))}
        onDone={(p) => desk.commit(text.movements.hingeOfTheSharp, to(p))}
        onDrop={desk.drop}
      >
        <circle cx={px} cy={py} r={5} fill="#fff" stroke={spruce} strokeWidth={1.6} />
        <path d={`M${px - 3} ${py - 3}l6 6m0 -6l-6 6`} stroke={spruce} strokeWidth={1.2} />
      </Handle>
    </g>
  );
}

/**
 * An end of the plane of focus, the one nearer to the camera: pulled, the lens tilts or swings about where the plane
 * crosses its axis.
 */
function PlaneEnd({ desk, drawing, eye, off, at: [x, y] }: Own) {
  const [px, py] = eye.at(x, y);
  const to = ([tx, ty]: Point) => ({ kind: "focus_plane_on_paper", drawing, x: tx, y: ty }) as const;
  const what = drawing === "section" ? text.everywhere.tilt : text.movements.swing;
  return (
    <Handle
      eye={eye}
      x={x}
      y={y}
      off={off}
      label={text.movements.endOfThePlane(what, drawing)}
      onMove={(p) => desk.drag(to(p))}
      onDone={(p) => desk.commit(what, to(p))}
      onDrop={desk.drop}
    >
      <path d={`M${px - 4} ${py}l4 -4l4 4l-4 4Z`} fill={spruce} stroke="#fff" strokeWidth={1} />
    </Handle>
  );
}

export const MovementsInPlan = (props: HandleProps) => <TiltOnPaper {...props} drawing="plan" />;
export const MovementsInSection = (props: HandleProps) => <TiltOnPaper {...props} drawing="section" />;
