import { type KeyboardEvent, type PointerEvent, type RefObject, useEffect, useRef } from "react";
import { useRuler } from "../kit/ruler";
import type { FrameRect } from "../stage/frameRect";

/** How far the picture was pushed, in shares of the frame, and what was held with it. */
export interface Push {
  right: number;
  up: number;
  shift: boolean;
  alt: boolean;
}

interface Presses {
  picking: boolean;
  onPick: (x: number, y: number) => void;
  onPush?: (push: Push) => void;
  onPushStart?: () => void;
  onPushEnd?: (push: Push) => void;
}

/** A press in the picture: on a place in the frame while one picks, else the picture is pushed. */
export function usePresses(
  area: RefObject<HTMLElement | null>,
  frame: FrameRect | null,
  { picking, onPick, onPush, onPushStart, onPushEnd }: Presses,
) {
  const pushing = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  const share = (event: PointerEvent, from: { x: number; y: number }): Push => ({
    right: frame ? (event.clientX - from.x) / frame.width : 0,
    up: frame ? -(event.clientY - from.y) / frame.height : 0,
    shift: event.shiftKey,
    alt: event.altKey,
  });
  const onPointerDown = (event: PointerEvent) => {
    if (event.button !== 0 || !frame) return;
    if (picking) {
      const box = area.current?.getBoundingClientRect();
      if (!box) return;
      const x = (event.clientX - box.left - frame.left) / frame.width;
      const y = 1 - (event.clientY - box.top - frame.top) / frame.height;
      if (x >= 0 && x <= 1 && y >= 0 && y <= 1) onPick(x, y);
      return;
    }
    if (!onPush) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    pushing.current = { x: event.clientX, y: event.clientY, moved: false };
    onPushStart?.();
  };
  const onPointerMove = (event: PointerEvent) => {
    if (!pushing.current) return;
    pushing.current.moved = true;
    onPush?.(share(event, pushing.current));
  };
  const onPointerUp = (event: PointerEvent) => {
    const from = pushing.current;
    pushing.current = null;
    if (from?.moved) onPushEnd?.(share(event, from));
  };
  return { onPointerDown, onPointerMove, onPointerUp, onPointerCancel: onPointerUp };
}

/** Steps by arrow keys, as far as the set's ruler has it; with Ctrl turns, with Shift round what is aimed at. */
export function useKeys(
  onStep?: (ahead: number, right: number, up: number) => void,
  onTurn?: (right: number, up: number, around: boolean) => void,
) {
  const ruler = useRuler();
  return (event: KeyboardEvent) => {
    const turn = { ArrowUp: [0, 1], ArrowDown: [0, -1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[event.key];
    if (event.ctrlKey || event.metaKey) {
      if (!onTurn || !turn) return;
      event.preventDefault();
      onTurn(turn[0]!, turn[1]!, event.shiftKey);
      return;
    }
    if (!onStep || event.altKey) return;
    const step = event.shiftKey ? ruler.stride_m : ruler.walk_m;
    const steps: Record<string, [number, number, number]> = {
      ArrowUp: [step, 0, 0],
      ArrowDown: [-step, 0, 0],
      ArrowLeft: [0, -step, 0],
      ArrowRight: [0, step, 0],
      PageUp: [0, 0, step / 2],
      PageDown: [0, 0, -step / 2],
    };
    const taken = steps[event.key];
    if (taken) {
      event.preventDefault();
      onStep(...taken);
    }
  };
}

/** The wheel over the picture, in notches; the page stays where it is. */
export function useWheel(area: RefObject<HTMLElement | null>, onWheel?: (notches: number) => void) {
  useEffect(() => {
    const node = area.current;
    if (!node || !onWheel) return;
    const turned = (event: WheelEvent) => {
      event.preventDefault();
      onWheel(Math.sign(event.deltaY));
    };
    node.addEventListener("wheel", turned, { passive: false });
    return () => node.removeEventListener("wheel", turned);
  }, [area, onWheel]);
}
