import type { Project } from "../api/client";
import { card, ink, quiet, spruce } from "../kit/tokens";
import { path } from "./outlines";
import type { Eye, Point } from "./Paper";
import { text } from "../text";

type Room = Project["places"]["rooms"][number];

/** Rooms on the level the plan is cut on, with their number in the project. */
export const roomsHere = (project: Project): { room: Room; n: number }[] =>
  project.places.rooms.map((room, n) => ({ room, n })).filter(({ room }) => room.level === project.plan_level);

/** The rooms of the plan's level: pale, under everything else. */
export function Rooms({ eye, project, chosen }: { eye: Eye; project: Project; chosen?: number | null }) {
  return (
    <g pointerEvents="none">
      {roomsHere(project).map(({ room, n }) => (
        <path
          key={n}
          d={path(eye, room.outline.flat(), true)}
          fill={n === chosen ? spruce : "#000"}
          fillOpacity={n === chosen ? 0.13 : 0.035}
          stroke={spruce}
          strokeWidth={n === chosen ? 1.4 : 0}
        />
      ))}
    </g>
  );
}

/** Their names, engraved in capitals as on a drawing. */
export function RoomNames({ eye, project }: { eye: Eye; project: Project }) {
  return (
    <g pointerEvents="none" fontSize={11} fill={quiet} letterSpacing="0.08em" style={{ fontStretch: "88%" }}>
      {roomsHere(project).map(({ room, n }) => {
        const [x, y] = eye.at(...project.room_marks[n]!.at);
        // A name that does not fit its room would lie on the next one; nearer by, it comes.
        const xs = room.outline.map(([across]) => across);
        if ((Math.max(...xs) - Math.min(...xs)) * eye.scale < room.name.length * 7) return null;
        return (
          <text key={n} x={x} y={y + 4} textAnchor="middle" stroke={card} strokeWidth={3} paintOrder="stroke">
            {room.name.toUpperCase()}
          </text>
        );
      })}
    </g>
  );
}

/** Stand-ins on the level of the plan, and the chosen one, seen from above as broken outlines. */
export function StandInOutlines({
  eye,
  project,
  chosen,
  by,
}: {
  eye: Eye;
  project: Project;
  chosen?: number | null;
  by?: Point;
}) {
  return (
    <g pointerEvents="none" fill="none" stroke={ink} strokeDasharray="4 3">
      {project.stand_in_marks.map((mark, n) => {
        const on = n === chosen;
        if (!on && !mark.here) return null;
        const shift = on && by ? by : [0, 0];
        const outline = mark.outline.map(([x, y]) => [x + shift[0]!, y + shift[1]!]);
        return (
          <path key={n} d={path(eye, outline.flat(), true)} stroke={on ? spruce : ink} strokeWidth={on ? 1.8 : 0.9} />
        );
      })}
    </g>
  );
}

/** Where the scout view stands and looks. */
export function ScoutMark({ eye, at, toward }: { eye: Eye; at: Point; toward: Point }) {
  const [px, py] = eye.at(...at);
  const [tx, ty] = eye.at(...toward);
  const length = Math.hypot(tx - px, ty - py) || 1;
  return (
    <g pointerEvents="none" role="img" aria-label={text.everywhere.scoutView}>
      <line
        x1={px}
        y1={py}
        x2={px + ((tx - px) / length) * 26}
        y2={py + ((ty - py) / length) * 26}
        stroke={ink}
        strokeWidth={1.6}
      />
      <circle cx={px} cy={py} r={5} fill={ink} />
    </g>
  );
}

/** North on a plan: `deg` clockwise from straight up. */
export function North({ width, deg }: { width: number; deg: number }) {
  return (
    <g
      transform={`translate(${width - 24} 20)`}
      role="img"
      aria-label={deg === 0 ? text.drawings.northIsUp : text.drawings.northLiesClockwiseFromUp(deg.toFixed(1))}
    >
      <circle r={13} fill="#fff" stroke={ink} strokeWidth={0.8} />
      <g transform={`rotate(${deg})`}>
        <path d="M0 -11L3.4 1H-3.4Z" fill={ink} />
        <text y={10} textAnchor="middle" fontSize={8} fontWeight={700} fill={ink}>
          {text.everywhere.northLetter}
        </text>
      </g>
    </g>
  );
}
