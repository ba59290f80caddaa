import { useRef } from "react";
import { type Project, type Ruler, useOffer } from "../../api/client";
import { useAhead } from "../../kit/ahead";
import { fine, useLength, useRuler } from "../../kit/ruler";
import { ink, line, quiet, spruce } from "../../kit/tokens";
import { text } from "../../text";

/** Names beside a staff, moved apart so that none lies on another. From the lowest up; `room` pixels each. */
export function apart(places: number[], room: number): number[] {
  const out = [...places];
  for (let n = 1; n < out.length; n += 1) out[n] = Math.min(out[n]!, out[n - 1]! - room);
  return out;
}

/** The heights that have names: the usual ones and the project's own, the lowest first. */
export function useMarks(project: Project): { name: string; height_m: number; own: boolean }[] {
  const { named_heights: named } = useOffer();
  return [...named.map((m) => ({ ...m, own: false })), ...project.habits.marks.map((m) => ({ ...m, own: true }))].sort(
    (a, b) => a.height_m - b.height_m,
  );
}

/** How long a staff is drawn for a height, and how far apart its numbers are: the usual one, else up to six numbers. */
function lengthOf(ruler: Ruler, height: number): [number, number] {
  let whole = ruler.mark_m;
  if (height <= ruler.staff_m - whole / 10) return [ruler.staff_m, whole];
  while (height + whole / 2 > 6 * whole) whole *= 5;
  return [Math.ceil(height / whole + 0.5) * whole, whole];
}

interface Props {
  project: Project;
  height: number;
  off: boolean;
  onDrag: (v: number) => void;
  onDone: (v: number) => void;
}

/** A levelling staff one slides the lens on, or puts it at a named height. */
export function Staff({ project, height, off, onDrag, onDone }: Props) {
  const held = useRef<{ y: number; height: number; last: number } | null>(null);
  const marks = useMarks(project);
  const ruler = useRuler();
  const length = useLength();
  const [reached, setAhead, forget] = useAhead(height);
  const [top, whole] = lengthOf(ruler, height);
  // As many marks as can be told apart: ten to a number on a short staff, two on that of a tower.
  const tenths = top / whole < 4.5 ? 10 : 2;
  const unit = 142 / top;
  const y = (h: number) => 156 - h * unit;
  const at = Math.max(8, Math.min(164, y(height)));
  const shown = marks.filter((m) => m.height_m >= 0 && m.height_m <= top);
  const names = apart(
    shown.map((m) => y(m.height_m)),
    14,
  );
  return (
    <g transform="translate(184 0)">
      <line x1={0} x2={0} y1={y(0)} y2={y(top)} stroke={ink} />
      {Array.from({ length: Math.round((top / whole) * tenths) + 1 }, (_, n) => (
        <line
          key={n}
          x1={0}
          x2={n % tenths === 0 ? 10 : (2 * n) % tenths === 0 ? 7 : 4}
          y1={y((n * whole) / tenths)}
          y2={y((n * whole) / tenths)}
          stroke={ink}
          strokeWidth={0.8}
        />
      ))}
      {Array.from({ length: Math.round(top / whole) }, (_, k) => (k + 1) * whole).map((n) => (
        <text key={n} x={-6} y={y(n) + 4} fontSize={11} textAnchor="end" fill={quiet}>
          {Number((n / ruler.metres).toFixed(1))}
        </text>
      ))}
      <line x1={-14} x2={84} y1={y(0)} y2={y(0)} stroke={ink} strokeWidth={3} />
      {shown.map((mark, n) => {
        const words = length(mark.height_m);
        const on = words === length(height);
        return (
          <g
            key={mark.name}
            role="button"
            aria-label={text.stand.lensAt(mark.name === words ? words : `${mark.name}, ${words}`)}
            tabIndex={off ? -1 : 0}
            style={{ cursor: off ? "default" : "pointer" }}
            onClick={() => {
              if (!off) onDone(mark.height_m);
            }}
            onKeyDown={(e) => {
              if (!off && (e.key === "Enter" || e.key === " ")) {
                e.preventDefault();
                e.stopPropagation();
                onDone(mark.height_m);
              }
            }}
          >
            <path d={`M10 ${y(mark.height_m)}L20 ${names[n]!}`} stroke={line} fill="none" />
            <text
              x={22}
              y={names[n]! + 4}
              fontSize={11}
              fontWeight={on ? 700 : 400}
              fontStyle={mark.own ? "italic" : undefined}
              fill={on ? spruce : quiet}
            >
              {mark.name}
            </text>
            <rect x={18} y={names[n]! - 7} width={66} height={14} fill="transparent" />
          </g>
        );
      })}
      <g
        role="slider"
        aria-label={text.stand.lensHeightOnTheStaff}
        aria-valuenow={Number(height.toFixed(fine(ruler)))}
        tabIndex={off ? -1 : 0}
        style={{ cursor: off ? "default" : "ns-resize", touchAction: "none" }}
        onKeyDown={(e) => {
          const step = { ArrowUp: 1, ArrowDown: -1 }[e.key];
          if (step && !off) {
            e.preventDefault();
            setAhead(reached + step * ruler.step_m);
            onDone(reached + step * ruler.step_m);
          }
        }}
        onPointerDown={(e) => {
          if (!off) {
            forget();
            e.currentTarget.setPointerCapture(e.pointerId);
            held.current = { y: e.clientY, height, last: height };
          }
        }}
        onPointerMove={(e) => {
          const hold = held.current;
          if (!hold) return;
          const box = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
          hold.last = Number(
            (hold.height - ((e.clientY - hold.y) * 272) / (box?.width ?? 272) / unit).toFixed(fine(ruler)),
          );
          onDrag(hold.last);
        }}
        onPointerUp={() => {
          if (held.current && held.current.last !== held.current.height) onDone(held.current.last);
          held.current = null;
        }}
      >
        <line x1={-12} x2={12} y1={at} y2={at} stroke={spruce} strokeWidth={2} />
        <circle cx={0} cy={at} r={7} fill="#fff" stroke={spruce} strokeWidth={2.4} />
        <rect x={-30} y={at - 12} width={42} height={24} fill="transparent" />
      </g>
    </g>
  );
}
