import { type CSSProperties, useCallback, useRef } from "react";
import styled from "styled-components";
import { useRemembered } from "./remembered";
import { spruce } from "./tokens";

const Bar = styled.div<{ $vertical: boolean }>`
  position: absolute;
  z-index: 3;
  touch-action: none;
  ${(p) => (p.$vertical ? "left: 0; right: 0; height: 7px; cursor: ns-resize;" : "top: 0; bottom: 0; width: 7px; cursor: ew-resize;")}
  &:hover, &:focus-visible {
    background: ${spruce};
    opacity: 0.35;
    outline: none;
  }
`;

/** A size that is remembered in this browser. */
export function useSplit(name: string, first: number, least: number, most: number): [number, (value: number) => void] {
  const [kept, keep] = useRemembered(`zevlo-split-${name}`, first);
  const put = useCallback((next: number) => keep(Math.min(most, Math.max(least, next))), [keep, least, most]);
  return [kept >= least && kept <= most ? kept : first, put];
}

/** The line between two areas: dragged, or moved with the arrow keys. */
export function Split({
  label,
  vertical = false,
  at,
  value,
  onMove,
}: {
  label: string;
  vertical?: boolean;
  at: CSSProperties;
  value: number;
  onMove: (by: number) => void;
}) {
  const held = useRef<number | null>(null);
  const spot = (e: React.PointerEvent) => (vertical ? e.clientY : e.clientX);
  return (
    <Bar
      $vertical={vertical}
      style={at}
      role="separator"
      aria-label={label}
      aria-orientation={vertical ? "horizontal" : "vertical"}
      aria-valuenow={Math.round(value)}
      tabIndex={0}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        held.current = spot(e);
      }}
      onPointerMove={(e) => {
        if (held.current !== null) {
          const now = spot(e);
          onMove(now - held.current);
          held.current = now;
        }
      }}
      onPointerUp={() => {
        held.current = null;
      }}
      onKeyDown={(e) => {
        const by = { ArrowLeft: -16, ArrowRight: 16, ArrowUp: -16, ArrowDown: 16 }[e.key];
        if (by) {
          e.preventDefault();
          e.stopPropagation();
          onMove(by);
        }
      }}
    />
  );
}
