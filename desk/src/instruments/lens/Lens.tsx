import { AngleTo, BendTo, Falloff, Lens } from "../../api/limits";
import { useOffer } from "../../api/client";
import { Choice } from "../../kit/choice";
import { Fields, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { onDial } from "../../kit/polar";
import { useLength } from "../../kit/ruler";
import { ink, quiet, spruce } from "../../kit/tokens";
import { degrees, percent } from "../../kit/words";
import type { ShotDesk } from "../../shots/draft";
import type { BodyProps } from "../described";

type Prime = ShotDesk["sheet"]["lens"]["primes"][number];
const [STRAIGHT_R, ROUND_R] = [124, 66];

/** Which primes have room for their name where their line ends: the one in use first, then the wider before the longer. */
function named(primes: Prime[], focal: number, R: number): Map<Prime, [number, number]> {
  const put = new Map<Prime, [number, number]>();
  const inUse = (prime: Prime) => Math.abs(prime.focal_length_mm - focal) < 1e-6;
  for (const prime of [...primes].sort((a, b) => Number(inUse(b)) - Number(inUse(a)) || a.focal_length_mm - b.focal_length_mm)) {
    const [tx, ty] = onDial(prime.angle_deg / 2, R + 13);
    if (![...put.values()].some(([x, y]) => Math.abs(x - tx) < 19 && Math.abs(y - ty) < 12)) put.set(prime, [tx, ty]);
  }
  return put;
}

/** A fan of angles with a set of primes on it; the back stays, focal length and angle go together. Or a parallel picture. */
export function LensBody({ desk }: BodyProps) {
  const { lens: sheet } = desk.sheet;
  const { lens } = desk.shot;
  const off = desk.row.locked;
  return (
    <>
      {sheet.angle_deg ? <Fan desk={desk} angle={sheet.angle_deg.horizontal} /> : <Strip desk={desk} />}
      <Fields>
        {lens.scale_m != null ? (
          <NumberField label="Wide in the world" unit="meter" digits={3} step={0.05} of={Lens.scale_m} value={lens.scale_m} off={off} onCommit={(scale_m) => desk.commit("Width of the picture", { lens: { scale_m } })} />
        ) : (
          <NumberField label="Focal length" unit="millimeter" step={1} of={Lens.focal_length_mm} value={lens.focal_length_mm} off={off} onCommit={(mm) => desk.commit("Focal length", { lens: { focal_length_mm: mm } })} />
        )}
        {sheet.angle_deg && ANGLES.map(([label, side, key]) => (
          <NumberField key={side} label={label} unit="degree" digits={1} step={1} of={AngleTo.angle_deg} value={sheet.angle_deg![key]} off={off} onCommit={(v) => desk.commit("Angle of view", { kind: "angle_to", side, angle_deg: v })} />
        ))}
        <NumberField label="Near cut" unit="meter" step={0.05} of={Lens.near_m} value={lens.near_m} off={off} onCommit={(v) => desk.commit("Near cut", { lens: { near_m: v } })} />
      </Fields>
      <Drawn desk={desk} />
      <Character desk={desk} />
      <p style={{ color: quiet }}>
        {sheet.angle_deg ? [
          sheet.equivalent_focal_length_mm != null && `Same view as ${Number(sheet.equivalent_focal_length_mm.toFixed(1))} mm on 36 × 24.`,
          sheet.grid && "Straight lines are bent.",
          sheet.from_stand && "Distances count from the stand.",
          "The back stays when either changes.",
          sheet.shade && `The darkest corner gets ${percent(sheet.corner_light)} of the light.`,
        ].filter(Boolean).join(" ") : "As in an elevation: the same size at any distance, sharp all over. Nearer or farther shows no more; only the width does."}
      </p>
    </>
  );
}

/** How the picture is drawn: the projections there are to choose from. */
function Drawn({ desk }: { desk: ShotDesk }) {
  const { lens } = desk.shot;
  const options = useOffer().projections.map((offer) => ({ ...offer, id: [offer.projection, offer.fisheye_law].filter(Boolean).join(" "), name: offer.words }));
  return (
    <Choice label="Projection" off={desk.row.locked} options={options} value={lens.projection === "fisheye" ? `fisheye ${lens.fisheye_law}` : lens.projection}
      onChoose={(id) => {
        const chosen = options.find((option) => option.id === id);
        if (chosen) desk.commit(`Projection: ${chosen.words}`, { kind: "projection_to", projection: chosen.projection, fisheye_law: chosen.fisheye_law });
      }} />
  );
}

/** What a lens does that a plain one does not: bent lines, darker corners. */
function Character({ desk }: { desk: ShotDesk }) {
  const { lens } = desk.shot;
  const { bent } = desk.sheet.lens;
  const off = desk.row.locked;
  const put = (label: string, falloff: Partial<typeof lens.falloff>) => desk.commit(label, { lens: { falloff } });
  return (
    <>
      <Fields>
        {lens.projection === "perspective" && <NumberField label="Bent" unit="percent" digits={1} step={0.01} of={BendTo.corner} value={bent ?? 0} off={off} onCommit={(corner) => desk.commit(corner === 0 ? "Straight lines" : corner < 0 ? "Barrel" : "Pincushion", { kind: "bend_to", corner })} />}
        {lens.projection !== "parallel" && <NumberField label="Rim hides" unit="percent" digits={0} step={0.05} of={Falloff.mechanical} value={lens.falloff.mechanical} off={off} onCommit={(mechanical) => put("Darker corners", { mechanical })} />}
        {lens.falloff.mechanical > 0 && <NumberField label="Wide open, f/" digits={1} step={0.1} of={Falloff.open_f_number} value={lens.falloff.open_f_number} off={off} onCommit={(open_f_number) => put("Widest stop", { open_f_number })} />}
      </Fields>
      {lens.projection !== "parallel" && <Row><Toggle isSelected={lens.falloff.natural} isDisabled={off} onChange={(natural) => put(natural ? "Natural falloff" : "Even corners", { natural })}>Natural falloff</Toggle></Row>}
    </>
  );
}

const ANGLES = [["Across", "across", "horizontal"], ["Upright", "upright", "vertical"], ["Corners", "corner", "diagonal"]] as const;

/** Past half a turn the fan needs room below its middle too. */
const HALF_TURN = 175;

function Fan({ desk, angle }: { desk: ShotDesk; angle: number }) {
  const off = desk.row.locked;
  const { primes } = desk.sheet.lens;
  const focal = desk.shot.lens.focal_length_mm;
  const put = (mm: number) => desk.commit("Focal length", { lens: { focal_length_mm: mm } });
  const round = angle > HALF_TURN;
  const R = round ? ROUND_R : STRAIGHT_R;
  const names = named(primes, focal, R);
  const [lx, ly] = onDial(-angle / 2, R);
  const [rx, ry] = onDial(angle / 2, R);
  const arc = `A${R} ${R} 0 ${angle > 180 ? 1 : 0} 1 ${rx} ${ry}`;
  return (
    <svg viewBox="0 0 272 178" role="group" aria-label="Fan of angles of view">
      <g transform={round ? "translate(136 88)" : "translate(136 168)"}>
        <path d={`M0 0L${lx} ${ly}${arc}Z`} fill={spruce} fillOpacity={0.12} />
        {primes.map((prime) => {
          const on = Math.abs(prime.focal_length_mm - focal) < 1e-6;
          const [x0, y0] = onDial(-prime.angle_deg / 2, R);
          const [x1, y1] = onDial(prime.angle_deg / 2, R);
          const at = names.get(prime);
          return (
            <g key={prime.focal_length_mm} role="button" aria-label={`${prime.focal_length_mm} mm`} aria-disabled={off} tabIndex={off ? -1 : 0} style={{ cursor: off ? "default" : "pointer" }}
              onClick={() => { if (!off) put(prime.focal_length_mm); }} onKeyDown={(e) => { if (!off && (e.key === "Enter" || e.key === " ")) { e.preventDefault(); e.stopPropagation(); put(prime.focal_length_mm); } }}>
              <path d={`M${x0} ${y0}L0 0L${x1} ${y1}`} fill="none" stroke={on ? spruce : "#a9adab"} strokeWidth={on ? 2 : 0.9} />
              <path d={`M0 0L${x1} ${y1}`} stroke="transparent" strokeWidth={9} fill="none" />
              {at && <text x={at[0]} y={at[1] + 4} fontSize={11} fontWeight={on ? 700 : 400} textAnchor="middle" fill={on ? spruce : ink} style={{ fontStretch: "80%" }}>{prime.focal_length_mm}</text>}
              {at && <rect x={at[0] - 12} y={at[1] - 12} width={24} height={24} fill="transparent" />}
            </g>
          );
        })}
        <path d={`M${lx} ${ly}L0 0L${rx} ${ry}`} fill="none" stroke={spruce} strokeWidth={2.2} />
        <path d={`M${lx} ${ly}${arc}`} fill="none" stroke={spruce} />
        <line x1={-24} x2={24} y1={2} y2={2} stroke={ink} strokeWidth={4} />
        <text y={-R / 2} fontSize={14} fontWeight={700} textAnchor="middle" fill={spruce} stroke="#fff" strokeWidth={4} paintOrder="stroke">{degrees(angle)}</text>
      </g>
    </svg>
  );
}

/** What a parallel picture sees: as wide far away as near by. */
function Strip({ desk }: { desk: ShotDesk }) {
  const length = useLength();
  return (
    <svg viewBox="0 0 272 110" role="img" aria-label={`Parallel, ${length(desk.shot.lens.scale_m)} wide`}>
      <g transform="translate(136 100)">
        <rect x={-58} y={-88} width={116} height={88} fill={spruce} fillOpacity={0.12} />
        {[-58, -29, 0, 29, 58].map((x) => <line key={x} x1={x} x2={x} y1={0} y2={-88} stroke={Math.abs(x) === 58 ? spruce : "#a9adab"} strokeWidth={Math.abs(x) === 58 ? 2.2 : 0.9} />)}
        <line x1={-58} x2={58} y1={2} y2={2} stroke={ink} strokeWidth={4} />
        <text y={-40} fontSize={14} fontWeight={700} textAnchor="middle" fill={spruce} stroke="#fff" strokeWidth={4} paintOrder="stroke">{length(desk.shot.lens.scale_m)}</text>
      </g>
    </svg>
  );
}
