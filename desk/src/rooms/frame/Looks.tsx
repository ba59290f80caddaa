import { type ReactNode, useCallback, useRef, useState } from "react";
import styled from "styled-components";
import type { PairFocus, Project, ShotGesture } from "../../api/client";
import { BlurLabels } from "../../finder/BlurLabels";
import { Finder } from "../../finder/Finder";
import { BlurPreview, PressedPlace, SupposedFrame } from "../../finder/Frame";
import type { Point } from "../../drawings/Paper";
import { byMatrix, seenThrough } from "../../stage/seen";
import type { Push } from "../../finder/hand";
import type { ShotMarker } from "../../stage/markers";
import { PANELS, PICKS } from "../../instruments";
import { useSoftness } from "../../instruments/choices";
import { Plain } from "../../kit/controls";
import { Doing } from "../../kit/settled";
import { Split, useSplit } from "../../kit/split";
import { ink, ochre } from "../../kit/tokens";
import { type ShotDesk, type ShotDraft, useDrawnShot, useWholeDesk } from "../../shots/draft";
import type { ScoutDesk } from "./scout";
import { text } from "../../text";

const nowhere: Point[] = [];

export type Grip = "look" | "orbit" | "truck";
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

const gestureOf = (push: Push, grip: Grip) => {
  const kind = push.alt ? "truck" : push.shift ? "orbit" : grip;
  return { kind, right: push.right, up: push.up } as const;
};

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

/** Through the lens. Dragging moves the shot only while it is in hand. */
function LensLook({
  project,
  draft,
  inHand,
  clean,
  picking,
  pick,
  open,
  alone: asked,
  grip,
  pressed,
  gather,
  onPair,
}: Props & { grip: Grip; pressed: Point[]; gather: (places: Point[]) => void }) {
  const desk = useWholeDesk(draft);
  const held = useRef<ShotDesk | null>(null);
  held.current = desk;
  const [turning] = useState(() => new Doing());
  const turned = useRef<{ timer: number; factor: number; desk: ShotDesk } | null>(null);
  const wheel = useCallback(
    (notches: number) => {
      const own = held.current;
      if (!own) return;
      // The turn goes to the shot it was made on, also where another was chosen before the wheel came to rest.
      const before = turned.current?.desk.row.id === own.row.id ? turned.current : null;
      if (before) window.clearTimeout(before.timer);
      const factor = (before?.factor ?? 1) * (notches < 0 ? 0.94 : 1 / 0.94);
      const gesture: ShotGesture = { kind: "dolly", factor };
      own.drag(gesture);
      const one = {
        factor,
        desk: own,
        timer: window.setTimeout(() => {
          turning.on = false;
          own.commit(text.everywhere.dolly, gesture);
          if (turned.current === one) turned.current = null;
        }, 350),
      };
      turned.current = one;
      turning.on = true;
    },
    [turning],
  );
  const [w, h] = desk?.sheet.back.output_px ?? [16, 9];
  const picture = desk && {
    view: desk.sheet.pose.view,
    ...seenThrough(desk.shot.lens, desk.sheet.lens, desk.sheet.drawings.cap ?? null),
    ratio: w / h,
    guides: desk.sheet.guides.filter(({ shown }) => shown),
  };
  const panel = PANELS.find(({ key }) => key === open);
  const [how] = useSoftness();
  const soft =
    desk && how !== "none"
      ? {
          how,
          blur: desk.sheet.focus.blur,
          limit: desk.sheet.focus.blur_limit_px,
          across: desk.sheet.back.output_px[0],
          fromStand: desk.sheet.lens.from_stand,
        }
      : null;
  const alone = desk?.sheet.back.crops.find(({ name }) => name === asked) ?? null;
  return (
    <Finder
      project={project}
      picture={picture}
      around={inHand || (panel?.showsAround === true && !clean && alone === null)}
      alone={alone?.frame}
      over={
        desk && !clean
          ? (frame) => (
              <>
                {pressed.map(([x, y]) => (
                  <PressedPlace key={`${x},${y}`} frame={frame} at={[x, y]} />
                ))}
                {how === "lines" && !alone && desk.sheet.focus.blur.times_px > 0 && (
                  <BlurLabels project={project} desk={desk} frame={frame} />
                )}
                {how === "drawn" && !alone && desk.sheet.focus.blur.times_px > 0 && <BlurPreview frame={frame} />}
                {desk.supposed && <SupposedFrame frame={frame} outline={desk.supposed.outline} />}
                {PANELS.map(
                  ({ key, InFinder }) =>
                    InFinder && (
                      <InFinder
                        key={key}
                        desk={desk}
                        frame={frame}
                        open={key === open}
                        alone={alone?.name ?? null}
                        off={desk.row.locked}
                      />
                    ),
                )}
              </>
            )
          : undefined
      }
      whole={false}
      clean={clean}
      soft={soft}
      picking={
        picking !== null &&
        (PICKS[picking]?.gesture ?? PICKS[picking]?.gestureOf ?? PICKS[picking]?.pairOf) !== undefined
      }
      label={text.frame.finderThroughTheLens}
      leftOut={desk?.row.left_out}
      ghosts={panel?.showsLeftOut === true && !clean}
      onPick={(x, y) => {
        const wanted = picking === null ? undefined : PICKS[picking];
        if (wanted?.gestureOf ?? wanted?.pairOf) {
          const places: Point[] = [...pressed, [x, y]];
          if (places.length < (wanted?.presses ?? 1)) return gather(places);
          gather(nowhere);
          pick(null);
          if (wanted?.gestureOf) return desk?.commit(wanted.label, wanted.gestureOf(places));
          if (wanted?.pairOf && desk) onPair(desk.row.id, wanted.pairOf(places));
          return;
        }
        if (!wanted?.gesture) return;
        if (!wanted.again) pick(null);
        desk?.commit(wanted.label, wanted.gesture(x, y));
      }}
      onPush={inHand ? (push) => desk?.drag(gestureOf(push, grip)) : undefined}
      onPushEnd={
        inHand
          ? (push) =>
              desk?.commit(
                { look: text.frame.panAndTilt, orbit: text.frame.orbitTheAim, truck: text.frame.truckAndPedestal }[
                  gestureOf(push, grip).kind
                ],
                gestureOf(push, grip),
              )
          : undefined
      }
      onWheel={inHand ? wheel : undefined}
      onStep={
        inHand ? (ahead, right, up) => desk?.commit(text.frame.walk, { kind: "walk", ahead, right, up }) : undefined
      }
      onTurn={
        inHand
          ? (right, up, around) => {
              const [label, move] = around
                ? ([text.frame.orbitByATurn, right ? "orbit" : "over"] as const)
                : ([text.frame.turnByAStep, right ? "pan" : "tilt"] as const);
              desk?.commit(label, (_, { habits }) => ({
                kind: "grip",
                move,
                by: (right || up) * habits.step_deg,
                both: true,
              }));
            }
          : undefined
      }
    />
  );
}
