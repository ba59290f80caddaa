import { useState } from "react";
import { http, type Project, answerOf, useSection } from "../api/client";
import { Button, Toggle } from "../kit/controls";
import { useLength } from "../kit/ruler";
import { ink, ochre, quiet, spruce } from "../kit/tokens";
import { CutLines, Slip } from "./ink";
import { Handle } from "./Handle";
import { type Extent, type Eye, Paper, type Point } from "./Paper";
import { text } from "../text";

/** Where the section runs: from a place in plan along a heading, counted from straight up. */
export interface Line {
  x: number;
  y: number;
  heading: number;
}

interface Props {
  project: Project;
  line: Line;
  turn: () => void;
  chosenStandIn: number | null;
  naming: boolean;
  setNaming: (on: boolean) => void;
  onLevel: (floor: number) => void;
  onLevelMoved: (n: number, floor: number) => void;
  onCut: (height: number) => void;
  onStandIn: (n: number, to: Point) => void;
}

/** A section through the set, with its levels and the plan's cut as lines to be taken. */
export function SetSection({
  project,
  line,
  turn,
  chosenStandIn,
  naming,
  setNaming,
  onLevel,
  onLevelMoved,
  onCut,
  onStandIn,
}: Props) {
  const { data: section, error } = useSection(project, line);
  const [moved, setMoved] = useState<{ what: string; y: number } | null>(null);
  const [low, high] = project.set.body;
  const reach = Math.max(0.01, Math.hypot(high[0] - low[0], high[1] - low[1]) / 2);
  const air = Math.min(0.5, 0.3 * reach);
  const extent: Extent = {
    x: -reach - air,
    y: low[2] - air,
    width: 2 * (reach + air),
    height: high[2] - low[2] + 2 * air,
  };
  const press = (place: Point) => {
    if (!naming) return false;
    void answerOf(
      http.GET("/api/projects/{key}/section/floor", {
        params: { path: { key: project.id }, query: { ...line, across: place[0], z: place[1] } },
      }),
    ).then((floor) => onLevel(floor.z));
    return true;
  };
  return (
    <Paper
      title={text.drawings.section}
      label={text.drawings.sectionOfTheSet}
      extent={extent}
      home={`${project.set.revision}|${project.set.placing.up}|${project.set.placing.metres_per_unit}|${line.heading % 180}`}
      note={error ? error.message : naming ? text.drawings.pressOnAFloor : ""}
      onPress={press}
      cursor={naming ? "crosshair" : undefined}
      tools={
        <>
          <Toggle isSelected={naming} onChange={setNaming}>
            {text.everywhere.addALevel}
          </Toggle>
          <Button onPress={turn}>{text.everywhere.turnBy90}</Button>
        </>
      }
    >
      {(eye) => (
        <>
          {section && <CutLines eye={eye} cut={section.cut} open={section.cut_open} beyond={section.beyond} />}
          <CutHeight
            eye={eye}
            y={moved?.what === "cut" ? moved.y : project.plan_height}
            lifted={project.lifted_above}
            onMove={(y) => setMoved({ what: text.drawings.cut, y })}
            onDone={(y) => {
              setMoved(null);
              onCut(y);
            }}
            onDrop={() => setMoved(null)}
          />
          {project.places.levels.map((level, n) => (
            <LevelLine
              key={level.name}
              eye={eye}
              name={level.name}
              y={moved?.what === level.name ? moved.y : level.floor_m}
              at={30 + (n % 2) * 4}
              onMove={(y) => setMoved({ what: level.name, y })}
              onDone={(y) => {
                setMoved(null);
                onLevelMoved(n, y);
              }}
              onDrop={() => setMoved(null)}
            />
          ))}
          {section?.stand_ins.map((mark) =>
            mark.number === chosenStandIn ? (
              <Handle
                key={mark.number}
                eye={eye}
                x={mark.at[0]}
                y={mark.at[1]}
                label={text.drawings.inSection(project.stand_ins[mark.number]?.name ?? text.drawings.standIn)}
                onMove={() => undefined}
                onDone={(to) => onStandIn(mark.number, to)}
                onDrop={() => undefined}
              >
                <circle
                  cx={eye.at(...mark.at)[0]}
                  cy={eye.at(...mark.at)[1]}
                  r={6}
                  fill="#fff"
                  stroke={spruce}
                  strokeWidth={2.2}
                />
              </Handle>
            ) : null,
          )}
        </>
      )}
    </Paper>
  );
}

interface LineProps {
  eye: Eye;
  y: number;
  onMove: (y: number) => void;
  onDone: (y: number) => void;
  onDrop: () => void;
}

function LevelLine({ eye, name, y, at, onMove, onDone, onDrop }: LineProps & { name: string; at: number }) {
  const length = useLength();
  const py = eye.at(0, y)[1];
  const handle = (eye.at(0, 0)[0] - at) / eye.scale;
  return (
    <>
      <g pointerEvents="none">
        <line x1={0} x2={eye.width} y1={py} y2={py} stroke={spruce} strokeWidth={0.9} strokeDasharray="14 3 3 3" />
        <Slip x={40} lines={[{ y: py - 8, words: `${name} ${length(y)}` }]} />
        <text x={46} y={py - 8} fontSize={11} fill={spruce}>
          <tspan fontWeight={650}>{name}</tspan> {length(y)}
        </text>
      </g>
      <Handle
        eye={eye}
        x={-handle}
        y={y}
        cursor="ns-resize"
        label={text.everywhere.floorOf(name)}
        onMove={(p) => onMove(p[1])}
        onDone={(p) => onDone(p[1])}
        onDrop={onDrop}
      >
        <path d={`M${at} ${py}l-9 -6h18z`} fill="#fff" stroke={spruce} strokeWidth={1.5} />
      </Handle>
    </>
  );
}

function CutHeight({ eye, y, lifted, onMove, onDone, onDrop }: LineProps & { lifted: boolean }) {
  const length = useLength();
  const py = eye.at(0, y)[1];
  const x = eye.width - 22;
  const color = lifted ? ochre : quiet;
  const words = (lifted ? text.drawings.planCutAllAboveLifted : text.drawings.planCutAt)(length(y));
  return (
    <>
      <g pointerEvents="none">
        {lifted && <rect x={0} y={0} width={eye.width} height={Math.max(0, py)} fill="#FAFAF9" fillOpacity={0.6} />}
        <line x1={0} x2={eye.width} y1={py} y2={py} stroke={color} strokeWidth={1} strokeDasharray="5 4" />
        <Slip x={x - 10} lines={[{ y: py - 8, words }]} end />
        <text x={x - 16} y={py - 8} fontSize={11} textAnchor="end" fill={lifted ? ochre : ink}>
          {words}
        </text>
      </g>
      <Handle
        eye={eye}
        x={(x - eye.at(0, 0)[0]) / eye.scale}
        y={y}
        cursor="ns-resize"
        label={text.drawings.heightOfThePlans}
        onMove={(p) => onMove(p[1])}
        onDone={(p) => onDone(p[1])}
        onDrop={onDrop}
      >
        <circle cx={x} cy={py} r={5} fill="#fff" stroke={color} strokeWidth={1.8} />
      </Handle>
    </>
  );
}
