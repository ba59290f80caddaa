import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { http, type Project, type Snap, answerOf, usePlan } from "../api/client";
import { ProjectChange } from "../api/limits";
import { Toggle } from "../kit/controls";
import { NumberField } from "../kit/fields";
import { typing } from "../kit/shortcuts";
import { ink, spruce } from "../kit/tokens";
import { North, RoomNames, Rooms, roomsHere, ScoutMark, StandInOutlines } from "./building";
import { CutLines } from "./ink";
import { Handle } from "./Handle";
import { path } from "./outlines";
import { type Extent, type Eye, Paper, type Point } from "./Paper";
import type { Line } from "./SetSection";
import { text } from "../text";

interface Props {
  project: Project;
  scout: { at: Point; toward: Point } | null;
  line: Line;
  onLine: (line: Line) => void;
  drawing: boolean;
  setDrawing: (on: boolean) => void;
  chosenRoom: number | null;
  chooseRoom: (n: number | null) => void;
  chosenStandIn: number | null;
  chooseStandIn: (n: number | null) => void;
  onRoom: (outline: Point[]) => void;
  onCorner: (room: number, corner: number, to: Point) => void;
  onStandIn: (n: number, to: Point) => void;
  onFacing: (n: number, to: Point) => void;
  onCut: (height: number) => void;
}

/** Asks where a drawn corner was meant to lie; the newest question wins. */
function useSnap(project: Project) {
  const [over, setOver] = useState<Snap | null>(null);
  const busy = useRef(false);
  const next = useRef<(() => Promise<void>) | null>(null);
  const ask = useCallback(
    (place: Point, reach: number, last: Point | null) =>
      answerOf(
        http.GET("/api/projects/{key}/snap", {
          params: {
            path: { key: project.id },
            query: {
              height: project.plan_height,
              x: place[0],
              y: place[1],
              reach,
              last_x: last?.[0] ?? null,
              last_y: last?.[1] ?? null,
            },
          },
        }),
      ),
    [project.id, project.plan_height],
  );
  const hover = useCallback(
    (place: Point, reach: number, last: Point | null) => {
      next.current = async () => setOver(await ask(place, reach, last));
      if (busy.current) return;
      busy.current = true;
      void (async () => {
        try {
          while (next.current) {
            const step = next.current;
            next.current = null;
            await step();
          }
        } catch {
          setOver(null);
        } finally {
          busy.current = false;
        }
      })();
    },
    [ask],
  );
  return { over, setOver, ask, hover };
}

