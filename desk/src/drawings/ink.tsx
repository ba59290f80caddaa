import { memo, type ReactNode } from "react";
import type { Drawing, Outlines } from "../api/client";
import { card, ink, line, spruce } from "../kit/tokens";
import { bands, lines, path, paths } from "./outlines";
import type { Eye } from "./Paper";

interface CutProps {
  eye: Eye;
  cut: Outlines;
  open: Outlines;
  beyond: readonly number[];
}

/** Whether two looks at a paper put everything at the same place. */
export const sameEye = (a: Eye, b: Eye): boolean => {
  const [ax, ay] = a.at(0, 0);
  const [bx, by] = b.at(0, 0);
  return a.scale === b.scale && ax === bx && ay === by && a.width === b.width && a.height === b.height;
};

/**
 * What the cut goes through: solid where it is closed, heavy where it is a sheet, with a band behind that; the rest
 * thin. Thousands of lines: drawn again only where they or the look at them are other ones.
 */
export const CutLines = memo(
  function CutLines({ eye, cut, open, beyond }: CutProps) {
    return (
      <g>
        <path d={lines(eye, beyond)} fill="none" stroke="#8b8f8d" strokeWidth={0.7} />
        <path data-cut="behind" d={bands(eye, open)} fill="#c4c6c5" />
        <path
          data-cut="solid"
          d={paths(eye, cut, true)}
          fill="#333736"
          fillRule="nonzero"
          stroke="#333736"
          strokeWidth={0.5}
        />
        <path data-cut="line" d={paths(eye, open, false)} fill="none" stroke="#333736" strokeWidth={1.6} />
      </g>
    );
  },
  (a, b) => a.cut === b.cut && a.open === b.open && a.beyond === b.beyond && sameEye(a.eye, b.eye),
);

export function Hatch({ id }: { id: string }) {
  return (
    <pattern id={id} width={7} height={7} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <line x1={0} y1={0} x2={0} y2={7} stroke={spruce} strokeWidth={0.9} opacity={0.55} />
    </pattern>
  );
}

/** All of a sheet to the left of a line: what a cutting plane takes away is shown pale. */
function takenAway(eye: Eye, [x0, y0, x1, y1]: readonly [number, number, number, number]): string {
  const [dx, dy] = [x0 - x1, y0 - y1];
  const [ox, oy] = [dy, -dx];
  const far = 4;
  const corner = (x: number, y: number) =>
    eye
      .at(x, y)
      .map((v) => v.toFixed(1))
      .join(" ");
  return `M${corner(x0 + far * dx, y0 + far * dy)}L${corner(x1 - far * dx, y1 - far * dy)}L${corner(x1 - far * dx + far * ox, y1 - far * dy + far * oy)}L${corner(x0 + far * dx + far * ox, y0 + far * dy + far * oy)}Z`;
}

/** The shot on a drawing: wedge pale, sharp zone hatched, focus heavy, aim a cross on a chain line. */
export const Sight = memo(
  function Sight({ eye, drawing, hatch }: { eye: Eye; drawing: Drawing; hatch: string }) {
    const [sx, sy] = eye.at(...drawing.stand);
    const [ax, ay] = eye.at(...drawing.aim);
    return (
      <g pointerEvents="none">
        {drawing.cutting_line && (
          <path data-taken-away d={takenAway(eye, drawing.cutting_line)} fill={card} fillOpacity={0.74} />
        )}
        <path d={path(eye, drawing.seen, true)} fill={spruce} fillOpacity={0.09} />
        <path d={path(eye, drawing.sharp, true)} fill={`url(#${hatch})`} />
        <path d={path(eye, drawing.sharp, true)} fill={spruce} fillOpacity={0.05} />
        {drawing.sides.map((side) => (
          <path key={side.join()} d={path(eye, side)} stroke={spruce} strokeWidth={1} fill="none" />
        ))}
        <line x1={sx} y1={sy} x2={ax} y2={ay} stroke={spruce} strokeWidth={1} strokeDasharray="10 3 2 3" />
        <path d={path(eye, drawing.near)} stroke={spruce} strokeWidth={1.1} strokeDasharray="2 3" fill="none" />
        {drawing.far && (
          <path d={path(eye, drawing.far)} stroke={spruce} strokeWidth={1.1} strokeDasharray="2 3" fill="none" />
        )}
        <path d={path(eye, drawing.focus)} stroke={spruce} strokeWidth={3} fill="none" />
      </g>
    );
  },
  (a, b) => a.drawing === b.drawing && a.hatch === b.hatch && sameEye(a.eye, b.eye),
);

