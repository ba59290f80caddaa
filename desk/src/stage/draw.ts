import { type RefObject, useEffect, useRef } from "react";
import { underWay } from "../kit/settled";
import { Pace } from "./pace";
import type { Look, Stage } from "./stage";

/**
 * Draws a look of the set on a canvas whenever it is another one: at once in all pixels where the machine is quick
 * enough, else coarsely while a hand moves and finely when it rests. `came`: what else has to come anew, as pieces of
 * the set.
 */
export function useDrawn(
  canvas: RefObject<HTMLCanvasElement | null>,
  stage: Stage | null,
  look: Omit<Look, "fineness"> | null,
  came: string,
) {
  const pace = useRef(new Pace());
  const size = look && `${look.width} ${look.height}`;
  useEffect(() => pace.current.took(null), [size]);
  useEffect(() => {
    const pacing = pace.current;
    return () => pacing.stop();
  }, [stage]);
  // Numbers come anew with every answer; what they say is what counts. Lists keep their identity while they are the
  // same.
  const seen =
    look &&
    JSON.stringify([
      look.view,
      look.projection,
      look.grid?.directions,
      look.shade?.greys,
      look.near,
      look.far,
      look.frame,
      look.width,
      look.height,
      look.sunward,
      look.place,
      look.cutAbove,
      look.marked,
      look.around,
      look.cutting,
      look.soft,
    ]);
  useEffect(() => {
    const target = canvas.current;
    if (!stage || !target || !look) return;
    const draw = (fineness: number, wholly = false) => stage.draw(target, { ...look, fineness }, wholly);
    const noted = () => target.setAttribute("data-drawn", look.view.join());
    const over = underWay();
    const wait = requestAnimationFrame(() => {
      over();
      if (pace.current.quick) {
        draw(1);
        noted();
        return;
      }
      const finely = () => {
        const began = performance.now();
        draw(1, true);
        pace.current.took(performance.now() - began);
        noted();
      };
      // The first picture of its size is drawn in all pixels, and measured: nothing finer comes after it.
      if (!pace.current.known) {
        finely();
        return;
      }
      pace.current.follow(() => draw(pace.current.fineness(), true));
      pace.current.rest(finely);
    });
    return () => {
      cancelAnimationFrame(wait);
      over();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- drawn anew when something drawn is another one
  }, [stage, seen, came, look?.hidden, look?.ghosts, look?.markers, look?.cap]);
}
