import { useRef } from "react";
import { useOffer } from "../../api/client";
import { Focus } from "../../api/limits";
import { Choice } from "../../kit/choice";
import { Button, Fields, Reading, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { useAhead } from "../../kit/ahead";
import { useLength } from "../../kit/ruler";
import { edgePrint, film, spruce } from "../../kit/tokens";
import type { ShotDesk } from "../../shots/draft";
import type { BodyProps } from "../described";

/** A lens barrel: distance in metres and feet against stop brackets, so the sharp zone reads as on a real lens. */
export function FocusBody({ desk, picking, pick }: BodyProps) {
  const length = useLength();
  const { focus } = desk.sheet;
  const own = desk.shot.focus;
  const off = desk.row.locked;
  const { stops, blur_limits: limits } = useOffer();
  const limit = limits.find((offered) => JSON.stringify(offered.limit) === JSON.stringify(own.blur_limit))?.words ?? "own";
  const shownLimit = own.blur_limit.px != null ? `${Number(focus.blur_limit_px.toFixed(2))} px` : `${Number(focus.blur_limit_mm.toFixed(4))} mm`;
  return (
    <>
      <Barrel desk={desk} off={off} />
      <Fields>
        <NumberField label="Focus at" unit="meter" step={0.05} of={Focus.distance_m} digits={own.distance_m < 1 ? 3 : 2} value={own.distance_m} off={off} onCommit={(v) => desk.commit("Focus", { kind: "focus_to", distance_m: v })} />
        <Choice label="Aperture" value={stops.find((stop) => stop.name === focus.stop)?.name ?? (own.f_number === null ? "all" : "own")} shown={focus.stop ?? "everything sharp"} off={off}
          options={[...stops.map(({ name }) => ({ id: name, name })), { id: "all", name: "everything sharp" }]}
          onChoose={(id) => desk.commit("Aperture", { kind: "stop_to", f_number: stops.find((stop) => stop.name === id)?.f_number ?? null })} />
        <Choice label="Blur counts at" value={limit} shown={shownLimit} options={limits.map(({ words }) => ({ id: words, name: words }))} off={off}
          onChoose={(id) => { const chosen = limits.find(({ words }) => words === id); if (chosen) desk.commit("Blur limit", { focus: { blur_limit: chosen.limit } }); }} />
      </Fields>
      <Fields>
        <Reading><span>sharp from</span><b>{length(focus.sharp_from_m)}</b></Reading>
        <Reading><span>to</span><b>{length(focus.sharp_to_m)}</b></Reading>
        <Reading><span>hyperfocal</span><b>{focus.hyperfocal_m == null ? "none" : length(focus.hyperfocal_m)}</b></Reading>
      </Fields>
      <Row>
        <Toggle isSelected={picking === "focus"} isDisabled={off} onChange={(on) => pick(on ? "focus" : null)}>Pick in picture</Toggle>
        <Button isDisabled={off || own.f_number === null} onPress={() => desk.commit("Focus at the hyperfocal distance", { kind: "focus_hyperfocal" })}>Hyperfocal</Button>
      </Row>
      <Fields>
        <NumberField label="Blades" digits={0} step={1} of={Focus.blades} value={own.blades} off={off} onCommit={(v) => desk.commit("Aperture blades", { focus: { blades: Math.round(v) } })} />
        <NumberField label="Blades turned" unit="degree" digits={1} step={5} of={Focus.blade_rotation_deg} value={own.blade_rotation_deg} off={off || own.blades < 3} onCommit={(v) => desk.commit("Blades turned", { focus: { blade_rotation_deg: v } })} />
        <NumberField label="Rim weight" digits={2} step={0.1} of={Focus.rim_weight} value={own.rim_weight} off={off} onCommit={(v) => desk.commit("Rim weight", { focus: { rim_weight: v } })} />
      </Fields>
    </>
  );
}

function Barrel({ desk, off }: { desk: ShotDesk; off: boolean }) {
  const length = useLength();
  const { barrel } = desk.sheet.focus;
  const [reached, setAhead, forget] = useAhead(barrel.focus_at);
  const held = useRef<{ x: number; from: number; last: number | null } | null>(null);
  const [width, left] = [252, 6];
  const x = (at: number) => left + at * width;
  const to = (at: number) => ({ kind: "focus_on_barrel", at }) as const;
  // The two marks of the stop in use come first; where they stand close together, one label serves both.
  const [own, other] = barrel.stops;
  const oneLabel = own !== undefined && other?.label === own.label && Math.abs(x(other.at) - x(own.at)) < 24;
  return (
    <svg viewBox="0 0 272 84" role="slider" aria-label="Focus on the lens barrel" aria-valuenow={desk.shot.focus.distance_m} aria-valuetext={length(desk.shot.focus.distance_m)}
      tabIndex={off ? -1 : 0} style={{ cursor: off ? "default" : "ew-resize", touchAction: "none" }}
      onKeyDown={(e) => {
        const step = { ArrowLeft: -0.01, ArrowRight: 0.01 }[e.key];
        if (step && !off) { e.preventDefault(); setAhead(reached + step); desk.commit("Focus", to(reached + step)); }
      }}
      onPointerDown={(e) => { if (!off) { forget(); e.currentTarget.setPointerCapture(e.pointerId); held.current = { x: e.clientX, from: barrel.focus_at, last: null }; } }}
      onPointerMove={(e) => {
        const hold = held.current;
        if (!hold) return;
        hold.last = hold.from + ((e.clientX - hold.x) * 272) / e.currentTarget.getBoundingClientRect().width / width;
        desk.drag(to(hold.last));
      }}
      onPointerUp={() => { if (held.current?.last != null) desk.commit("Focus", to(held.current.last)); held.current = null; }}>
      <rect width={272} height={84} rx={3} fill={film} />
      <g fontSize={11} style={{ fontStretch: "80%" }} textAnchor="middle">
        {barrel.feet.filter((m) => m.at > 0.03 && m.at < 0.93).map((m) => <text key={m.label} x={x(m.at)} y={15} fill="#D9A85F">{m.label}</text>)}
        {barrel.metres.filter((m) => m.at > 0.03 && m.at < 0.93).map((m) => (
          <g key={m.label}><text x={x(m.at)} y={32} fill="#fff" fontWeight={600}>{m.label}</text><line x1={x(m.at)} x2={x(m.at)} y1={36} y2={42} stroke="#fff" /></g>
        ))}
        <text x={264} y={15} fill="#D9A85F" textAnchor="end">ft</text>
        <text x={264} y={32} fill="#fff" textAnchor="end">m</text>
        <line x1={4} x2={268} y1={46} y2={46} stroke="#6d7371" />
        <rect x={x(Math.max(0, barrel.sharp_from_at))} width={Math.max(0, x(Math.min(1, barrel.sharp_to_at)) - x(Math.max(0, barrel.sharp_from_at)))} y={42} height={8} fill="#4FA283" />
        <path d={`M${x(barrel.focus_at)} 41l-5 10h10Z`} fill="#fff" />
        {barrel.stops.map((m, n) => (
          <g key={n}>
            <line x1={x(m.at)} x2={x(m.at)} y1={50} y2={n < 2 ? 62 : 57} stroke={n < 2 ? "#7FD0B0" : "#9aa09e"} />
            {!(oneLabel && n < 2) && <text x={x(m.at)} y={74} fill={n < 2 ? "#7FD0B0" : "#B9BEBC"} fontWeight={n < 2 ? 700 : 400}>{m.label}</text>}
          </g>
        ))}
        {oneLabel && <text x={x(barrel.focus_at)} y={74} fill="#7FD0B0" fontWeight={700}>{own?.label}</text>}
        {barrel.stops.length === 0 && <text x={136} y={72} fill={edgePrint}>everything sharp</text>}
      </g>
      <rect x={0.5} y={0.5} width={271} height={83} rx={3} fill="none" stroke={spruce} strokeOpacity={0} />
    </svg>
  );
}
