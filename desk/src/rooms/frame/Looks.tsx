import { type ReactNode, useRef, useState } from "react";
import styled from "styled-components";
import type { PairFocus, Project } from "../../api/client";
import { Finder } from "../../finder/Finder";
import type { Point } from "../../drawings/Paper";
import { byMatrix } from "../../stage/seen";
import type { ShotMarker } from "../../stage/markers";
import { PICKS } from "../../instruments";
import { Plain } from "../../kit/controls";
import { Split, useSplit } from "../../kit/split";
import { ink, ochre } from "../../kit/tokens";
import { type ShotDraft, useDrawnShot } from "../../shots/draft";
import { gestureOf, type Grip, LensLook } from "./LensLook";
import type { ScoutDesk } from "./scout";
import { text } from "../../text";

const nowhere: Point[] = [];

export type Arrangement = "one" | "beside" | "inset";

const Area = styled.div`
  position: relative;
  display: grid;
  min-height: 0;
  min-width: 0;
  > .look {
    min-width: 0;
    min-height: 0;
    display: grid;
    position: relative;
  }
`;
const Inset = styled.div`
  position: absolute;
  display: grid;
  right: 12px;
  bottom: 12px;
  z-index: 2;
  border: 2px solid #fff;
  box-shadow: 0 1px 8px rgba(0, 0, 0, 0.4);
`;
const Corner = styled.div`
  position: absolute;
  left: -5px;
  top: -5px;
  width: 16px;
  height: 16px;
  z-index: 4;
  cursor: nwse-resize;
  touch-action: none;
  border-left: 4px solid #fff;
  border-top: 4px solid #fff;
`;
const Tools = styled.div`
  position: absolute;
  left: 12px;
  top: 10px;
  display: flex;
  gap: 2px;
  background: rgba(35, 38, 37, 0.82);
  color: #fff;
  border-radius: 3px;
  padding: 2px;
  z-index: 3;
  [aria-pressed="true"] {
    background: #fff;
    color: ${ink};
  }
`;
const Away = styled.div`
  position: absolute;
  left: 12px;
  bottom: 10px;
  z-index: 1;
  background: rgba(250, 250, 249, 0.92);
  color: ${ochre};
  border-radius: 3px;
  padding: 2px 4px 2px 10px;
  display: flex;
  gap: 6px;
  align-items: center;
  font-size: 12px;
  font-weight: 600;
`;
const Asked = styled.div`
  position: absolute;
  left: 50%;
  top: 10px;
  transform: translateX(-50%);
  z-index: 3;
  background: #fff;
  color: ${ink};
  border-radius: 3px;
  padding: 3px 12px;
  font-weight: 600;
  white-space: nowrap;
`;

interface Props {
  project: Project;
  draft: ShotDraft | null;
  scout: ScoutDesk;
  scouting: boolean;
  inHand: boolean;
  clean: boolean;
  picking: string | null;
  pick: (what: string | null) => void;
  /** The instrument that is open. */
  open: string;
  alone: string | null;
  arrangement: Arrangement;
  ratio: number;
  setRatio: (ratio: number) => void;
  markers: ShotMarker[];
  onPutBack: () => void;
  onPair: (shot: string, focus: PairFocus) => void;
}

