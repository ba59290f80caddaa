import { Fields } from "../kit/controls";
import { NumberField } from "../kit/fields";
import { onDial } from "../kit/polar";
import { ink, quiet, spruce } from "../kit/tokens";
import { degrees } from "../kit/words";
import type { ShotDesk } from "../shots/draft";

type Prime = ShotDesk["sheet"]["lens"]["primes"][number];

/** Labels on both sides of the fan in turn, pushed outwards where one would stand on another. */
function labelled(primes: Prime[], r: number) {
  const put: [number, number][] = [];
  return primes.map((prime, n) => {
    let [tx, ty] = [0, 0];
    for (const out of [12, 24, 36]) {
      [tx, ty] = onDial(((n % 2 ? -1 : 1) * prime.angle_deg) / 2, r + out);
      if (!put.some(([x, y]) => Math.abs(x - tx) < 19 && Math.abs(y - ty) < 11)) break;
    }
    put.push([tx, ty]);
    return { prime, tx, ty };
  });
}

/** A fan of angles with a set of primes on it. The back stays; focal length and angle go together. */
export function LensInstrument({ desk }: { desk: ShotDesk }) {
  const { lens } = desk.sheet;
  const off = desk.row.locked;
  const focal = desk.shot.lens.focal_length_mm;
  const put = (mm: number) => desk.commit("Focal length", { lens: { focal_length_mm: mm } });
  const half = lens.angle_deg.horizontal / 2;
  const r = 124;
  const [lx, ly] = onDial(-half, r);
  const [rx, ry] = onDial(half, r);
  return (
    <>
      <svg viewBox="0 0 272 178" role="group" aria-label="Fan of angles of view">
        <g transform="translate(136 168)">
          <path d={`M0 0L${lx} ${ly}A${r} ${r} 0 0 1 ${rx} ${ry}Z`} fill={spruce} fillOpacity={0.12} />
          {labelled(lens.primes, r).map(({ prime, tx, ty }) => {
            const turn = prime.angle_deg / 2;
            const on = Math.abs(prime.focal_length_mm - focal) < 1e-6;
            const [x0, y0] = onDial(-turn, r);
            const [x1, y1] = onDial(turn, r);
            return (
              <g key={prime.focal_length_mm} role="button" aria-label={`${prime.focal_length_mm} mm`} aria-disabled={off} tabIndex={off ? -1 : 0} style={{ cursor: off ? "default" : "pointer" }}
                onClick={() => { if (!off) put(prime.focal_length_mm); }} onKeyDown={(e) => { if (!off && (e.key === "Enter" || e.key === " ")) { e.preventDefault(); e.stopPropagation(); put(prime.focal_length_mm); } }}>
                <path d={`M${x0} ${y0}L0 0L${x1} ${y1}`} fill="none" stroke={on ? spruce : "#a9adab"} strokeWidth={on ? 2 : 0.9} />
                <path d={`M0 0L${tx} ${ty}`} stroke="transparent" strokeWidth={9} fill="none" />
                <text x={tx} y={ty + 4} fontSize={11} fontWeight={on ? 700 : 400} textAnchor="middle" fill={on ? spruce : ink} style={{ fontStretch: "80%" }}>{prime.focal_length_mm}</text>
              </g>
            );
          })}
          <path d={`M${lx} ${ly}L0 0L${rx} ${ry}`} fill="none" stroke={spruce} strokeWidth={2.2} />
          <path d={`M${lx} ${ly}A${r} ${r} 0 0 1 ${rx} ${ry}`} fill="none" stroke={spruce} />
          <line x1={-24} x2={24} y1={2} y2={2} stroke={ink} strokeWidth={4} />
          <text y={-62} fontSize={14} fontWeight={700} textAnchor="middle" fill={spruce} stroke="#fff" strokeWidth={4} paintOrder="stroke">{degrees(lens.angle_deg.horizontal)}</text>
        </g>
      </svg>
      <Fields>
        <NumberField label="Focal length" unit="millimeter" step={1} min={1} max={5000} value={focal} off={off} onCommit={put} />
        <NumberField label="Across" unit="degree" digits={1} step={1} min={0.5} max={170} value={lens.angle_deg.horizontal} off={off} onCommit={(v) => desk.commit("Angle of view", { kind: "angle_to", horizontal_deg: v })} />
        <NumberField label="Near cut" unit="meter" step={0.05} min={0.001} value={desk.shot.lens.near_m} off={off} onCommit={(v) => desk.commit("Near cut", { lens: { near_m: v } })} />
      </Fields>
      <p style={{ color: quiet }}>
        {degrees(lens.angle_deg.vertical)} upright, {degrees(lens.angle_deg.diagonal)} corner to corner. Same view as {Number(lens.equivalent_focal_length_mm.toFixed(1))} mm on 36 × 24. The back stays when either changes.
      </p>
    </>
  );
}