interface TripodProps {
  eye: Eye;
  x: number;
  y: number;
  toward: [number, number];
  number: number | string | null;
  on: boolean;
  colour?: string;
  opacity?: number;
  size?: number;
}

/** A tripod seen from above, with the shot's frame number. `toward`: a point on paper the lens looks to. */
export function Tripod({ eye, x, y, toward, number, on, colour, opacity = 1, size = 1 }: TripodProps) {
  const [px, py] = eye.at(x, y);
  const [tx, ty] = eye.at(...toward);
  const length = Math.hypot(tx - px, ty - py) || 1;
  const [ux, uy] = [(tx - px) / length, (ty - py) / length];
  const leg = (a: number, b: number) => (
    <line
      x1={px + (a * ux - b * uy) * 6 * size}
      y1={py + (a * uy + b * ux) * 6 * size}
      x2={px + (a * ux - b * uy) * 13 * size}
      y2={py + (a * uy + b * ux) * 13 * size}
    />
  );
  const ink = colour ?? (on ? spruce : "#6b6f6d");
  return (
    <g stroke={ink} strokeWidth={on ? 2 : 1.4} pointerEvents="none" opacity={opacity}>
      {leg(1, 0)}
      {leg(-0.5, 0.866)}
      {leg(-0.5, -0.866)}
      <circle cx={px} cy={py} r={6.5 * size} fill="#fff" />
      {number !== null && (
        <text
          x={px}
          y={py + 3.4 * size}
          textAnchor="middle"
          fontSize={9.5 * size}
          fontWeight={700}
          fill={on ? spruce : "#4a4d4b"}
          stroke="none"
        >
          {number}
        </text>
      )}
    </g>
  );
}

export function Cross({ eye, x, y }: { eye: Eye; x: number; y: number }) {
  const [px, py] = eye.at(x, y);
  return <path d={`M${px - 6} ${py}h12M${px} ${py - 6}v12`} stroke={spruce} strokeWidth={2} pointerEvents="none" />;
}

export function Tag({
  x,
  y,
  children,
  anchor = "start",
}: {
  x: number;
  y: number;
  children: ReactNode;
  anchor?: "start" | "middle" | "end";
}) {
  return (
    <text
      x={x}
      y={y}
      fontSize={11}
      fill={ink}
      textAnchor={anchor}
      stroke="#FAFAF9"
      strokeWidth={3}
      paintOrder="stroke"
      pointerEvents="none"
    >
      {children}
    </text>
  );
}

/** About as wide as words of 11 px are drawn: letters of Latin and its like, and those of the far east. */
const widthOf = (words: string) => [...words].reduce((wide, letter) => wide + (letter > "\u1100" ? 11 : 5.8), 0);

interface SlipProps {
  /** Where the slip begins; where it ends, with `end`. */
  x: number;
  /** The foot of its first line, and those of the others. */
  lines: { y: number; words: string }[];
  end?: boolean;
}

/** Paper under words in a drawing, so that no wall runs through them. */
export function Slip({ x, lines, end = false }: SlipProps) {
  const feet = lines.map(({ y }) => y);
  const wide = Math.max(0, ...lines.map(({ words }) => widthOf(words))) + 12;
  const [top, foot] = [Math.min(...feet) - 14, Math.max(...feet) + 5];
  return <rect x={end ? x - wide : x} y={top} width={wide} height={foot - top} rx={2} fill={card} stroke={line} />;
}
