import { type PointerEvent, useRef } from "react";

type Place = [number, number];

/**
 * Pointer events for something in a drawing that is pulled: told in the drawing's own units, from where its group has
 * zero.
 */
export function usePulled(off: boolean, onMove: (to: Place) => void, onDone: (to: Place) => void, onDrop: () => void) {
  const moved = useRef<boolean | null>(null);
  const place = (event: PointerEvent<SVGGraphicsElement>): Place => {
    const group = event.currentTarget.parentElement as unknown as SVGGraphicsElement;
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(group.getScreenCTM()!.inverse());
    return [at.x, at.y];
  };
  return {
    onPointerDown: (event: PointerEvent<SVGGraphicsElement>) => {
      if (off || event.button !== 0) return;
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      moved.current = false;
    },
    onPointerMove: (event: PointerEvent<SVGGraphicsElement>) => {
      if (moved.current === null) return;
      moved.current = true;
      onMove(place(event));
    },
    onPointerUp: (event: PointerEvent<SVGGraphicsElement>) => {
      if (moved.current) onDone(place(event));
      moved.current = null;
    },
    onPointerCancel: () => {
      moved.current = null;
      onDrop();
    },
  };
}
