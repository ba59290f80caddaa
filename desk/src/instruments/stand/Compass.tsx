import { useRef } from "react";
import { useAhead } from "../../kit/ahead";
import { dialReading, onDial } from "../../kit/polar";
import { ink, spruce } from "../../kit/tokens";
import type { ShotDesk } from "../../shots/draft";
import { text } from "../../text";

const NAMES = [
  ["N", 0],
  ["E", 90],
  ["S", 180],
  ["W", 270],
] as const;

/** A compass one turns: the angle of view lies on it. */
export function Compass({ desk, off, half }: { desk: ShotDesk; off: boolean; half: number }) {
  const node = useRef<SVGGElement>(null);
  const held = useRef<number | null>(null);
  const heading = desk.sheet.pose.heading_deg;
  const [reached, setAhead, forget] = useAhead(heading);
  const [r, cx, cy] = [66, 84, 84];
  const read = (event: React.PointerEvent) => {
    const box = node.current?.querySelector("circle")?.getBoundingClientRect();
    return box
      ? dialReading(event.clientX - box.left - box.width / 2, event.clientY - box.top - box.height / 2)
      : heading;
  };
  const to = (deg: number) => ({ kind: "face", heading_deg: Math.round(deg * 10) / 10, pitch_deg: null }) as const;
  const [lx, ly] = onDial(heading - half, r);
  const [rx, ry] = onDial(heading + half, r);
  const [ax, ay] = onDial(heading, r);
  return (
    <g
      ref={node}
      transform={`translate(${cx} ${cy})`}
      style={{ cursor: off ? "default" : "grab", touchAction: "none" }}
      role="slider"
      aria-label={text.stand.headingOnTheCompass}
      aria-valuenow={Math.round(heading)}
      aria-valuemin={0}
      aria-valuemax={360}
      tabIndex={off ? -1 : 0}
      onKeyDown={(e) => {
        const step = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
        if (step && !off) {
          e.preventDefault();
          setAhead(reached + step);
          desk.commit(text.stand.heading, to(reached + step));
        }
      }}
      onPointerDown={(e) => {
        if (!off) {
          forget();
          e.currentTarget.setPointerCapture(e.pointerId);
          held.current = read(e) - heading;
        }
      }}
      onPointerMove={(e) => {
        if (held.current !== null) desk.drag(to(read(e) - held.current));
      }}
      onPointerUp={(e) => {
        if (held.current !== null) desk.commit(text.stand.heading, to(read(e) - held.current));
        held.current = null;
      }}
    >
      <circle r={r} fill="#fff" stroke={ink} />
      <path
        d={`M0 0L${lx} ${ly}A${r} ${r} 0 ${half > 90 ? 1 : 0} 1 ${rx} ${ry}Z`}
        fill={spruce}
        fillOpacity={0.14}
        stroke={spruce}
      />
      <line x2={ax} y2={ay} stroke={spruce} strokeDasharray="9 3 2 3" />
      {Array.from({ length: 36 }, (_, n) => {
        const [x0, y0] = onDial(n * 10, r);
        const [x1, y1] = onDial(n * 10, r - (n % 9 === 0 ? 8 : 4));
        return <line key={n} x1={x0} y1={y0} x2={x1} y2={y1} stroke={ink} strokeWidth={0.8} />;
      })}
      {NAMES.map(([name, deg]) => {
        const [x, y] = onDial(deg, r - 16);
        return (
          <text key={name} x={x} y={y + 4} fontSize={12} fontWeight={700} textAnchor="middle" fill={ink}>
            {name}
          </text>
        );
      })}
      <circle r={5} fill="#fff" stroke={spruce} strokeWidth={2.4} />
    </g>
  );
}
