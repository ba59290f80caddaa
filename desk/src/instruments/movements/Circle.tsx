import { useRef } from "react";
import { usePulled } from "../../kit/pulled";
import { brick, ink, line, quiet, spruce } from "../../kit/tokens";
import { degrees, millimetres } from "../../kit/words";
import type { ShotDesk } from "../../shots/draft";
import { text } from "../../text";

const [SIDE, MIDDLE] = [164, 82];
const STEP_MM = 0.5;

/** What stands beside the circle: a word and its number, the wrong ones marked. */
function Told({ y, label, children, wrong }: { y: number; label: string; children: string; wrong?: boolean }) {
  return (
    <>
      <text x={178} y={y} fontSize={11} fill={quiet}>
        {label}
      </text>
      <text x={178} y={y + 15} fontSize={13} fontWeight={650} fill={wrong ? brick : ink}>
        {wrong ? `! ${children}` : children}
      </text>
    </>
  );
}

/** The back within the image circle, as it is shifted: taken and moved for rise, fall and cross. */
export function Circle({ desk }: { desk: ShotDesk }) {
  const { movements: own } = desk.shot;
  const { movements: sheet, lens } = desk.sheet;
  const { left, right, top, bottom } = lens.window_mm;
  const off = desk.row.locked;
  const circle = own.image_circle_mm ?? null;
  const reach = Math.max(circle ?? 0, sheet.circle_used_mm) / 2;
  const k = (SIDE - 8) / 2 / reach;
  const from = useRef<[number, number] | null>(null);
  const to = ([x, y]: [number, number]) => {
    from.current ??= [x / k - own.cross_mm, -y / k - own.rise_mm];
    const tenth = (mm: number) => Math.round(mm * 10) / 10;
    return {
      kind: "shift_to",
      counted: "mm",
      cross: tenth(x / k - from.current[0]),
      rise: tenth(-y / k - from.current[1]),
    } as const;
  };
  const pulled = usePulled(
    off,
    (place) => desk.drag(to(place)),
    (place) => {
      desk.commit(text.movements.riseAndCross, to(place));
      from.current = null;
    },
    () => {
      from.current = null;
      desk.drop();
    },
  );
  const words = text.movements.riseCross(millimetres(own.rise_mm), millimetres(own.cross_mm));
  const same = [
    sheet.same_as_pitch_deg &&
      `${degrees(Math.abs(sheet.same_as_pitch_deg))} ${sheet.same_as_pitch_deg > 0 ? text.everywhere.up : text.everywhere.down}`,
    sheet.same_as_turn_deg &&
      `${degrees(Math.abs(sheet.same_as_turn_deg))} ${sheet.same_as_turn_deg > 0 ? text.everywhere.right : text.everywhere.left}`,
  ].filter(Boolean);
  return (
    <svg viewBox={`0 0 272 ${SIDE}`} role="group" aria-label={text.movements.theBackInTheImage}>
      <g transform={`translate(${MIDDLE} ${MIDDLE})`}>
        <path d={`M${-MIDDLE} 0H${MIDDLE}M0 ${-MIDDLE}V${MIDDLE}`} stroke={line} />
        {circle !== null && <circle r={(circle / 2) * k} fill="#fff" stroke={ink} strokeWidth={1.2} />}
        <circle
          r={(sheet.circle_used_mm / 2) * k}
          fill="none"
          stroke={sheet.circle_ok ? "#8b8f8d" : brick}
          strokeDasharray="3 3"
        />
        <g
          role="slider"
          aria-label={text.movements.riseAndCrossInTheImage}
          aria-valuenow={own.rise_mm}
          aria-valuetext={words}
          aria-disabled={off}
          tabIndex={off ? -1 : 0}
          style={{ cursor: off ? "default" : "move", touchAction: "none" }}
          onKeyDown={(event) => {
            const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
            if (!step || off) return;
            event.preventDefault();
            event.stopPropagation();
            const by = STEP_MM * (event.shiftKey ? 10 : 1);
            desk.commit(text.movements.riseAndCross, ({ movements: now }) => ({
              kind: "shift_to",
              counted: "mm",
              cross: now.cross_mm + step[0]! * by,
              rise: now.rise_mm + step[1]! * by,
            }));
          }}
          {...pulled}
        >
          <rect
            x={left * k}
            y={-top * k}
            width={(right - left) * k}
            height={(top - bottom) * k}
            fill={spruce}
            fillOpacity={0.12}
            stroke={spruce}
            strokeWidth={2}
          />
        </g>
        <path
          d={`M${((left + right) / 2) * k} ${(-(top + bottom) / 2) * k}m-5 0h10m-5 -5v10`}
          stroke={spruce}
          strokeWidth={1.6}
          pointerEvents="none"
        />
        {circle !== null && (
          <text y={(-circle / 2) * k + 12} fontSize={11} textAnchor="middle" fill={quiet} pointerEvents="none">
            {Number(circle.toFixed(1))}
          </text>
        )}
      </g>
      <Told y={26} label={text.movements.uprights} wrong={sheet.uprights !== "true" && !sheet.can_straighten}>
        {sheet.uprights.startsWith("lean") ? sheet.uprights.split(" at ")[0]! : sheet.uprights}
      </Told>
      {sheet.circle_left_mm != null ? (
        <Told
          y={68}
          label={sheet.circle_ok ? text.movements.circleLeft : text.movements.beyondTheCircle}
          wrong={!sheet.circle_ok}
        >
          {millimetres(Math.abs(sheet.circle_left_mm))}
        </Told>
      ) : (
        <Told y={68} label={text.movements.circleNeeded}>
          {millimetres(sheet.circle_used_mm)}
        </Told>
      )}
      {same.length > 0 && (
        <Told y={110} label={text.movements.sameAs}>
          {same.join(", ")}
        </Told>
      )}
    </svg>
  );
}
