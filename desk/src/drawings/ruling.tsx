import { useState } from "react";
import { ink } from "../kit/tokens";
import type { Eye, Point } from "./Paper";

/** A line being drawn on a sheet with one stroke. `done`: what it is for; null while no line is wanted. */
export function useRuling(done: ((start: Point, end: Point) => void) | null) {
  const [line, setLine] = useState<{ start: Point; end: Point } | null>(null);
  return {
    press: (place: Point): boolean => {
      if (!done) return false;
      setLine({ start: place, end: place });
      return true;
    },
    drag: (end: Point) => setLine((now) => now && { ...now, end }),
    release: (end: Point): boolean => {
      if (!line) return false;
      setLine(null);
      done?.(line.start, end);
      return true;
    },
    drawn: (eye: Eye) => {
      if (!line) return null;
      const [x1, y1] = eye.at(...line.start);
      const [x2, y2] = eye.at(...line.end);
      return (
        <line
          x1={x1}
          y1={y1}
          x2={x2}
          y2={y2}
          stroke={ink}
          strokeWidth={2}
          strokeDasharray="16 4 3 4"
          pointerEvents="none"
        />
      );
    },
  };
}
