import { useRef } from "react";
import { type Project, useOffer } from "../../api/client";
import { ink, line, quiet, spruce } from "../../kit/tokens";

/** Names beside a staff, moved apart so that none lies on another. From the lowest up; `room` pixels each. */
export function apart(places: number[], room: number): number[] {
  const out = [...places];
  for (let n = 1; n < out.length; n += 1) out[n] = Math.min(out[n]!, out[n - 1]! - room);
  return out;
}

/** The heights that have names: the usual ones and the project's own, the lowest first. */
export function useMarks(project: Project): { name: string; height_m: number; own: boolean }[] {
  const { named_heights: named } = useOffer();
  return [...named.map((m) => ({ ...m, own: false })), ...project.habits.marks.map((m) => ({ ...m, own: true }))].sort((a, b) => a.height_m - b.height_m);
}

interface Props { project: Project; height: number; off: boolean; onDrag: (v: number) => void; onDone: (v: number) => void }

/** A levelling staff one slides the lens on, or puts it at a named height. */
export function Staff({ project, height, off, onDrag, onDone }: Props) {
  const held = useRef<{ y: number; height: number; last: number } | null>(null);
  const marks = useMarks(project);
  const top = height > 2.9 ? Math.ceil(height + 0.5) : 3;
  // As many marks as can be told apart: tenths on a small staff, tens on that of a tower.
  const coarse = 10 * Math.ceil(top / 60);
  const fine = top <= 4 ? 1 : top <= 30 ? 5 : 10 * coarse;
  const whole = top <= 6 ? 1 : top <= 30 ? 5 : coarse;
  const unit = 142 / top;
  const y = (h: number) => 156 - h * unit;
  const at = Math.max(8, Math.min(164, y(height)));
  const shown = marks.filter((m) => m.height_m >= 0 && m.height_m <= top);
  const names = apart(shown.map((m) => y(m.height_m)), 14);
  return (
    <g transform="translate(184 0)">
      <line x1={0} x2={0} y1={y(0)} y2={y(top)} stroke={ink} />
      {Array.from({ length: Math.floor((top * 10) / fine) + 1 }, (_, k) => k * fine).map((n) => (
        <line key={n} x1={0} x2={n % 10 === 0 ? 10 : n % 5 === 0 ? 7 : 4} y1={y(n / 10)} y2={y(n / 10)} stroke={ink} strokeWidth={0.8} />
      ))}
      {Array.from({ length: Math.floor(top / whole) }, (_, k) => (k + 1) * whole).map((n) => <text key={n} x={-6} y={y(n) + 4} fontSize={11} textAnchor="end" fill={quiet}>{n}</text>)}
      <line x1={-14} x2={84} y1={y(0)} y2={y(0)} stroke={ink} strokeWidth={3} />
      {shown.map((mark, n) => {
        const on = Math.abs(mark.height_m - height) < 0.005;
        return (
          <g key={mark.name} role="button" aria-label={`Lens at ${mark.name}, ${mark.height_m.toFixed(2)} m`} tabIndex={off ? -1 : 0} style={{ cursor: off ? "default" : "pointer" }}
            onClick={() => { if (!off) onDone(mark.height_m); }} onKeyDown={(e) => { if (!off && (e.key === "Enter" || e.key === " ")) { e.preventDefault(); e.stopPropagation(); onDone(mark.height_m); } }}>
            <path d={`M10 ${y(mark.height_m)}L20 ${names[n]!}`} stroke={line} fill="none" />
            <text x={22} y={names[n]! + 4} fontSize={11} fontWeight={on ? 700 : 400} fontStyle={mark.own ? "italic" : undefined} fill={on ? spruce : quiet}>{mark.name}</text>
            <rect x={18} y={names[n]! - 7} width={66} height={14} fill="transparent" />
          </g>
        );
      })}
      <g role="slider" aria-label="Lens height on the staff" aria-valuenow={Math.round(height * 100) / 100} tabIndex={off ? -1 : 0} style={{ cursor: off ? "default" : "ns-resize", touchAction: "none" }}
        onKeyDown={(e) => {
          const step = { ArrowUp: 0.05, ArrowDown: -0.05 }[e.key];
          if (step && !off) { e.preventDefault(); onDone(height + step); }
        }}
        onPointerDown={(e) => { if (!off) { e.currentTarget.setPointerCapture(e.pointerId); held.current = { y: e.clientY, height, last: height }; } }}
        onPointerMove={(e) => {
          const hold = held.current;
          if (!hold) return;
          const box = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
          hold.last = Math.round((hold.height - ((e.clientY - hold.y) * 272) / (box?.width ?? 272) / unit) * 100) / 100;
          onDrag(hold.last);
        }}
        onPointerUp={() => { if (held.current && held.current.last !== held.current.height) onDone(held.current.last); held.current = null; }}>
        <line x1={-12} x2={12} y1={at} y2={at} stroke={spruce} strokeWidth={2} />
        <circle cx={0} cy={at} r={7} fill="#fff" stroke={spruce} strokeWidth={2.4} />
        <rect x={-30} y={at - 12} width={42} height={24} fill="transparent" />
      </g>
    </g>
  );
}
