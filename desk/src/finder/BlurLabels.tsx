import { type Project, useBlurLabels } from "../api/client";
import type { ShotDesk } from "../shots/draft";
import type { FrameRect } from "../stage/frameRect";
import { text } from "../text";

/**
 * What lines of equal blur stand for, in pixels of the picture; while a hand moves the shot, nothing: the lines are
 * elsewhere by then.
 */
export function BlurLabels({ project, desk, frame }: { project: Project; desk: ShotDesk; frame: FrameRect }) {
  const labels = useBlurLabels(project, desk.row, true);
  if (!labels || JSON.stringify(desk.shot) !== JSON.stringify(desk.row.shot)) return null;
  return (
    <g data-blur-labels>
      {labels.map(({ at, px }) => {
        const [u, v] = at as [number, number];
        return (
          <text
            key={`${u},${v}`}
            x={frame.left + u * frame.width}
            y={frame.top + (1 - v) * frame.height + 4}
            textAnchor="middle"
            fontSize={12}
            fontWeight={700}
            fill="#fff"
            stroke="rgba(0,0,0,0.8)"
            strokeWidth={3.5}
            paintOrder="stroke"
          >
            {text.everywhere.pixelCount(Number(px.toPrecision(2)))}
          </text>
        );
      })}
    </g>
  );
}
