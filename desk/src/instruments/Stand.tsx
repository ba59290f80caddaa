import { useRef } from "react";
import type { ShotGesture } from "../api/client";
import { Button, Fields, NumberField, Row } from "../kit/controls";
import { dialReading, onDial } from "../kit/polar";
import { ink, line, quiet, spruce } from "../kit/tokens";
import type { ShotDesk } from "../shots/draft";

const NAMES = [["N", 0], ["E", 90], ["S", 180], ["W", 270]] as const;

/** A compass one turns, a levelling staff one slides, exact numbers under them. */
export function StandInstrument({ desk }: { desk: ShotDesk }) {
  const { pose, lens } = desk.sheet;
  const { stand } = desk.shot;
  const off = desk.row.locked;
  const height = pose.above_floor_m ?? stand.position[2];
  const heightTo = (value: number): ShotGesture => (pose.above_floor_m == null ? { kind: "height_to", z: value, above_floor: null } : { kind: "height_to", z: null, above_floor: value });
  const place = (axis: 0 | 1, value: number) => {
    const to = [stand.position[0], stand.position[1]];
    to[axis] = value;
    desk.commit("Move the stand", { kind: "stand_to", x: to[0]!, y: to[1]! });
  };
  const aim = (axis: 0 | 1 | 2, value: number) => {
    const to: [number, number, number] = [...stand.aim];
    to[axis] = value;
    desk.commit("Move the aim", { stand: { ...stand, aim: to } });
  };
  return (
    <>
      <svg viewBox="0 0 272 168" role="group" aria-label="Compass and levelling staff">
        <Compass desk={desk} off={off} half={lens.angle_deg.horizontal / 2} />
        <Staff height={height} off={off} onDrag={(v) => desk.drag(heightTo(v))} onDone={(v) => desk.commit("Lens height", heightTo(v))} />
      </svg>
      <Fields>
        <NumberField label={pose.above_floor_m == null ? "Above zero" : "Above floor"} unit="meter" value={height} step={0.05} off={off} onCommit={(v) => desk.commit("Lens height", heightTo(v))} />
        <NumberField label="Heading" unit="degree" digits={1} step={1} value={pose.heading_deg} off={off} onCommit={(v) => desk.commit("Heading", { kind: "face", heading_deg: v, pitch_deg: null })} />
        <NumberField label="Pitch" unit="degree" digits={1} step={0.5} min={-89} max={89} value={pose.pitch_deg} off={off} onCommit={(v) => desk.commit("Pitch", { kind: "face", heading_deg: null, pitch_deg: v })} />
        <NumberField label="Stand east" unit="meter" step={0.05} value={stand.position[0]} off={off} onCommit={(v) => place(0, v)} />
        <NumberField label="Stand north" unit="meter" step={0.05} value={stand.position[1]} off={off} onCommit={(v) => place(1, v)} />
        <NumberField label="Roll" unit="degree" digits={1} step={0.5} min={-180} max={180} value={stand.roll_deg} off={off} onCommit={(v) => desk.commit("Roll", { stand: { ...stand, roll_deg: v } })} />
        <NumberField label="Aim east" unit="meter" step={0.05} value={stand.aim[0]} off={off} onCommit={(v) => aim(0, v)} />
        <NumberField label="Aim north" unit="meter" step={0.05} value={stand.aim[1]} off={off} onCommit={(v) => aim(1, v)} />
        <NumberField label="Aim height" unit="meter" step={0.05} value={stand.aim[2]} off={off} onCommit={(v) => aim(2, v)} />
      </Fields>
      <Row>
        <Button isDisabled={off || (Math.abs(pose.pitch_deg) < 1e-6 && stand.roll_deg === 0)} onPress={() => desk.commit("Level the camera", { kind: "face", heading_deg: null, pitch_deg: 0 })}>Level</Button>
        {pose.floor_z == null && <span style={{ color: quiet }}>There is no floor under the stand.</span>}
      </Row>
    </>
  );
}

