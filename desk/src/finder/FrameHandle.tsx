import { type KeyboardEvent, type PointerEvent, type ReactNode, useRef } from "react";
import type { FrameRect } from "../stage/frameRect";

export type Spot = [number, number];
/** What is held with a pull: the opposite side goes along, the ratio stays. */
export interface Held {
  both: boolean;
  ratio: boolean;
}

interface Props {
  frame: FrameRect;
  /** Where it is, in shares of the frame from its bottom left. */
  at: Spot;
  label: string;
  cursor: string;
  off: boolean;
  /** `from`: where it was when it was taken. */
  onMove: (to: Spot, held: Held, from: Spot) => void;
  onDone: (to: Spot, held: Held, from: Spot) => void;
  onDrop: () => void;
  children: ReactNode;
}

/** A share of the frame for one press of an arrow key. */
const STEP = 0.01;

/** Something of the picture's frame that is taken and moved in the finder: by pointer, or with the arrow keys. */
export function FrameHandle({ frame, at, label, cursor, off, onMove, onDone, onDrop, children }: Props) {
  // The frame may become another one under the hand: what it does is told by the one it began in.
  const held = useRef<{ frame: FrameRect; from: Spot; dx: number; dy: number; moved: boolean } | null>(null);
  const spot = (event: PointerEvent): Spot => {
    const { frame: own, dx, dy } = held.current!;
    return [(event.clientX - dx - own.left) / own.width, 1 - (event.clientY - dy - own.top) / own.height];
  };
  const keys = (event: PointerEvent | KeyboardEvent): Held => ({ both: event.altKey, ratio: event.shiftKey });
  const down = (event: PointerEvent) => {
    if (off || event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    const [x, y] = [frame.left + at[0] * frame.width, frame.top + (1 - at[1]) * frame.height];
    held.current = { frame, from: at, dx: event.clientX - x, dy: event.clientY - y, moved: false };
  };
  const move = (event: PointerEvent) => {
    if (!held.current) return;
    held.current.moved = true;
    onMove(spot(event), keys(event), held.current.from);
  };
  const up = (event: PointerEvent) => {
    if (!held.current) return;
    const [{ moved, from }, to] = [held.current, spot(event)];
    held.current = null;
    if (moved) onDone(to, keys(event), from);
    else onDrop();
  };
  const key = (event: KeyboardEvent) => {
    const steps: Record<string, Spot> = {
      ArrowLeft: [-STEP, 0],
      ArrowRight: [STEP, 0],
      ArrowUp: [0, STEP],
      ArrowDown: [0, -STEP],
    };
    const step = steps[event.key];
    if (off || !step) return;
    event.preventDefault();
    event.stopPropagation();
    onDone([at[0] + step[0], at[1] + step[1]], keys(event), at);
  };
  return (
    <g
      data-handle={label}
      role="slider"
      aria-label={label}
      aria-valuenow={Number((at[0] * 100).toFixed(1))}
      aria-valuetext={`${(at[0] * 100).toFixed(1)} %, ${(at[1] * 100).toFixed(1)} %`}
      aria-disabled={off}
      tabIndex={off ? -1 : 0}
      style={{ cursor: off ? "default" : cursor, pointerEvents: "all", touchAction: "none" }}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={() => {
        held.current = null;
        onDrop();
      }}
      onKeyDown={key}
    >
      {children}
    </g>
  );
}
