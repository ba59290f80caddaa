import { type Eye, Handle, path, type Point } from "../../drawings/Paper";
import { ink, spruce } from "../../kit/tokens";
import type { ShotDesk } from "../../shots/draft";
import { useGives, useOneSide } from "../choices";
import { CuttingOnPaper } from "./CuttingOnPaper";
import type { HandleProps } from "../described";

const BOUNDS = [["near", "near_clip", "Near clip"], ["far", "far_clip", "Far clip"]] as const;
const middle = (flat: readonly number[]): Point => {
  const n = 2 * Math.floor(flat.length / 4);
  return flat.length === 4 ? [(flat[0]! + flat[2]!) / 2, (flat[1]! + flat[3]!) / 2] : [flat[n]!, flat[n + 1]!];
};

/** Near and far clip on a drawing, where they can be told from the camera: to be taken and moved. */
function Bounds({ desk, drawing, eye, off }: { desk: ShotDesk; drawing: "plan" | "section"; eye: Eye; off: boolean }) {
  return (
    <>
      {BOUNDS.map(([which, key, name]) => {
        const flat = desk.sheet.drawings[drawing][key];
        if (!flat) return null;
        const [x, y] = middle(flat);
        const [px, py] = eye.at(x, y);
        const to = ([tx, ty]: Point) => ({ kind: "bound_on_paper", which, drawing, x: tx, y: ty }) as const;
        return (
          <g key={which}>
            <path d={path(eye, flat)} stroke={ink} strokeWidth={1.2} strokeDasharray="9 3" fill="none" pointerEvents="none" />
            <Handle eye={eye} x={x} y={y} off={off} label={`${name} in ${drawing}`} onMove={(p) => desk.drag(to(p))} onDone={(p) => desk.commit(name, to(p))} onDrop={desk.drop}>
              <path d={`M${px - 4} ${py - 4}h8v8h-8z`} fill="#fff" stroke={ink} strokeWidth={1.2} />
            </Handle>
          </g>
        );
      })}
    </>
  );
}

/** Both sides of the wedge in plan, to be taken and turned: together, or each alone. */
export function LensInPlan({ desk, eye, off }: HandleProps) {
  const [left, right] = desk.sheet.drawings.plan.sides;
  const [alone] = useOneSide();
  const [gives] = useGives();
  return (
    <>
      {([["left", left], ["right", right]] as const).map(([side, line]) => {
        if (!line) return null;
        const [x, y] = [(line[0] + line[2]) / 2, (line[1] + line[3]) / 2];
        const wedge = ([wx, wy]: Point) => (alone ? ({ kind: "side_to", side, x: wx, y: wy, gives }) as const : ({ kind: "wedge_to", side, x: wx, y: wy }) as const);
        const [px, py] = eye.at(x, y);
        return (
          <Handle key={side} eye={eye} x={x} y={y} off={off} label={`${side} side of the wedge`} onMove={(p) => desk.drag(wedge(p))}
            onDone={(p) => desk.commit(alone ? "One side of the wedge" : "Angle of view", wedge(p))} onDrop={desk.drop}>
            <circle cx={px} cy={py} r={3.4} fill={alone ? spruce : "#fff"} stroke={spruce} strokeWidth={1.4} />
          </Handle>
        );
      })}
      <Bounds desk={desk} drawing="plan" eye={eye} off={off} />
      <CuttingOnPaper desk={desk} drawing="plan" eye={eye} off={off} />
    </>
  );
}

export function LensInSection({ desk, eye, off }: HandleProps) {
  return (
    <>
      <Bounds desk={desk} drawing="section" eye={eye} off={off} />
      <CuttingOnPaper desk={desk} drawing="section" eye={eye} off={off} />
    </>
  );
}
