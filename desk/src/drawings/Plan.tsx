import { useMemo, useState } from "react";
import { type Project, type PutHabits, type ShotRow, type Suggestion, usePlan } from "../api/client";
import { ProjectChange } from "../api/limits";
import { PANELS } from "../instruments";
import { Plain, Toggle } from "../kit/controls";
import { NumberField } from "../kit/fields";
import { spruce } from "../kit/tokens";
import { letter } from "../kit/words";
import { North, RoomNames, Rooms, ScoutMark, StandInOutlines } from "./building";
import { type ShotDraft, useWholeDesk } from "../shots/draft";
import { Heights } from "./Heights";
import { markedShots, markerColour, type MarkerLook, MarkerMenu } from "./markers";
import { Cross, CutLines, Hatch, Sight, Tripod } from "./ink";
import { useRuling } from "./ruling";
import { Handle } from "./Handle";
import { type Extent, Paper, type Point } from "./Paper";
import { text } from "../text";

/** What of the plan is worth showing first: the body of the set with room to stand round it, and the stands. */
function firstLook(shots: ShotRow[], [low, high]: Project["set"]["body"]): Extent {
  const xs = [low[0], high[0], ...shots.map(({ shot }) => shot.stand.position[0])];
  const ys = [low[1], high[1], ...shots.map(({ shot }) => shot.stand.position[1])];
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const round = Math.min(0.9 * Math.max(high[0] - low[0], high[1] - low[1]), 3.6);
  return {
    x: x0 - round,
    y: y0 - round,
    width: Math.max(0.01, x1 - x0) + 2 * round,
    height: Math.max(0.01, y1 - y0) + 2 * round,
  };
}

interface Props {
  project: Project;
  draft: ShotDraft | null;
  /** Where the scout view stands and looks, while it is on. */
  scout: { at: Point; toward: Point } | null;
  placing: boolean;
  setPlacing: (on: boolean) => void;
  onPlaced: (stand: Point, aim: Point) => void;
  onChoose: (id: string) => void;
  onHeight: (height: number) => void;
  onLevel: (level: string) => void;
  putHabits: PutHabits;
  look: MarkerLook;
  putLook: (look: MarkerLook) => void;
  /** Suggested stands, as ghosts. */
  ghosts: Suggestion[] | null;
  overGhost: number | null;
  onGhost: (n: number) => void;
  /** What a line that is drawn here is for; null while none is wanted. */
  onLine: ((drawing: "plan", start: Point, end: Point) => void) | null;
  /** Where a stand-in was put. */
  onStandIn: (n: number, to: Point) => void;
  /** The instrument that is open. */
  open: string;
}

