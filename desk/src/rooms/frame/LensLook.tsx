import { useCallback, useRef, useState } from "react";
import type { PairFocus, Project, ShotGesture } from "../../api/client";
import type { Point } from "../../drawings/Paper";
import { BlurLabels } from "../../finder/BlurLabels";
import { Finder } from "../../finder/Finder";
import { BlurPreview, PressedPlace, SupposedFrame } from "../../finder/Frame";
import type { Push } from "../../finder/hand";
import { PANELS, PICKS } from "../../instruments";
import { useSoftness } from "../../instruments/choices";
import { Doing } from "../../kit/settled";
import { type ShotDesk, type ShotDraft, useWholeDesk } from "../../shots/draft";
import { seenThrough } from "../../stage/seen";
import { text } from "../../text";

const nowhere: Point[] = [];

export type Grip = "look" | "orbit" | "truck";

/** The gesture a push is, by what dragging does and the keys that are held. */
export const gestureOf = (push: Push, grip: Grip) => {
  const kind = push.alt ? "truck" : push.shift ? "orbit" : grip;
  return { kind, right: push.right, up: push.up } as const;
};

interface Props {
  project: Project;
  draft: ShotDraft | null;
  inHand: boolean;
  clean: boolean;
  picking: string | null;
  pick: (what: string | null) => void;
  /** The instrument that is open. */
  open: string;
  /** The crop that is looked at by itself. */
  alone: string | null;
  grip: Grip;
  /** Places that were pressed for what is picked, where it takes several. */
  pressed: Point[];
  gather: (places: Point[]) => void;
  onPair: (shot: string, focus: PairFocus) => void;
}

/** Through the lens. Dragging moves the shot only while it is in hand. */
export function LensLook({
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
}: Props) {
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
