import { useMemo, useState } from "react";
import { type Plan as PlanCut, type Project, type ShotRow, usePlan } from "../api/client";
import { Toggle } from "../kit/controls";
import { ink, quiet, spruce } from "../kit/tokens";
import type { ShotDesk } from "../shots/draft";
import { FocusLines } from "./FocusLines";
import { Cross, CutLines, Hatch, Sight, Tripod } from "./ink";
import { type Extent, Handle, Paper, type Point } from "./Paper";

const WHOLE_UP_TO_M = 40;

/** What of the plan is worth showing first: the cut and the stands. */
function firstLook(plan: PlanCut | undefined, shots: ShotRow[], bounds: Project["set"]["bounds"]): Extent {
  const xs: number[] = [];
  const ys: number[] = [];
  plan?.cut.numbers.forEach((v, n) => (n % 2 ? ys : xs).push(v));
  for (const { shot } of shots) {
    xs.push(shot.stand.position[0]);
    ys.push(shot.stand.position[1]);
  }
  // A set of a building's size is shown whole; of a wide landscape only what the cut meets.
  const across = Math.max(bounds[1][0] - bounds[0][0], bounds[1][1] - bounds[0][1]);
  if (xs.length === 0 || across <= WHOLE_UP_TO_M) {
    xs.push(bounds[0][0], bounds[1][0]);
    ys.push(bounds[0][1], bounds[1][1]);
  }
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  return { x: x0, y: y0, width: Math.max(0.5, x1 - x0), height: Math.max(0.5, y1 - y0) };
}

interface Props {
  project: Project;
  desk: ShotDesk | null;
  /** Where the scout view stands and looks, while it is on. */
  scout: { at: Point; toward: Point } | null;
  placing: boolean;
  setPlacing: (on: boolean) => void;
  onPlaced: (stand: Point, aim: Point) => void;
  onChoose: (id: string) => void;
  onHeight: (height: number) => void;
}

/** The plan: a real cut of the set, with every stand on it and the chosen shot's wedge. */
export function Plan({ project, desk, scout, placing, setPlacing, onPlaced, onChoose, onHeight }: Props) {
  const { data: plan, error } = usePlan(project);
  const [drawn, setDrawn] = useState<{ stand: Point; aim: Point } | null>(null);
  const shot = desk?.row ?? null;
  // Near the chosen shot; the whole plan where none is chosen.
  const extent = useMemo<Extent>(() => {
    const one = shot?.shot.stand;
    if (!one) return firstLook(plan, project.shots, project.set.bounds);
    const xs = [one.position[0], one.aim[0]];
    const ys = [one.position[1], one.aim[1]];
    const reach = Math.max(4.5, Math.hypot(xs[0]! - xs[1]!, ys[0]! - ys[1]!) * 0.8);
    const middle: Point = [(xs[0]! + xs[1]!) / 2, (ys[0]! + ys[1]!) / 2];
    return { x: middle[0] - reach, y: middle[1] - reach * 0.8, width: 2 * reach, height: 1.6 * reach };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- looked at anew only when another shot is chosen
  }, [shot?.id, plan === undefined]);
  const off = !desk || desk.row.locked;
  // The chosen shot lies on top, also where another stands at the same place.
  const numbered = project.shots.map((row, n) => ({ row, n }));
  const inOrder = [...numbered.filter(({ row }) => row.id !== shot?.id), ...numbered.filter(({ row }) => row.id === shot?.id)];
  return (
    <Paper
      title="Plan" label="Plan of the set" extent={extent} home={`${shot?.id ?? "whole"}|${plan === undefined}`}
      note={error ? error.message : placing ? "press where the camera stands, drag to what it looks at" : ""}
      tools={
        <>
          <label className="live" style={{ display: "flex", gap: 5, alignItems: "center", color: quiet, fontSize: 12 }}>
            Cut at
            <input aria-label="Height of the plan's cut in metres" key={project.plan_height} defaultValue={project.plan_height.toFixed(2)} size={5}
              style={{ width: 48, border: 0, borderBottom: `1px solid ${ink}`, background: "none", textAlign: "right" }}
              onKeyDown={(e) => { if (e.key === "Enter") e.currentTarget.blur(); }}
              onBlur={(e) => {
                const height = Number(e.currentTarget.value.replace("m", "").replace(",", "."));
                if (Number.isFinite(height) && height !== project.plan_height) onHeight(height);
                else e.currentTarget.value = project.plan_height.toFixed(2);
              }} />
            m
          </label>
          <Toggle isSelected={placing} onChange={setPlacing}>Place a shot</Toggle>
        </>
      }
      onPress={(place) => {
        if (!placing) return false;
        setDrawn({ stand: place, aim: place });
        return true;
      }}
      onDrag={(aim) => setDrawn((d) => d && { ...d, aim })}
      onRelease={(aim) => {
        if (drawn) onPlaced(drawn.stand, aim);
        setDrawn(null);
      }}
    >
      {(eye) => (
        <>
          <defs><Hatch id="plan-hatch" /></defs>
          {plan && <CutLines eye={eye} cut={plan.cut} open={plan.cut_open} beyond={plan.beyond} />}
          {desk && <Sight eye={eye} drawing={desk.sheet.drawings.plan} hatch="plan-hatch" />}
          {inOrder.map(({ row, n }) => {
            const on = row.id === shot?.id;
            const stand = on && desk ? desk.sheet.drawings.plan.stand : [row.shot.stand.position[0], row.shot.stand.position[1]] as Point;
            const toward = on && desk ? desk.sheet.drawings.plan.aim : [row.shot.stand.aim[0], row.shot.stand.aim[1]] as Point;
            const [px, py] = eye.at(...stand);
            return (
              <g key={row.id}>
                <Tripod eye={eye} x={stand[0]} y={stand[1]} toward={toward} number={n + 1} on={on} />
                {!on && (
                  <circle data-handle={`shot ${n + 1}`} cx={px} cy={py} r={12} fill="transparent" style={{ cursor: "pointer" }} role="button"
                    aria-label={`Choose shot ${n + 1}, ${row.shot.name}`} tabIndex={-1} onClick={() => onChoose(row.id)} />
                )}
              </g>
            );
          })}
          {desk && <PlanHandles desk={desk} off={off} eye={eye} />}
          {scout && <ScoutMark eye={eye} at={scout.at} toward={scout.toward} />}
          {drawn && <NewLine eye={eye} stand={drawn.stand} aim={drawn.aim} />}
          <North width={eye.width} />
        </>
      )}
    </Paper>
  );
}