/** The plan: a real cut of the set, with every stand on it and the chosen shot's wedge. */
export function Plan({
  project,
  draft,
  scout,
  placing,
  setPlacing,
  onPlaced,
  onChoose,
  onHeight,
  onLevel,
  putHabits,
  look,
  putLook,
  ghosts,
  overGhost,
  onGhost,
  onLine,
  onStandIn,
  open,
}: Props) {
  const ruling = useRuling(onLine && ((start, end) => onLine("plan", start, end)));
  const desk = useWholeDesk(draft);
  const { data: plan, error } = usePlan(project);
  const [drawn, setDrawn] = useState<{ stand: Point; aim: Point } | null>(null);
  const shot = desk?.row ?? null;
  // Near the chosen shot; the whole plan where none is chosen.
  const extent = useMemo<Extent>(() => {
    const one = shot?.shot.stand;
    if (!one) return firstLook(project.shots, project.set.body);
    const xs = [one.position[0], one.aim[0]];
    const ys = [one.position[1], one.aim[1]];
    const [low, high] = project.set.body;
    const size = Math.max(high[0] - low[0], high[1] - low[1]);
    if (project.set.small) {
      // A thing on a table is seen whole, with who looks at it.
      xs.push(low[0], high[0]);
      ys.push(low[1], high[1]);
    }
    const [left, right, bottom, top] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    const reach = Math.max(
      Math.min(4.5, 0.8 * size),
      Math.hypot(right - left, top - bottom) * (project.set.small ? 0.6 : 0.8),
    );
    const middle: Point = [(left + right) / 2, (bottom + top) / 2];
    return { x: middle[0] - reach, y: middle[1] - reach * 0.8, width: 2 * reach, height: 1.6 * reach };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- looked at anew only when another shot is chosen
  }, [shot?.id, plan === undefined]);
  // All suggested stands, while there are some.
  const offered = useMemo<Extent | null>(() => {
    if (!ghosts?.length) return null;
    const [xs, ys] = [0, 1].map((k) => ghosts.flatMap(({ stand }) => [stand.position[k]!, stand.aim[k]!])) as [
      number[],
      number[],
    ];
    const [x, y] = [Math.min(...xs), Math.min(...ys)];
    return { x: x - 1, y: y - 1, width: Math.max(...xs) - x + 2, height: Math.max(...ys) - y + 2 };
  }, [ghosts]);
  // The chosen shot may stand on another level than the one the plan is cut on.
  const elsewhere = shot?.level && project.plan_level && shot.level !== project.plan_level ? shot.level : null;
  const note = error ? error.message : placing ? text.drawings.pressWhereTheCamera : "";
  const off = !desk || desk.row.locked;
  // The chosen shot lies on top, also where another stands at the same place.
  const numbered = markedShots(project, look, shot?.id ?? null);
  const inOrder = [
    ...numbered.filter(({ row }) => row.id !== shot?.id),
    ...numbered.filter(({ row }) => row.id === shot?.id),
  ];
  return (
    <Paper
      title={text.drawings.plan}
      label={text.drawings.planOfTheSet}
      extent={offered ?? extent}
      home={`${shot?.id ?? "whole"}${offered ? `|${JSON.stringify(offered)}` : ""}`}
      note={note}
      over={
        !error &&
        !placing &&
        elsewhere && (
          <Plain onPress={() => onLevel(elsewhere)} style={{ color: spruce }}>
            {text.everywhere.show(elsewhere)}
          </Plain>
        )
      }
      tools={
        <>
          {placing ? (
            <Heights project={project} put={putHabits} />
          ) : (
            <>
              <MarkerMenu look={look} put={putLook} />
              <NumberField
                inline
                label={text.drawings.cutAt}
                unit="meter"
                step={0.05}
                of={ProjectChange.plan_height}
                value={project.plan_height}
                onCommit={onHeight}
              />
            </>
          )}
          <Toggle isSelected={placing} onChange={setPlacing}>
            {text.drawings.placeAShot}
          </Toggle>
        </>
      }
      onPress={(place) => {
        if (!placing) return ruling.press(place);
        setDrawn({ stand: place, aim: place });
        return true;
      }}
      onDrag={(aim) => {
        ruling.drag(aim);
        setDrawn((d) => d && { ...d, aim });
      }}
      cursor={onLine ? "crosshair" : undefined}
      onRelease={(aim) => {
        if (ruling.release(aim)) return;
        if (drawn) onPlaced(drawn.stand, aim);
        setDrawn(null);
      }}
    >
      {(eye) => (
        <>
          <defs>
            <Hatch id="plan-hatch" />
          </defs>
          <Rooms eye={eye} project={project} />
          {plan && <CutLines eye={eye} cut={plan.cut} open={plan.cut_open} beyond={plan.beyond} />}
          <StandInOutlines eye={eye} project={project} />
          <RoomNames eye={eye} project={project} />
          {desk && <Sight eye={eye} drawing={desk.sheet.drawings.plan} hatch="plan-hatch" />}
          {inOrder.map(({ row, n }) => {
            const on = row.id === shot?.id;
            const stand =
              on && desk
                ? desk.sheet.drawings.plan.stand
                : ([row.shot.stand.position[0], row.shot.stand.position[1]] as Point);
            const toward =
              on && desk ? desk.sheet.drawings.plan.aim : ([row.shot.stand.aim[0], row.shot.stand.aim[1]] as Point);
            const [px, py] = eye.at(...stand);
            return (
              <g key={row.id}>
                <Tripod
                  eye={eye}
                  x={stand[0]}
                  y={stand[1]}
                  toward={toward}
                  number={n + 1}
                  on={on}
                  colour={markerColour(row, on)}
                  opacity={on ? 1 : look.opacity}
                  size={look.size}
                />
                {!on && (
                  <circle
                    data-handle={`shot ${n + 1}`}
                    cx={px}
                    cy={py}
                    r={12}
                    fill="transparent"
                    style={{ cursor: "pointer" }}
                    role="button"
                    aria-label={text.drawings.chooseShot(n + 1, row.shot.name)}
                    tabIndex={-1}
                    onClick={() => onChoose(row.id)}
                  />
                )}
              </g>
            );
          })}
          {project.stand_ins.map((one, n) => {
            const [px, py] = eye.at(one.at[0], one.at[1]);
            return (
              <Handle
                key={`${one.name}${n}`}
                eye={eye}
                x={one.at[0]}
                y={one.at[1]}
                label={text.drawings.inPlan(one.name)}
                onMove={() => undefined}
                onDone={(to) => onStandIn(n, to)}
                onDrop={() => undefined}
              >
                <rect x={px - 3.5} y={py - 3.5} width={7} height={7} fill="#fff" stroke="#202322" strokeWidth={1.2} />
              </Handle>
            );
          })}
          {ghosts?.map((ghost, n) => {
            const [x, y] = [ghost.stand.position[0], ghost.stand.position[1]];
            const [px, py] = eye.at(x, y);
            return (
              <g key={`ghost${n}`}>
                <Tripod
                  eye={eye}
                  x={x}
                  y={y}
                  toward={[ghost.stand.aim[0], ghost.stand.aim[1]]}
                  number={letter(n)}
                  on={n === overGhost}
                  colour={n === overGhost ? undefined : "#8b8f8d"}
                  opacity={n === overGhost ? 1 : 0.75}
                />
                <circle
                  data-handle={`suggestion ${letter(n)}`}
                  cx={px}
                  cy={py}
                  r={11}
                  fill="transparent"
                  style={{ cursor: "pointer" }}
                  role="button"
                  aria-label={text.drawings.takeSuggestedStand(letter(n))}
                  onClick={() => onGhost(n)}
                />
              </g>
            );
          })}
          {desk &&
            PANELS.map(
              ({ key, InPlan }) =>
                InPlan && <InPlan key={key} project={project} desk={desk} off={off} open={key === open} eye={eye} />,
            )}
          {ruling.drawn(eye)}
          {scout && <ScoutMark eye={eye} at={scout.at} toward={scout.toward} />}
          {drawn && <NewLine eye={eye} stand={drawn.stand} aim={drawn.aim} />}
          <North width={eye.width} deg={project.site.north_deg} />
        </>
      )}
    </Paper>
  );
}

type PlanEye = Parameters<Parameters<typeof Paper>[0]["children"]>[0];

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