/** What is looked at: through the lens, round the set, or both at once. */
export function Looks(p: Props) {
  const { project, draft, scout, scouting, arrangement } = p;
  const solved = useDrawnShot(draft, () => true) ?? false;
  const [grip, setGrip] = useState<Grip>("look");
  const [share, setShare] = useSplit("looks", 50, 20, 80);
  const [insetWidth, setInsetWidth] = useSplit("inset", 300, 160, 640);
  const area = useRef<HTMLDivElement>(null);
  const both = arrangement !== "one" && solved;
  const asked = p.picking === null ? undefined : PICKS[p.picking];
  const [gathered, gather] = useState<{ for: string | null; places: Point[] }>({ for: null, places: nowhere });
  const pressed = gathered.for === p.picking ? gathered.places : nowhere;
  const lens = (
    <LensLook {...p} grip={grip} pressed={pressed} gather={(places) => gather({ for: p.picking, places })} />
  );
  const round = (
    <Finder
      project={project}
      picture={
        scout.answer && {
          view: scout.answer.view,
          ...byMatrix(scout.answer.projection),
          ratio: p.ratio,
          guides: [],
          inset: scout.answer.frame,
        }
      }
      around={false}
      whole
      clean={p.clean}
      picking={false}
      label={text.everywhere.scoutView}
      onRatio={p.setRatio}
      onPick={() => undefined}
      markers={p.markers}
      onPushStart={scout.hold}
      onPush={(push) => scout.move(gestureOf(push, grip))}
      onWheel={scout.wheel}
      onStep={scout.step}
    />
  );
  const [first, second]: [ReactNode, ReactNode] = scouting ? [round, lens] : [lens, round];
  return (
    <Area
      ref={area}
      style={
        both && arrangement === "beside"
          ? { gridTemplateColumns: `minmax(0, ${share}fr) minmax(0, ${100 - share}fr)` }
          : undefined
      }
    >
      <div className="look">{first}</div>
      {both && arrangement === "beside" && (
        <div className="look" style={{ borderLeft: "2px solid #fff" }}>
          {second}
        </div>
      )}
      {both && arrangement === "beside" && (
        <Split
          label={text.frame.widthOfTheFirst}
          at={{ left: `calc(${share}% - 3px)` }}
          value={share}
          onMove={(d) => setShare(share + (d / (area.current?.clientWidth ?? 800)) * 100)}
        />
      )}
      {both && arrangement === "inset" && (
        <Inset style={{ width: insetWidth, height: Math.round(insetWidth * 0.64) }}>
          {second}
          <InsetCorner width={insetWidth} resize={setInsetWidth} />
        </Inset>
      )}
      {(scouting || p.inHand || both) && (
        <Tools role="group" aria-label={text.frame.whatDraggingDoes}>
          {(["look", "orbit", "truck"] as const).map((kind) => (
            <Plain key={kind} aria-pressed={grip === kind} onPress={() => setGrip(kind)}>
              {{ look: text.frame.look, orbit: text.everywhere.orbit, truck: text.everywhere.truck }[kind]}
            </Plain>
          ))}
        </Tools>
      )}
      {asked && !p.clean && (
        <Asked role="status">
          {asked.presses ? text.frame.pressOf(asked.words, pressed.length + 1, asked.presses) : asked.words}
        </Asked>
      )}
      {!asked && !p.clean && <SupposedWords draft={draft} />}
      {(project.hidden.length > 0 || project.lifted_above) && !p.clean && (
        <Away>
          {project.hidden.length > 0
            ? text.frame.liftedOffWhileWorking(text.counts.part(project.hidden.length))
            : text.frame.allAboveTheCut}{" "}
          <Plain onPress={p.onPutBack}>{text.everywhere.putBack}</Plain>
        </Away>
      )}
    </Area>
  );
}

/** What something pointed at would do, in words. */
function SupposedWords({ draft }: { draft: ShotDraft | null }) {
  const supposed = useDrawnShot(draft, (desk) => desk.supposed);
  return supposed && <Asked role="status">{supposed.words}</Asked>;
}

function InsetCorner({ width, resize }: { width: number; resize: (width: number) => void }) {
  const held = useRef<number | null>(null);
  return (
    <Corner
      role="separator"
      aria-label={text.frame.sizeOfTheInset}
      aria-valuenow={Math.round(width)}
      tabIndex={0}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        held.current = e.clientX;
      }}
      onPointerMove={(e) => {
        if (held.current !== null) {
          resize(width - (e.clientX - held.current));
          held.current = e.clientX;
        }
      }}
      onPointerUp={() => {
        held.current = null;
      }}
      onKeyDown={(e) => {
        const by = { ArrowLeft: 16, ArrowUp: 16, ArrowRight: -16, ArrowDown: -16 }[e.key];
        if (by) {
          e.preventDefault();
          e.stopPropagation();
          resize(width + by);
        }
      }}
    />
  );
}
