import { type KeyboardEvent, useEffect, useRef } from "react";
import { AngleTo } from "../../api/limits";
import { useAhead } from "../../kit/ahead";
import { dialReading, onDial } from "../../kit/polar";
import { usePulled } from "../../kit/pulled";
import { useLatest } from "../../kit/remembered";
import { useLength } from "../../kit/ruler";
import { ink, spruce } from "../../kit/tokens";
import { degrees } from "../../kit/words";
import type { ShotDesk } from "../../shots/draft";
import { text } from "../../text";

type Prime = ShotDesk["sheet"]["lens"]["primes"][number];
const [STRAIGHT_R, ROUND_R] = [124, 66];

/**
 * Which primes have room for their name where their line ends: the one in use first, then the wider before the longer.
 */
function named(primes: Prime[], focal: number, R: number): Map<Prime, [number, number]> {
  const put = new Map<Prime, [number, number]>();
  const inUse = (prime: Prime) => Math.abs(prime.focal_length_mm - focal) < 1e-6;
  for (const prime of [...primes].sort(
    (a, b) => Number(inUse(b)) - Number(inUse(a)) || a.focal_length_mm - b.focal_length_mm,
  )) {
    const [tx, ty] = onDial(prime.angle_deg / 2, R + 13);
    if (![...put.values()].some(([x, y]) => Math.abs(x - tx) < 19 && Math.abs(y - ty) < 12)) put.set(prime, [tx, ty]);
  }
  return put;
}

/** Past half a turn the fan needs room below its middle too. */
const HALF_TURN = 175;

/** The angles of view there are primes for, drawn as a fan; its sides are pulled. */
export function Fan({ desk, angle }: { desk: ShotDesk; angle: number }) {
  const off = desk.row.locked;
  const { primes } = desk.sheet.lens;
  const focal = desk.shot.lens.focal_length_mm;
  const put = (mm: number) => desk.commit(text.everywhere.focalLength, { lens: { focal_length_mm: mm } });
  const round = angle > HALF_TURN;
  const R = round ? ROUND_R : STRAIGHT_R;
  const names = named(primes, focal, R);
  const [lx, ly] = onDial(-angle / 2, R);
  const [rx, ry] = onDial(angle / 2, R);
  const arc = `A${R} ${R} 0 ${angle > 180 ? 1 : 0} 1 ${rx} ${ry}`;
  const wheel = useRef<SVGSVGElement>(null);
  const step = useLatest((by: 1 | -1) => {
    if (!off)
      desk.commit(by > 0 ? text.everywhere.nextLongerPrime : text.everywhere.nextShorterPrime, {
        kind: "prime_step",
        by,
      });
  });
  useEffect(() => {
    const node = wheel.current;
    const turned = (event: WheelEvent) => {
      event.preventDefault();
      if (event.deltaY !== 0) step.current(event.deltaY < 0 ? 1 : -1);
    };
    node?.addEventListener("wheel", turned, { passive: false });
    return () => node?.removeEventListener("wheel", turned);
  }, [step]);
  return (
    <svg ref={wheel} viewBox="0 0 272 178" role="group" aria-label={text.lens.fanOfAnglesOfView}>
      <g transform={round ? "translate(136 88)" : "translate(136 168)"}>
        <path d={`M0 0L${lx} ${ly}${arc}Z`} fill={spruce} fillOpacity={0.12} />
        {primes.map((prime) => {
          const on = Math.abs(prime.focal_length_mm - focal) < 1e-6;
          const [x0, y0] = onDial(-prime.angle_deg / 2, R);
          const [x1, y1] = onDial(prime.angle_deg / 2, R);
          const at = names.get(prime);
          return (
            <g
              key={prime.focal_length_mm}
              role="button"
              aria-label={`${prime.focal_length_mm} mm`}
              aria-disabled={off}
              tabIndex={off ? -1 : 0}
              style={{ cursor: off ? "default" : "pointer" }}
              onClick={() => {
                if (!off) put(prime.focal_length_mm);
              }}
              onKeyDown={(e) => {
                if (!off && (e.key === "Enter" || e.key === " ")) {
                  e.preventDefault();
                  e.stopPropagation();
                  put(prime.focal_length_mm);
                }
              }}
            >
              <path
                d={`M${x0} ${y0}L0 0L${x1} ${y1}`}
                fill="none"
                stroke={on ? spruce : "#a9adab"}
                strokeWidth={on ? 2 : 0.9}
              />
              <path d={`M0 0L${x1} ${y1}`} stroke="transparent" strokeWidth={9} fill="none" />
              {at && (
                <text
                  x={at[0]}
                  y={at[1] + 4}
                  fontSize={11}
                  fontWeight={on ? 700 : 400}
                  textAnchor="middle"
                  fill={on ? spruce : ink}
                  style={{ fontStretch: "80%" }}
                >
                  {prime.focal_length_mm}
                </text>
              )}
              {at && <rect x={at[0] - 12} y={at[1] - 12} width={24} height={24} fill="transparent" />}
            </g>
          );
        })}
        <path d={`M${lx} ${ly}L0 0L${rx} ${ry}`} fill="none" stroke={spruce} strokeWidth={2.2} />
        <path d={`M${lx} ${ly}${arc}`} fill="none" stroke={spruce} />
        <FanSide desk={desk} angle={angle} side="left" at={[lx, ly]} />
        <FanSide desk={desk} angle={angle} side="right" at={[rx, ry]} />
        <line x1={-24} x2={24} y1={2} y2={2} stroke={ink} strokeWidth={4} />
        <text
          y={-R / 2}
          fontSize={14}
          fontWeight={700}
          textAnchor="middle"
          fill={spruce}
          stroke="#fff"
          strokeWidth={4}
          paintOrder="stroke"
        >
          {degrees(angle)}
        </text>
      </g>
    </svg>
  );
}

