import { type ReactNode, useRef } from "react";
import { useAhead } from "../kit/ahead";
import { fine, useRuler } from "../kit/ruler";
import type { Eye, Point } from "./Paper";

interface HandleProps {
  eye: Eye;
  x: number;
  y: number;
  label: string;
  cursor?: string;
  off?: boolean;
  /** Metres for one press of an arrow key. */
  step?: number;
  onMove: (place: Point) => void;
  onDone: (place: Point) => void;
  onDrop: () => void;
  children?: ReactNode;
}

/** Something drawn that can be taken and moved: by pointer, or with the arrow keys. */
export function Handle({
  eye,
  x,
  y,
  label,
  cursor = "move",
  off,
  step: wanted,
  onMove,
  onDone,
  onDrop,
  children,
}: HandleProps) {
  const ruler = useRuler();
  const step = wanted ?? ruler.step_m;
  const [reached, setAhead, forget] = useAhead<Point>([x, y]);
  const held = useRef<{ dx: number; dy: number; moved: boolean; last: Point } | null>(null);
  const [px, py] = eye.at(x, y);
  const spot = (event: React.PointerEvent): Point => {
    const hold = held.current;
    if (!hold) return [x, y];
    const bounds = (event.currentTarget as SVGElement).ownerSVGElement?.getBoundingClientRect();
    const [ox, oy] = eye.at(0, 0);
    return [
      (event.clientX - (bounds?.left ?? 0) - hold.dx - ox) / eye.scale,
      -(event.clientY - (bounds?.top ?? 0) - hold.dy - oy) / eye.scale,
    ];
  };
  const down = (event: React.PointerEvent) => {
    if (off || event.button !== 0) return;
    forget();
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    const bounds = (event.currentTarget as SVGElement).ownerSVGElement?.getBoundingClientRect();
    held.current = {
      dx: event.clientX - (bounds?.left ?? 0) - px,
      dy: event.clientY - (bounds?.top ?? 0) - py,
      moved: false,
      last: [x, y],
    };
  };
  const move = (event: React.PointerEvent) => {
    if (!held.current) return;
    const place = spot(event);
    held.current.moved = true;
    held.current.last = place;
    onMove(place);
  };
  const up = (event: React.PointerEvent) => {
    if (held.current?.moved) onDone(spot(event));
    held.current = null;
  };
  const key = (event: React.KeyboardEvent) => {
    const steps: Record<string, Point> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    };
    const by = steps[event.key];
    if (off || !by || event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    const many = event.shiftKey ? 10 : 1;
    const next: Point = [reached[0] + by[0] * many, reached[1] + by[1] * many];
    setAhead(next);
    onDone(next);
  };
  return (
    <g
      data-handle={label}
      role="slider"
      aria-label={label}
      aria-valuenow={Number(x.toFixed(fine(ruler)))}
      aria-valuetext={`${x.toFixed(fine(ruler))}, ${y.toFixed(fine(ruler))}`}
      aria-disabled={off}
      tabIndex={off ? -1 : 0}
      style={{ cursor: off ? "default" : cursor }}
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
      <circle cx={px} cy={py} r={13} fill="transparent" />
    </g>
  );
}
