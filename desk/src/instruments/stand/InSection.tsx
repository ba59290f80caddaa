import { Slip } from "../../drawings/ink";
import { Handle } from "../../drawings/Handle";
import type { Point } from "../../drawings/Paper";
import { useLength, useRuler } from "../../kit/ruler";
import { quiet, spruce } from "../../kit/tokens";
import type { HandleProps } from "../described";
import { apart, useMarks } from "./Staff";
import { text } from "../../text";

/** The levelling staff under the lens in section, with the lens to be slid on it. */
export function StandInSection(props: HandleProps) {
  const { desk, eye, off } = props;
  const [x, z] = desk.sheet.drawings.section.stand;
  const height = (p: Point) => ({ kind: "height_to", z: p[1], above_floor: null }) as const;
  return (
    <>
      <StaffInSection {...props} />
      <Handle
        eye={eye}
        x={x}
        y={z}
        off={off}
        cursor="ns-resize"
        label={text.stand.lensHeightInSection}
        onMove={(p) => desk.drag(height(p))}
        onDone={(p) => desk.commit(text.stand.lensHeight, height(p))}
        onDrop={desk.drop}
      >
        <circle cx={eye.at(x, z)[0]} cy={eye.at(x, z)[1]} r={7} fill="#fff" stroke={spruce} strokeWidth={2.4} />
      </Handle>
    </>
  );
}

function StaffInSection({ eye, desk, project }: HandleProps) {
  const length = useLength();
  const named = useMarks(project);
  const ruler = useRuler();
  const { pose, drawings } = desk.sheet;
  const [x, z] = drawings.section.stand;
  const [px, py] = eye.at(x, z);
  const floor = pose.floor_z;
  const marks = [];
  if (floor != null) {
    // Ten marks to a number, as fine as can be told apart, as many as the sheet shows.
    const step = [0.001, 0.01, 0.1, 1, 10, 100].find((s) => s * eye.scale >= 3) ?? 1000;
    const top = Math.max(
      eye.scale > 400 ? z - floor + 10 * step : Math.max(ruler.staff_m, Math.ceil(z - floor)),
      10 * step,
    );
    for (let n = 0; n * step <= top + 1e-6; n += 1) {
      const y = eye.at(x, floor + n * step)[1];
      if (y < -20) break;
      const whole = n % 10 === 0;
      marks.push(<line key={n} x1={px} x2={px + (whole ? 8 : 4)} y1={y} y2={y} stroke={spruce} />);
      if (whole && n > 0)
        marks.push(
          <text key={`t${n}`} x={px + 11} y={y + 4} fontSize={11} fill={spruce}>
            {Number(((n * step) / ruler.metres).toFixed(3))}
          </text>,
        );
    }
  }
  const tops = named.map((mark) => ({ ...mark, y: eye.at(x, (floor ?? 0) + mark.height_m)[1] }));
  const places = apart(
    tops.map((mark) => mark.y),
    13,
  );
  const bottom = eye.at(x, floor ?? z - 1)[1];
  return (
    <g pointerEvents="none">
      {floor != null && (
        <line
          x1={px}
          x2={px}
          y1={bottom}
          y2={eye.at(x, floor + Math.max(ruler.staff_m, z - floor))[1]}
          stroke={spruce}
          strokeWidth={1.6}
        />
      )}
      {marks}
      {floor != null && eye.scale > 22 && tops.length > 0 && (
        <g>
          <Slip x={px - 18} lines={tops.map(({ name }, n) => ({ y: places[n]! + 4, words: name }))} end />
          {tops.map((mark, n) => (
            <g key={mark.name}>
              <path d={`M${px} ${mark.y}h-6L${px - 18} ${places[n]!}`} stroke={quiet} strokeWidth={0.8} fill="none" />
              <text
                x={px - 24}
                y={places[n]! + 4}
                fontSize={11}
                textAnchor="end"
                fill={quiet}
                fontStyle={mark.own ? "italic" : undefined}
              >
                {mark.name}
              </text>
            </g>
          ))}
        </g>
      )}
      <g transform={`translate(${px + 14} ${py - 26})`}>
        <rect width={118} height={18} rx={2} fill={spruce} />
        <text x={8} y={13} fontSize={11} fill="#fff">
          {pose.above_floor_m == null
            ? text.everywhere.noFloorUnderIt
            : text.stand.aboveFloor(length(pose.above_floor_m))}
        </text>
      </g>
    </g>
  );
}
