import { useMemo } from "react";
import { spruce } from "../kit/tokens";
import { metres } from "../kit/words";
import type { ShotDesk } from "../shots/draft";
import { FocusLines } from "./FocusLines";
import { Cross, CutLines, Hatch, Sight, Tag } from "./ink";
import { type Extent, type Eye, Handle, Paper, type Point } from "./Paper";

/** The section along the lens axis, with a levelling staff that carries the lens height. */
export function Section({ desk }: { desk: ShotDesk }) {
  const { section } = desk.sheet.drawings;
  const extent = useMemo<Extent>(() => {
    const floor = desk.sheet.pose.floor_z ?? section.stand[1] - 1.6;
    const reach = Math.max(2.5, section.aim[0] * 1.25);
    const low = Math.min(floor, section.aim[1], section.stand[1]) - 0.35;
    const high = Math.max(section.stand[1], section.aim[1], ...section.edges.map(([x, y]) => (x < reach ? y : 0)), floor + 2.6);
    const height = Math.min(high + 0.4 - low, reach * 1.2);
    // The floor lies low on the sheet, whatever the sheet's shape.
    return { x: -0.9, y: low, width: reach + 1.4, height: Math.max(height, (reach + 1.4) * 0.6) };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- looked at anew only when another shot is chosen
  }, [desk.row.id]);
  const off = desk.row.locked;
  return (
    <Paper title="Section" note="along the lens axis" label="Section along the lens axis" extent={extent} home={desk.row.id} barAtTop>
      {(eye) => (
        <>
          <defs><Hatch id="section-hatch" /></defs>
          <CutLines eye={eye} cut={section.cut} open={section.cut_open} beyond={desk.beyond ?? []} />
          <Sight eye={eye} drawing={section} hatch="section-hatch" />
          <Cross eye={eye} x={section.aim[0]} y={section.aim[1]} />
          <rect x={0} y={eye.height - 26} width={eye.width} height={26} fill="#FAFAF9" />
          <Staff eye={eye} desk={desk} />
          <SectionHandles eye={eye} desk={desk} off={off} />
        </>
      )}
    </Paper>
  );
}

function SectionHandles({ eye, desk, off }: { eye: Eye; desk: ShotDesk; off: boolean }) {
  const { section } = desk.sheet.drawings;
  const [x, z] = section.stand;
  const height = (p: Point) => ({ kind: "height_to", z: p[1], above_floor: null }) as const;
  return (
    <>
      <FocusLines desk={desk} drawing="section" eye={eye} off={off} cursor="ew-resize" />
      <Handle eye={eye} x={x} y={z} off={off} cursor="ns-resize" label="Lens height in section" onMove={(p) => desk.drag(height(p))}
        onDone={(p) => desk.commit("Lens height", height(p))} onDrop={desk.drop}>
        <circle cx={eye.at(x, z)[0]} cy={eye.at(x, z)[1]} r={7} fill="#fff" stroke={spruce} strokeWidth={2.4} />
      </Handle>
    </>
  );
}

function Staff({ eye, desk }: { eye: Eye; desk: ShotDesk }) {
  const { pose, focus, drawings } = desk.sheet;
  const [x, z] = drawings.section.stand;
  const [px, py] = eye.at(x, z);
  const floor = pose.floor_z;
  const marks = [];
  if (floor != null) {
    const top = Math.max(3, Math.ceil(z - floor));
    const step = eye.scale > 30 ? 0.1 : 0.5;
    for (let n = 0; n * step <= top + 1e-6; n += 1) {
      const h = n * step;
      const y = eye.at(x, floor + h)[1];
      const whole = Math.abs(h - Math.round(h)) < 1e-6;
      marks.push(<line key={n} x1={px} x2={px + (whole ? 8 : 4)} y1={y} y2={y} stroke={spruce} />);
      if (whole && h > 0 && eye.scale > 14) marks.push(<text key={`t${n}`} x={px - 5} y={y + 4} fontSize={11} textAnchor="end" fill={spruce}>{Math.round(h)}</text>);
    }
  }
  const bottom = eye.at(x, floor ?? z - 1)[1];
  const base = eye.height - 9;
  const middle = (flat: readonly number[]) => eye.at((flat[0]! + flat[2]!) / 2, 0)[0];
  const focusAt = middle(drawings.section.focus);
  const label = (distance: number | null | undefined, flat: readonly number[] | null | undefined, side: -1 | 0 | 1) => {
    if (!flat || distance == null) return null;
    // Beside the focus figure where there is no room under their own line.
    const beside = side === 0 ? focusAt : side < 0 ? Math.min(middle(flat), focusAt - 46) : Math.max(middle(flat), focusAt + 46);
    const line = middle(flat);
    // Whole as long as its line is on the sheet.
    const tx = line >= 0 && line <= eye.width ? Math.min(Math.max(beside, 24), eye.width - 24) : beside;
    const bold = side === 0;
    return <text x={tx} y={base} textAnchor="middle" fontSize={11} fontWeight={bold ? 700 : 400} fill={spruce} stroke="#FAFAF9" strokeWidth={3} paintOrder="stroke">{metres(distance)}</text>;
  };
  return (
    <g pointerEvents="none">
      {floor != null && <line x1={px} x2={px} y1={bottom} y2={eye.at(x, floor + Math.max(3, z - floor))[1]} stroke={spruce} strokeWidth={1.6} />}
      {marks}
      <g transform={`translate(${px + 14} ${py - 26})`}>
        <rect width={pose.above_floor_m == null ? 118 : 108} height={18} rx={2} fill={spruce} />
        <text x={8} y={13} fontSize={11} fill="#fff">{pose.above_floor_m == null ? "no floor under it" : `${metres(pose.above_floor_m)} above floor`}</text>
      </g>
      {label(focus.sharp_from_m, drawings.section.near, -1)}
      {label(desk.shot.focus.distance_m, drawings.section.focus, 0)}
      {label(focus.sharp_to_m, drawings.section.far, 1)}
      {focus.sharp_to_m == null && <Tag x={eye.width - 10} y={base} anchor="end">sharp to ∞ →</Tag>}
    </g>
  );
}