/** A side of the fan, to be pulled to another angle. */
function FanSide({
  desk,
  angle,
  side,
  at: [x, y],
}: {
  desk: ShotDesk;
  angle: number;
  side: "left" | "right";
  at: [number, number];
}) {
  const off = desk.row.locked;
  const [reached, setAhead, forget] = useAhead(angle);
  const to = (deg: number) =>
    ({
      kind: "angle_to",
      side: "across",
      angle_deg: Math.min(Math.max(deg, AngleTo.angle_deg.min), AngleTo.angle_deg.max),
    }) as const;
  const read = ([px, py]: [number, number]) => {
    const half = dialReading(px, py);
    return 2 * (half > 180 ? 360 - half : half);
  };
  const pulled = usePulled(
    off,
    (place) => desk.drag(to(read(place))),
    (place) => {
      forget();
      desk.commit(text.lens.angleOfView, to(read(place)));
    },
    desk.drop,
  );
  const key = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (!by || off) return;
    event.preventDefault();
    event.stopPropagation();
    setAhead(reached + by);
    desk.commit(text.lens.angleOfView, to(reached + by));
  };
  return (
    <g
      role="slider"
      aria-label={text.lens.angleOfViewSide(side)}
      aria-valuenow={Number(angle.toFixed(1))}
      aria-disabled={off}
      tabIndex={off ? -1 : 0}
      style={{ cursor: off ? "default" : "ew-resize", touchAction: "none" }}
      onKeyDown={key}
      {...pulled}
    >
      <circle cx={x} cy={y} r={4} fill="#fff" stroke={spruce} strokeWidth={1.6} />
      <circle cx={x} cy={y} r={11} fill="transparent" />
    </g>
  );
}

/** What a parallel picture sees: as wide far away as near by. */
export function Strip({ desk }: { desk: ShotDesk }) {
  const length = useLength();
  return (
    <svg viewBox="0 0 272 110" role="img" aria-label={text.lens.parallelWide(length(desk.shot.lens.scale_m))}>
      <g transform="translate(136 100)">
        <rect x={-58} y={-88} width={116} height={88} fill={spruce} fillOpacity={0.12} />
        {[-58, -29, 0, 29, 58].map((x) => (
          <line
            key={x}
            x1={x}
            x2={x}
            y1={0}
            y2={-88}
            stroke={Math.abs(x) === 58 ? spruce : "#a9adab"}
            strokeWidth={Math.abs(x) === 58 ? 2.2 : 0.9}
          />
        ))}
        <line x1={-58} x2={58} y1={2} y2={2} stroke={ink} strokeWidth={4} />
        <text
          y={-40}
          fontSize={14}
          fontWeight={700}
          textAnchor="middle"
          fill={spruce}
          stroke="#fff"
          strokeWidth={4}
          paintOrder="stroke"
        >
          {length(desk.shot.lens.scale_m)}
        </text>
      </g>
    </svg>
  );
}
