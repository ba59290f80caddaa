import type { ReactNode } from "react";
import type { Drawing, Outlines } from "../api/client";
import { ink, spruce } from "../kit/tokens";
import { type Eye, lines, path, paths } from "./Paper";

/** What the cut goes through: solid where it is closed, heavy where it is a sheet; the rest thin. */
export function CutLines({ eye, cut, open, beyond }: { eye: Eye; cut: Outlines; open: Outlines; beyond: readonly number[] }) {
  return (
    <g>
      <path d={lines(eye, beyond)} fill="none" stroke="#8b8f8d" strokeWidth={0.7} />
      <path d={paths(eye, cut, true)} fill="#333736" fillRule="nonzero" stroke="#333736" strokeWidth={0.5} />
      <path d={paths(eye, open, false)} fill="none" stroke="#333736" strokeWidth={1.6} />
    </g>
  );
}

export function Hatch({ id }: { id: string }) {
  return (
    <pattern id={id} width={7} height={7} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <line x1={0} y1={0} x2={0} y2={7} stroke={spruce} strokeWidth={0.9} opacity={0.55} />
    </pattern>
  );
}

/** The shot on a drawing: wedge pale, sharp zone hatched, focus heavy, aim a cross on a chain line. */
export function Sight({ eye, drawing, hatch }: { eye: Eye; drawing: Drawing; hatch: string }) {
  const [sx, sy] = eye.at(...drawing.stand);
  const [ax, ay] = eye.at(...drawing.aim);
  return (
    <g pointerEvents="none">
      <path d={path(eye, drawing.seen, true)} fill={spruce} fillOpacity={0.09} />
      <path d={path(eye, drawing.sharp, true)} fill={`url(#${hatch})`} />
      <path d={path(eye, drawing.sharp, true)} fill={spruce} fillOpacity={0.05} />
      {drawing.edges.map(([x, y]) => {
        const [ex, ey] = eye.at(x, y);
        return <line key={`${x},${y}`} x1={sx} y1={sy} x2={ex} y2={ey} stroke={spruce} strokeWidth={1} />;
      })}
      <line x1={sx} y1={sy} x2={ax} y2={ay} stroke={spruce} strokeWidth={1} strokeDasharray="10 3 2 3" />
      <path d={path(eye, drawing.near)} stroke={spruce} strokeWidth={1.1} strokeDasharray="2 3" fill="none" />
      {drawing.far && <path d={path(eye, drawing.far)} stroke={spruce} strokeWidth={1.1} strokeDasharray="2 3" fill="none" />}
      <path d={path(eye, drawing.focus)} stroke={spruce} strokeWidth={3} fill="none" />
    </g>
  );
}

/** A tripod seen from above, with the shot's frame number. `toward`: a point on paper the lens looks to. */
export function Tripod({ eye, x, y, toward, number, on }: { eye: Eye; x: number; y: number; toward: [number, number]; number: number; on: boolean }) {
  const [px, py] = eye.at(x, y);
  const [tx, ty] = eye.at(...toward);
  const length = Math.hypot(tx - px, ty - py) || 1;
  const [ux, uy] = [(tx - px) / length, (ty - py) / length];
  const leg = (a: number, b: number) => <line x1={px + (a * ux - b * uy) * 6} y1={py + (a * uy + b * ux) * 6} x2={px + (a * ux - b * uy) * 13} y2={py + (a * uy + b * ux) * 13} />;
  const color = on ? spruce : "#6b6f6d";
  return (
    <g stroke={color} strokeWidth={on ? 2 : 1.4} pointerEvents="none">
      {leg(1, 0)}{leg(-0.5, 0.866)}{leg(-0.5, -0.866)}
      <circle cx={px} cy={py} r={6.5} fill="#fff" />
      <text x={px} y={py + 3.4} textAnchor="middle" fontSize={9.5} fontWeight={700} fill={color} stroke="none">{number}</text>
    </g>
  );
}

export function Cross({ eye, x, y }: { eye: Eye; x: number; y: number }) {
  const [px, py] = eye.at(x, y);
  return <path d={`M${px - 6} ${py}h12M${px} ${py - 6}v12`} stroke={spruce} strokeWidth={2} pointerEvents="none" />;
}

export function Tag({ x, y, children, anchor = "start" }: { x: number; y: number; children: ReactNode; anchor?: "start" | "middle" | "end" }) {
  return <text x={x} y={y} fontSize={11} fill={ink} textAnchor={anchor} stroke="#FAFAF9" strokeWidth={3} paintOrder="stroke" pointerEvents="none">{children}</text>;
}
