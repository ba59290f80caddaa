import { useMemo } from "react";
import { type Project, useSectionMarks } from "../api/client";
import { apart, useMarks } from "../instruments/stand/Staff";
import { useLength, useRuler } from "../kit/ruler";
import { quiet, spruce } from "../kit/tokens";
import type { ShotDesk } from "../shots/draft";
import { FocusLines } from "./FocusLines";
import { Cross, CutLines, Hatch, Sight, Tag, Tripod } from "./ink";
import { markedShots, markerColour, type MarkerLook } from "./markers";
import { type Extent, type Eye, Handle, Paper, type Point } from "./Paper";

/** The section along the lens axis, with a levelling staff that carries the lens height. */
export function Section({ project, desk, look, onStandIn }: { project: Project; desk: ShotDesk; look: MarkerLook; onStandIn: (n: number, origin: Point, heading: number, to: Point) => void }) {
  const { data: near } = useSectionMarks(project, desk.row);
  const shownShots = new Map(markedShots(project, look, desk.row.id).map(({ row, n }) => [row.id, { row, n }]));
  const { section } = desk.sheet.drawings;
  const extent = useMemo<Extent>(() => {
    const [least, most] = project.set.body;
    const size = Math.max(...most.map((v, k) => v - least[k]!));
    if (project.set.small) {
      // A thing on a table is seen whole, with the stand and what it stands on.
      const heights = [least[2], most[2], section.aim[1], section.stand[1]];
      const [foot, head] = [Math.min(...heights) - 0.25 * size, Math.max(...heights) + 0.25 * size];
      const far = section.aim[0] + 1.2 * size;
      return { x: -0.5 * size, y: foot, width: far + 0.7 * size, height: head - foot };
    }
    const floor = desk.sheet.pose.floor_z ?? section.stand[1] - 1.6;
    const reach = Math.max(2.5, section.aim[0] * 1.25);
    const low = Math.min(floor, section.aim[1], section.stand[1]) - 0.35;
    const high = Math.max(section.stand[1], section.aim[1], ...section.sides.map(([, , x, y]) => (x < reach ? y : 0)), floor + 2.6);
    const height = Math.min(high + 0.4 - low, reach * 1.2);
    // The floor lies low on the sheet, whatever the sheet's shape.
    return { x: -2.3, y: low, width: reach + 2.8, height: Math.max(height, (reach + 1.4) * 0.6) };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- looked at anew only when another shot is chosen
  }, [desk.row.id]);
  const off = desk.row.locked;
  return (
    <Paper title="Section" note="along the lens axis" label="Section along the lens axis" extent={extent} home={desk.row.id} barAtTop>
      {(eye) => (
        <>
          <defs><Hatch id="section-hatch" /></defs>
          <CutLines eye={eye} cut={section.cut} open={section.cut_open} beyond={desk.beyond ?? none} />
          <Sight eye={eye} drawing={section} hatch="section-hatch" />
          <Cross eye={eye} x={section.aim[0]} y={section.aim[1]} />
          <rect x={0} y={eye.height - 26} width={eye.width} height={26} fill="#FAFAF9" />
          {near?.shots.map((mark) => {
            const one = shownShots.get(mark.shot);
            if (!one || Math.abs(mark.off_m) > NEAR_M) return null;
            return <Tripod key={mark.shot} eye={eye} x={mark.at[0]} y={mark.at[1]} toward={[mark.aim[0], mark.aim[1]]} number={one.n + 1} on={false} colour={markerColour(one.row, false)} opacity={look.opacity * 0.8} size={look.size * 0.9} />;
          })}
          {near?.stand_ins.map((mark) => {
            if (Math.abs(mark.off_m) > NEAR_M) return null;
            const [px, py] = eye.at(mark.at[0], mark.at[1]);
            return (
              <Handle key={`stand-in${mark.number}`} eye={eye} x={mark.at[0]} y={mark.at[1]} label={`${project.stand_ins[mark.number]?.name ?? "Stand-in"} in section`} onMove={() => undefined} onDrop={() => undefined}
                onDone={(to) => onStandIn(mark.number, [near.origin[0], near.origin[1]], near.heading_deg, to)}>
                <rect x={px - 3.5} y={py - 3.5} width={7} height={7} fill="#fff" stroke="#202322" strokeWidth={1.2} />
              </Handle>
            );
          })}
          <Staff eye={eye} desk={desk} project={project} />
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

const NEAR_M = 4;
const none: number[] = [];

function Staff({ eye, desk, project }: { eye: Eye; desk: ShotDesk; project: Project }) {
  const length = useLength();
  const named = useMarks(project);
  const ruler = useRuler();
  const { pose, focus, drawings } = desk.sheet;
  const [x, z] = drawings.section.stand;
  const [px, py] = eye.at(x, z);
  const floor = pose.floor_z;
  const marks = [];
  if (floor != null) {
    // Ten marks to a number, as fine as can be told apart, as many as the sheet shows.
    const step = [0.001, 0.01, 0.1, 1, 10, 100].find((s) => s * eye.scale >= 3) ?? 1000;
    const top = Math.max(eye.scale > 400 ? z - floor + 10 * step : Math.max(ruler.staff_m, Math.ceil(z - floor)), 10 * step);
    for (let n = 0; n * step <= top + 1e-6; n += 1) {
      const y = eye.at(x, floor + n * step)[1];
      if (y < -20) break;
      const whole = n % 10 === 0;
      marks.push(<line key={n} x1={px} x2={px + (whole ? 8 : 4)} y1={y} y2={y} stroke={spruce} />);
      if (whole && n > 0) marks.push(<text key={`t${n}`} x={px + 11} y={y + 4} fontSize={11} fill={spruce}>{Number(((n * step) / ruler.metres).toFixed(3))}</text>);
    }
  }
  const tops = named.map((mark) => ({ ...mark, y: eye.at(x, (floor ?? 0) + mark.height_m)[1] }));
  const places = apart(tops.map((mark) => mark.y), 13);
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
    return <text x={tx} y={base} textAnchor="middle" fontSize={11} fontWeight={bold ? 700 : 400} fill={spruce} stroke="#FAFAF9" strokeWidth={3} paintOrder="stroke">{length(distance)}</text>;
  };
  // To the left of the focus figure where that stands at the edge; above the figures where these leave no room.
  const farAt = Math.min(eye.width - 10, focusAt > eye.width - 130 && focusAt < eye.width + 20 ? focusAt - 32 : eye.width);
  const farOver = drawings.section.near != null && middle(drawings.section.near) > farAt - 100;
  return (
    <g pointerEvents="none">
      {floor != null && <line x1={px} x2={px} y1={bottom} y2={eye.at(x, floor + Math.max(ruler.staff_m, z - floor))[1]} stroke={spruce} strokeWidth={1.6} />}
      {marks}
      {floor != null && eye.scale > 22 && tops.map((mark, n) => (
        <g key={mark.name}>
          <path d={`M${px} ${mark.y}h-16L${px - 22} ${places[n]!}`} stroke={quiet} strokeWidth={0.8} fill="none" />
          <text x={px - 24} y={places[n]! + 4} fontSize={11} textAnchor="end" fill={quiet} fontStyle={mark.own ? "italic" : undefined} stroke="#FAFAF9" strokeWidth={3} paintOrder="stroke">{mark.name}</text>
        </g>
      ))}
      <g transform={`translate(${px + 14} ${py - 26})`}>
        <rect width={118} height={18} rx={2} fill={spruce} />
        <text x={8} y={13} fontSize={11} fill="#fff">{pose.above_floor_m == null ? "no floor under it" : `${length(pose.above_floor_m)} above floor`}</text>
      </g>
      {label(focus.sharp_from_m, drawings.section.near, -1)}
      {label(desk.shot.focus.distance_m, drawings.section.focus, 0)}
      {label(focus.sharp_to_m, drawings.section.far, 1)}
      {focus.sharp_to_m == null && <Tag x={farAt} y={farOver ? base - 15 : base} anchor="end">sharp to ∞ →</Tag>}
    </g>
  );
}