function Compass({ desk, off, half }: { desk: ShotDesk; off: boolean; half: number }) {
  const node = useRef<SVGGElement>(null);
  const held = useRef<number | null>(null);
  const heading = desk.sheet.pose.heading_deg;
  const [r, cx, cy] = [66, 84, 84];
  const read = (event: React.PointerEvent) => {
    const box = node.current?.querySelector("circle")?.getBoundingClientRect();
    return box ? dialReading(event.clientX - box.left - box.width / 2, event.clientY - box.top - box.height / 2) : heading;
  };
  const to = (deg: number) => ({ kind: "face", heading_deg: Math.round(deg * 10) / 10, pitch_deg: null }) as const;
  const [lx, ly] = onDial(heading - half, r);
  const [rx, ry] = onDial(heading + half, r);
  const [ax, ay] = onDial(heading, r);
  return (
    <g ref={node} transform={`translate(${cx} ${cy})`} style={{ cursor: off ? "default" : "grab", touchAction: "none" }} role="slider" aria-label="Heading on the compass"
      aria-valuenow={Math.round(heading)} aria-valuemin={0} aria-valuemax={360} tabIndex={off ? -1 : 0}
      onKeyDown={(e) => {
        const step = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
        if (step && !off) { e.preventDefault(); desk.commit("Heading", to(heading + step)); }
      }}
      onPointerDown={(e) => { if (!off) { e.currentTarget.setPointerCapture(e.pointerId); held.current = read(e) - heading; } }}
      onPointerMove={(e) => { if (held.current !== null) desk.drag(to(read(e) - held.current)); }}
      onPointerUp={(e) => { if (held.current !== null) desk.commit("Heading", to(read(e) - held.current)); held.current = null; }}>
      <circle r={r} fill="#fff" stroke={ink} />
      <path d={`M0 0L${lx} ${ly}A${r} ${r} 0 ${half > 90 ? 1 : 0} 1 ${rx} ${ry}Z`} fill={spruce} fillOpacity={0.14} stroke={spruce} />
      <line x2={ax} y2={ay} stroke={spruce} strokeDasharray="9 3 2 3" />
      {Array.from({ length: 36 }, (_, n) => {
        const [x0, y0] = onDial(n * 10, r);
        const [x1, y1] = onDial(n * 10, r - (n % 9 === 0 ? 8 : 4));
        return <line key={n} x1={x0} y1={y0} x2={x1} y2={y1} stroke={ink} strokeWidth={0.8} />;
      })}
      {NAMES.map(([name, deg]) => {
        const [x, y] = onDial(deg, r - 16);
        return <text key={name} x={x} y={y + 4} fontSize={12} fontWeight={700} textAnchor="middle" fill={ink}>{name}</text>;
      })}
      <circle r={5} fill="#fff" stroke={spruce} strokeWidth={2.4} />
    </g>
  );
}

function Staff({ height, off, onDrag, onDone }: { height: number; off: boolean; onDrag: (v: number) => void; onDone: (v: number) => void }) {
  const held = useRef<{ y: number; height: number; last: number } | null>(null);
  const top = height > 2.9 ? Math.ceil(height + 0.5) : 3;
  const unit = 132 / top;
  const y = (h: number) => 150 - h * unit;
  const at = Math.max(8, Math.min(158, y(height)));
  return (
    <g transform="translate(190 0)">
      <line x1={0} x2={0} y1={y(0)} y2={y(top)} stroke={ink} />
      {Array.from({ length: top * 10 + 1 }, (_, n) => (
        (top <= 4 || n % 5 === 0) && <line key={n} x1={0} x2={n % 10 === 0 ? 12 : n % 5 === 0 ? 8 : 5} y1={y(n / 10)} y2={y(n / 10)} stroke={ink} strokeWidth={0.8} />
      ))}
      {Array.from({ length: top + 1 }, (_, n) => n > 0 && (top <= 6 || n % 5 === 0) && <text key={n} x={-6} y={y(n) + 4} fontSize={11} textAnchor="end" fill={quiet}>{n}</text>)}
      <line x1={-14} x2={70} y1={y(0)} y2={y(0)} stroke={ink} strokeWidth={3} />
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
        <line x1={0} x2={30} y1={at} y2={at} stroke={spruce} strokeWidth={2} />
        <circle cy={at} r={7} fill="#fff" stroke={spruce} strokeWidth={2.4} />
        <text x={34} y={at + 4} fontSize={12} fontWeight={650} fill={spruce} stroke="#FAFAF9" strokeWidth={3} paintOrder="stroke">{height.toFixed(2)}</text>
        <rect x={-12} y={at - 12} width={80} height={24} fill="transparent" />
      </g>
      <line x1={0} x2={0} y1={y(0)} y2={y(0)} stroke={line} />
    </g>
  );
}
