import { Handle } from "../../drawings/Handle";
import { path } from "../../drawings/outlines";
import type { Eye, Point } from "../../drawings/Paper";
import { ink } from "../../kit/tokens";
import type { ShotDesk } from "../../shots/draft";
import type { HandleProps } from "../described";
import { CuttingOnPaper } from "./CuttingOnPaper";
import { text } from "../../text";

const CLIPS = [
  ["near", "near_clip", text.opening.nearClip],
  ["far", "far_clip", text.opening.farClip],
] as const;
const middle = (flat: readonly number[]): Point => {
  const n = 2 * Math.floor(flat.length / 4);
  return flat.length === 4 ? [(flat[0]! + flat[2]!) / 2, (flat[1]! + flat[3]!) / 2] : [flat[n]!, flat[n + 1]!];
};

/** Near and far clip on a drawing, where they can be told from the camera: to be taken and moved. */
function Clips({ desk, drawing, eye, off }: { desk: ShotDesk; drawing: "plan" | "section"; eye: Eye; off: boolean }) {
  return (
    <>
      {CLIPS.map(([which, key, name]) => {
        const flat = desk.sheet.drawings[drawing][key];
        if (!flat) return null;
        const [x, y] = middle(flat);
        const [px, py] = eye.at(x, y);
        const to = ([tx, ty]: Point) => ({ kind: "bound_on_paper", which, drawing, x: tx, y: ty }) as const;
        return (
          <g key={which}>
            <path
              d={path(eye, flat)}
              stroke={ink}
              strokeWidth={1.2}
              strokeDasharray="9 3"
              fill="none"
              pointerEvents="none"
            />
            <Handle
              eye={eye}
              x={x}
              y={y}
              off={off}
              label={text.everywhere.inDrawing(name, drawing)}
              onMove={(p) => desk.drag(to(p))}
              onDone={(p) => desk.commit(name, to(p))}
              onDrop={desk.drop}
            >
              <path d={`M${px - 4} ${py - 4}h8v8h-8z`} fill="#fff" stroke={ink} strokeWidth={1.2} />
            </Handle>
          </g>
        );
      })}
    </>
  );
}

const onDrawing = (drawing: "plan" | "section") =>
  function Taken({ desk, eye, off }: HandleProps) {
    return (
      <>
        <Clips desk={desk} drawing={drawing} eye={eye} off={off} />
        <CuttingOnPaper desk={desk} drawing={drawing} eye={eye} off={off} />
      </>
    );
  };

export const OpeningInPlan = onDrawing("plan");
export const OpeningInSection = onDrawing("section");