type PlanEye = Parameters<Parameters<typeof Paper>[0]["children"]>[0];

function PlanHandles({ desk, off, eye }: { desk: ShotDesk; off: boolean; eye: PlanEye }) {
  const { plan } = desk.sheet.drawings;
  const standTo = ([x, y]: Point) => ({ kind: "stand_to", x, y }) as const;
  const aimTo = ([x, y]: Point) => ({ kind: "aim_to", x, y }) as const;
  const [left, right] = plan.edges;
  const halfway = (edge: Point): Point => [(plan.stand[0] + edge[0]) / 2, (plan.stand[1] + edge[1]) / 2];
  return (
    <>
      {([["left", left], ["right", right]] as const).map(([side, edge]) => {
        if (!edge) return null;
        const [x, y] = halfway(edge as Point);
        const wedge = ([wx, wy]: Point) => ({ kind: "wedge_to", side, x: wx, y: wy }) as const;
        const [px, py] = eye.at(x, y);
        return (
          <Handle key={side} eye={eye} x={x} y={y} off={off} label={`${side} side of the wedge`} onMove={(p) => desk.drag(wedge(p))}
            onDone={(p) => desk.commit("Angle of view", wedge(p))} onDrop={desk.drop}>
            <circle cx={px} cy={py} r={3.4} fill="#fff" stroke={spruce} strokeWidth={1.4} />
          </Handle>
        );
      })}
      <FocusLines desk={desk} drawing="plan" eye={eye} off={off} />
      <Handle eye={eye} x={plan.aim[0]} y={plan.aim[1]} off={off} label="Aim in plan" onMove={(p) => desk.drag(aimTo(p))}
        onDone={(p) => desk.commit("Move the aim", aimTo(p))} onDrop={desk.drop}>
        <Cross eye={eye} x={plan.aim[0]} y={plan.aim[1]} />
      </Handle>
      <Handle eye={eye} x={plan.stand[0]} y={plan.stand[1]} off={off} label="Stand in plan" onMove={(p) => desk.drag(standTo(p))}
        onDone={(p) => desk.commit("Move the stand", standTo(p))} onDrop={desk.drop} />
    </>
  );
}

function NewLine({ eye, stand, aim }: { eye: PlanEye; stand: Point; aim: Point }) {
  const [sx, sy] = eye.at(...stand);
  const [ax, ay] = eye.at(...aim);
  return (
    <g pointerEvents="none">
      <line x1={sx} y1={sy} x2={ax} y2={ay} stroke={spruce} strokeWidth={1.5} strokeDasharray="10 3 2 3" />
      <circle cx={sx} cy={sy} r={6} fill="#fff" stroke={spruce} strokeWidth={2} />
      <Cross eye={eye} x={aim[0]} y={aim[1]} />
    </g>
  );
}

function ScoutMark({ eye, at, toward }: { eye: PlanEye; at: Point; toward: Point }) {
  const [px, py] = eye.at(...at);
  const [tx, ty] = eye.at(...toward);
  const length = Math.hypot(tx - px, ty - py) || 1;
  return (
    <g pointerEvents="none" aria-label="Scout view">
      <line x1={px} y1={py} x2={px + ((tx - px) / length) * 26} y2={py + ((ty - py) / length) * 26} stroke={ink} strokeWidth={1.6} />
      <circle cx={px} cy={py} r={5} fill={ink} />
    </g>
  );
}

function North({ width }: { width: number }) {
  return (
    <g transform={`translate(${width - 24} 52)`} aria-label="North is up">
      <circle r={11} fill="#fff" stroke={ink} strokeWidth={0.8} />
      <path d="M0 -9L3 1H-3Z" fill={ink} />
      <text y={9} textAnchor="middle" fontSize={8} fontWeight={700}>N</text>
    </g>
  );
}