/** The plan in the Set room: rooms are drawn and shaped here, stand-ins moved, the section's line laid. */
export function SetPlan(p: Props) {
  const { project, drawing, line } = p;
  const { data: plan, error } = usePlan(project);
  const [corners, setCorners] = useState<Point[]>([]);
  const [by, setBy] = useState<Point>([0, 0]);
  const reachNow = useRef(0.1);
  const snap = useSnap(project);
  const extent = useMemo<Extent>(() => {
    const [low, high] = project.set.body;
    return { x: low[0], y: low[1], width: Math.max(0.01, high[0] - low[0]), height: Math.max(0.01, high[1] - low[1]) };
  }, [project.set.body]);
  const { setDrawing, onRoom } = p;
  const finish = useCallback(
    (outline: Point[]) => {
      setCorners([]);
      setDrawing(false);
      if (outline.length >= 3) onRoom(outline);
    },
    [onRoom, setDrawing],
  );
  useEffect(() => {
    if (!drawing) setCorners([]);
    if (!drawing) return;
    const key = (event: KeyboardEvent) => {
      if (typing(event.target)) return;
      if (event.key === "Enter") finish(corners);
      if (event.key === "Backspace") setCorners((c) => c.slice(0, -1));
      if (event.key === "Escape") setDrawing(false);
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, [drawing, corners, finish, setDrawing]);

  const press = (place: Point): boolean => {
    if (!drawing) return false;
    const reach = reachNow.current;
    const first = corners[0];
    if (first && corners.length >= 3 && Math.hypot(place[0] - first[0], place[1] - first[1]) <= reach) {
      finish(corners);
      return true;
    }
    void snap.ask(place, reach, corners.at(-1) ?? null).then((at) => setCorners((c) => [...c, [at.x, at.y]]));
    return true;
  };
  const note = error ? error.message : (project.plan_level ?? "");
  return (
    <Paper
      title={text.drawings.plan}
      label={text.drawings.planOfTheSet}
      extent={extent}
      home={`set|${project.set.revision}|${project.set.placing.up}|${project.set.placing.metres_per_unit}|${project.set.placing.turn_deg}`}
      note={note}
      cursor={drawing ? "crosshair" : undefined}
      onPress={press}
      onHover={(place, reach) => {
        reachNow.current = reach;
        if (drawing) snap.hover(place, reach, corners.at(-1) ?? null);
      }}
      tools={
        <>
          <NumberField
            inline
            label={text.drawings.cutAt}
            unit="meter"
            step={0.05}
            of={ProjectChange.plan_height}
            value={project.plan_height}
            onCommit={p.onCut}
          />
          <Toggle
            isSelected={drawing}
            isDisabled={project.plan_level == null && project.places.levels.length > 0}
            onChange={setDrawing}
          >
            {text.everywhere.drawARoom}
          </Toggle>
        </>
      }
    >
      {(eye) => (
        <>
          <Rooms eye={eye} project={project} chosen={p.chosenRoom} />
          {plan && <CutLines eye={eye} cut={plan.cut} open={plan.cut_open} beyond={plan.beyond} />}
          <StandInOutlines eye={eye} project={project} chosen={p.chosenStandIn} by={by} />
          <RoomNames eye={eye} project={project} />
          <SectionLine eye={eye} line={line} onLine={p.onLine} off={drawing} />
          {!drawing && (
            <RoomHandles
              {...p}
              eye={eye}
              snapTo={async (to, reach) => {
                const at = await snap.ask(to, reach, null);
                return [at.x, at.y];
              }}
            />
          )}
          {!drawing &&
            project.stand_in_marks.map((mark, n) => {
              const at: Point = [project.stand_ins[n]!.at[0], project.stand_ins[n]!.at[1]];
              const on = n === p.chosenStandIn;
              if (!on && !mark.here) return null;
              const [x, y] = eye.at(at[0] + (on ? by[0] : 0), at[1] + (on ? by[1] : 0));
              return (
                <g key={n} onPointerDownCapture={() => p.chooseStandIn(n)}>
                  {on && by[0] === 0 && by[1] === 0 && (
                    <Turner
                      eye={eye}
                      at={at}
                      front={mark.front}
                      name={project.stand_ins[n]!.name}
                      onDone={(to) => p.onFacing(n, to)}
                    />
                  )}
                  <Handle
                    eye={eye}
                    x={at[0]}
                    y={at[1]}
                    label={text.drawings.inPlan(project.stand_ins[n]!.name)}
                    onMove={(to) => setBy([to[0] - at[0], to[1] - at[1]])}
                    onDone={(to) => {
                      setBy([0, 0]);
                      p.onStandIn(n, to);
                    }}
                    onDrop={() => setBy([0, 0])}
                  >
                    <circle
                      cx={x}
                      cy={y}
                      r={on ? 6 : 4}
                      fill="#fff"
                      stroke={on ? spruce : ink}
                      strokeWidth={on ? 2.2 : 1.2}
                    />
                  </Handle>
                </g>
              );
            })}
          {p.scout && <ScoutMark eye={eye} at={p.scout.at} toward={p.scout.toward} />}
          {drawing && <Drawn eye={eye} corners={corners} over={snap.over} />}
          <North width={eye.width} deg={project.site.north_deg} />
        </>
      )}
    </Paper>
  );
}

/** What a stand-in is turned by: before it, and far enough from its middle to be taken apart from it. */
function Turner({
  eye,
  at,
  front: [fx, fy],
  name,
  onDone,
}: {
  eye: Eye;
  at: Point;
  front: Point;
  name: string;
  onDone: (to: Point) => void;
}) {
  const [to, setTo] = useState<Point | null>(null);
  const far = Math.max(1, 30 / (Math.hypot(fx - at[0], fy - at[1]) * eye.scale));
  const front: Point = [at[0] + (fx - at[0]) * far, at[1] + (fy - at[1]) * far];
  const [x, y] = eye.at(...(to ?? front));
  const [ax, ay] = eye.at(...at);
  return (
    <>
      <line x1={ax} y1={ay} x2={x} y2={y} stroke={spruce} strokeWidth={1.2} pointerEvents="none" />
      <Handle
        eye={eye}
        x={front[0]}
        y={front[1]}
        label={text.drawings.turnOf(name)}
        onMove={setTo}
        onDone={(p) => {
          setTo(null);
          onDone(p);
        }}
        onDrop={() => setTo(null)}
      >
        <circle cx={x} cy={y} r={4} fill={spruce} />
      </Handle>
    </>
  );
}

function RoomHandles({
  project,
  chosenRoom,
  chooseRoom,
  onCorner,
  eye,
  snapTo,
}: Props & { eye: Eye; snapTo: (to: Point, reach: number) => Promise<Point> }) {
  const [moved, setMoved] = useState<{ corner: number; to: Point } | null>(null);
  return (
    <>
      {roomsHere(project).map(({ room, n }) => {
        if (n !== chosenRoom) {
          const [x, y] = eye.at(...project.room_marks[n]!.at);
          return (
            <circle
              key={n}
              data-handle={room.name}
              cx={x}
              cy={y}
              r={16}
              fill="transparent"
              style={{ cursor: "pointer" }}
              role="button"
              aria-label={text.drawings.chooseTheRoom(room.name)}
              onClick={() => chooseRoom(n)}
            />
          );
        }
        const outline = room.outline.map((corner, k) => (moved?.corner === k ? moved.to : (corner as Point)));
        return (
          <g key={n}>
            {moved && (
              <path
                d={path(eye, outline.flat(), true)}
                fill="none"
                stroke={spruce}
                strokeWidth={1.6}
                pointerEvents="none"
              />
            )}
            {room.outline.map((corner, k) => {
              const [x, y] = eye.at(...outline[k]!);
              return (
                <Handle
                  key={k}
                  eye={eye}
                  x={corner[0]}
                  y={corner[1]}
                  label={text.drawings.cornerOf(k + 1, room.name)}
                  onMove={(to) => setMoved({ corner: k, to })}
                  onDrop={() => setMoved(null)}
                  onDone={(to) => {
                    setMoved(null);
                    void snapTo(to, 10 / eye.scale).then((at) => onCorner(n, k, at));
                  }}
                >
                  <rect x={x - 4} y={y - 4} width={8} height={8} fill="#fff" stroke={spruce} strokeWidth={1.6} />
                </Handle>
              );
            })}
          </g>
        );
      })}
    </>
  );
}

const SNAPPED = { corner: "corner", wall: "wall", square: text.drawings.squareOn, nothing: "" } as const;

/** A room on its way: its corners so far, and where the next would be put. */
function Drawn({ eye, corners, over }: { eye: Eye; corners: Point[]; over: Snap | null }) {
  const points = over ? [...corners, [over.x, over.y] as Point] : corners;
  const end = over && eye.at(over.x, over.y);
  return (
    <g pointerEvents="none">
      <path d={path(eye, points.flat())} fill={spruce} fillOpacity={0.08} stroke={spruce} strokeWidth={1.6} />
      {corners.map((corner, n) => {
        const [x, y] = eye.at(...corner);
        return (
          <rect
            key={n}
            x={x - 4}
            y={y - 4}
            width={8}
            height={8}
            fill={n === 0 ? spruce : "#fff"}
            stroke={spruce}
            strokeWidth={1.6}
          />
        );
      })}
      {end && over && (
        <>
          <circle
            cx={end[0]}
            cy={end[1]}
            r={5}
            fill="none"
            stroke={spruce}
            strokeWidth={over.to === "nothing" ? 1 : 2.2}
          />
          <text
            x={end[0] + 9}
            y={end[1] - 7}
            fontSize={11}
            fill={spruce}
            stroke="#FAFAF9"
            strokeWidth={3}
            paintOrder="stroke"
          >
            {SNAPPED[over.to]}
          </text>
        </>
      )}
    </g>
  );
}

/** Where the section runs: a chain line with arrows to the side one looks from. */
function SectionLine({ eye, line, onLine, off }: { eye: Eye; line: Line; onLine: (line: Line) => void; off: boolean }) {
  const [to, setTo] = useState<Point | null>(null);
  const [x, y] = eye.at(...(to ?? [line.x, line.y]));
  const long = Math.hypot(eye.width, eye.height);
  return (
    <>
      <g transform={`translate(${x} ${y}) rotate(${line.heading - 90})`} pointerEvents="none" stroke={ink} fill="none">
        <line x1={-long} x2={long} strokeWidth={0.8} strokeDasharray="16 4 3 4" />
        <path d="M26 0v-12m-4 5l4 -5l4 5M-26 0v-12m-4 5l4 -5l4 5" strokeWidth={1.1} />
      </g>
      <Handle
        eye={eye}
        x={line.x}
        y={line.y}
        off={off}
        label={text.drawings.lineOfTheSection}
        onMove={setTo}
        onDone={(p) => {
          setTo(null);
          onLine({ ...line, x: p[0], y: p[1] });
        }}
        onDrop={() => setTo(null)}
      >
        <circle cx={x} cy={y} r={4} fill="#fff" stroke={ink} strokeWidth={1.4} />
      </Handle>
    </>
  );
}
