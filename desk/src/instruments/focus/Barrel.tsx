import { useRef } from "react";
import { useAhead } from "../../kit/ahead";
import { usePulled } from "../../kit/pulled";
import { useLength } from "../../kit/ruler";
import { edgePrint, film, spruce } from "../../kit/tokens";
import type { ShotDesk } from "../../shots/draft";
import { text } from "../../text";

const [WIDTH, LEFT, HIGH] = [252, 6, 84];
const x = (at: number) => LEFT + at * WIDTH;

/** The brackets of the stop in use, on both sides of the focus mark: pulled apart it is stopped down. */
function Brackets({ desk, off }: { desk: ShotDesk; off: boolean }) {
  const { barrel, stop } = desk.sheet.focus;
  const to = ([px]: [number, number]) => ({ kind: "stop_by_bracket", at: (px - LEFT) / WIDTH }) as const;
  const pulled = usePulled(
    off,
    (place) => desk.drag(to(place)),
    (place) => desk.commit(text.everywhere.aperture, to(place)),
    desk.drop,
  );
  return (
    <>
      {[barrel.sharp_from_at, barrel.sharp_to_at].map((at, n) => (
        <g
          key={n}
          role="slider"
          aria-label={n === 0 ? text.focus.nearBracketOfTheStop : text.focus.farBracketOfTheStop}
          aria-valuenow={desk.shot.focus.f_number ?? 0}
          aria-valuetext={stop ?? text.everywhere.everythingSharp}
          tabIndex={off ? -1 : 0}
          style={{ cursor: off ? "default" : "ew-resize", touchAction: "none" }}
          aria-disabled={off}
          onKeyDown={(event) => {
            const out = { ArrowLeft: n === 0 ? 1 : -1, ArrowRight: n === 0 ? -1 : 1 }[event.key];
            if (!out || off) return;
            event.preventDefault();
            event.stopPropagation();
            desk.commit(text.everywhere.aperture, ({ focus }) => ({
              kind: "stop_to",
              f_number: Math.min(64, Math.max(1, (focus.f_number ?? 8) * 2 ** (out / 6))),
            }));
          }}
          {...pulled}
        >
          <path d={`M${x(at)} 46v14${n === 0 ? "h5" : "h-5"}`} fill="none" stroke="#7FD0B0" strokeWidth={2.4} />
          <rect x={x(at) - 9} y={46} width={18} height={20} fill="transparent" />
        </g>
      ))}
    </>
  );
}

/** A lens barrel: distance in metres and feet against stop brackets, so the sharp zone reads as on a real lens. */
export function Barrel({ desk, off }: { desk: ShotDesk; off: boolean }) {
  const length = useLength();
  const { barrel, hyperfocal_m } = desk.sheet.focus;
  const [reached, setAhead, forget] = useAhead(barrel.focus_at);
  const held = useRef<{ x: number; from: number; last: number | null } | null>(null);
  const to = (at: number) => ({ kind: "focus_on_barrel", at }) as const;
  // The two marks of the stop in use come first; where they stand close together, one label serves both.
  const [own, other] = barrel.stops;
  const oneLabel = own !== undefined && other?.label === own.label && Math.abs(x(other.at) - x(own.at)) < 24;
  return (
    <svg viewBox={`0 0 272 ${HIGH}`} role="group" aria-label={text.focus.lensBarrel}>
      <rect width={272} height={HIGH} rx={3} fill={film} />
      <g fontSize={11} style={{ fontStretch: "80%" }} textAnchor="middle">
        {barrel.feet
          .filter((m) => m.at > 0.03 && m.at < 0.93)
          .map((m) => (
            <text key={m.label} x={x(m.at)} y={15} fill="#D9A85F">
              {m.label}
            </text>
          ))}
        {barrel.metres
          .filter((m) => m.at > 0.03 && m.at < 0.93)
          .map((m) => (
            <g key={m.label}>
              <text x={x(m.at)} y={32} fill="#fff" fontWeight={600}>
                {m.label}
              </text>
              <line x1={x(m.at)} x2={x(m.at)} y1={36} y2={42} stroke="#fff" />
            </g>
          ))}
        <text x={264} y={15} fill="#D9A85F" textAnchor="end">
          {text.focus.ft}
        </text>
        <text x={264} y={32} fill="#fff" textAnchor="end">
          {text.focus.m}
        </text>
        <line x1={4} x2={268} y1={46} y2={46} stroke="#6d7371" />
        <rect
          x={x(Math.max(0, barrel.sharp_from_at))}
          width={Math.max(0, x(Math.min(1, barrel.sharp_to_at)) - x(Math.max(0, barrel.sharp_from_at)))}
          y={42}
          height={8}
          fill="#4FA283"
        />
        {desk.sheet.focus.stack_at
          .filter((at) => at > 0 && at < 1)
          .map((at) => (
            <line key={at} data-stacked x1={x(at)} x2={x(at)} y1={50} y2={62} stroke={edgePrint} strokeWidth={1.4} />
          ))}
        <path d={`M${x(barrel.focus_at)} 41l-5 10h10Z`} fill="#fff" />
        {barrel.stops.map((m, n) => (
          <g key={n}>
            {n > 1 && <line x1={x(m.at)} x2={x(m.at)} y1={50} y2={57} stroke="#9aa09e" />}
            {!(oneLabel && n < 2) && (
              <text x={x(m.at)} y={76} fill={n < 2 ? "#7FD0B0" : "#B9BEBC"} fontWeight={n < 2 ? 700 : 400}>
                {m.label}
              </text>
            )}
          </g>
        ))}
        {oneLabel && (
          <text x={x(barrel.focus_at)} y={76} fill="#7FD0B0" fontWeight={700}>
            {own?.label}
          </text>
        )}
        {barrel.stops.length === 0 && (
          <text x={136} y={72} fill={edgePrint}>
            {text.everywhere.everythingSharp}
          </text>
        )}
      </g>
      <rect
        x={0.5}
        y={0.5}
        width={271}
        height={43}
        fill="transparent"
        stroke={spruce}
        strokeOpacity={0}
        role="slider"
        aria-label={text.focus.focusOnTheLens}
        aria-valuenow={desk.shot.focus.distance_m}
        aria-valuetext={length(desk.shot.focus.distance_m)}
        aria-disabled={off}
        tabIndex={off ? -1 : 0}
        style={{ cursor: off ? "default" : "ew-resize", touchAction: "none" }}
        onKeyDown={(e) => {
          const step = { ArrowLeft: -0.01, ArrowRight: 0.01 }[e.key];
          if (step && !off) {
            e.preventDefault();
            setAhead(reached + step);
            desk.commit(text.focus.focus, to(reached + step));
          }
        }}
        onPointerDown={(e) => {
          if (!off) {
            forget();
            e.currentTarget.setPointerCapture(e.pointerId);
            held.current = { x: e.clientX, from: barrel.focus_at, last: null };
          }
        }}
        onPointerMove={(e) => {
          const hold = held.current;
          if (!hold) return;
          hold.last =
            hold.from +
            ((e.clientX - hold.x) * 272) / e.currentTarget.ownerSVGElement!.getBoundingClientRect().width / WIDTH;
          desk.drag(to(hold.last));
        }}
        onPointerUp={() => {
          if (held.current?.last != null) desk.commit(text.focus.focus, to(held.current.last));
          held.current = null;
        }}
      />
      {hyperfocal_m != null && <Brackets desk={desk} off={off} />}
    </svg>
  );
}
