import { type ReactNode, useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import styled from "styled-components";
import { Button } from "../kit/controls";
import { useRuler } from "../kit/ruler";
import { keepLook, lookAt } from "../kit/looks";
import { card, ink, quiet } from "../kit/tokens";
import { text } from "../text";

/** A part of the paper, in metres: x to the right, y up. */
export interface Extent {
  x: number;
  y: number;
  width: number;
  height: number;
}
export type Point = [number, number];

const Sheet = styled.div`
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  background: ${card};
  min-width: 0;
  min-height: 0;
  overflow: hidden;
  user-select: none;
  header {
    display: flex;
    gap: 8px;
    align-items: center;
    min-height: 34px;
    padding: 3px 8px 3px 12px;
  }
  header b {
    font-weight: 650;
  }
  header span {
    color: ${quiet};
    margin-right: auto;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  container-type: inline-size;
  @container (max-width: 330px) {
    header {
      gap: 3px;
    }
    header button {
      padding-left: 7px;
      padding-right: 7px;
    }
  }
`;
const Drawn = styled.div`
  position: relative;
  min-width: 0;
  min-height: 0;
  overflow: hidden;
  touch-action: none;
  > svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    display: block;
  }
`;

const Over = styled.div`
  position: absolute;
  left: 8px;
  top: 2px;
  background: ${card};
  border-radius: 3px;
`;

export interface Eye {
  /** Metres on paper to pixels. */
  at: (x: number, y: number) => Point;
  scale: number;
  width: number;
  height: number;
}

interface Props {
  title: string;
  note: ReactNode;
  tools?: ReactNode;
  /** Something to press that lies on the sheet itself, in its upper left corner. */
  over?: ReactNode;
  /** Shown first, and again when `home` changes. */
  extent: Extent;
  home: string;
  label: string;
  /** The scale bar stands at the top, where the foot of the sheet is taken. */
  barAtTop?: boolean;
  children: (eye: Eye) => ReactNode;
  /** Pressed on empty paper, at a place in metres. True: taken, the paper is not moved. */
  onPress?: (place: Point) => boolean;
  onDrag?: (place: Point) => void;
  onRelease?: (place: Point) => void;
  /** The pointer goes over the paper; `reach`: what ten pixels are in metres. */
  onHover?: (place: Point, reach: number) => void;
  cursor?: string;
}

/** A drawing sheet: moved by dragging empty paper, brought nearer with the wheel. */
export function Paper({
  title,
  note,
  tools,
  over,
  extent,
  home,
  label,
  barAtTop = false,
  children,
  onPress,
  onDrag,
  onRelease,
  onHover,
  cursor,
}: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const memory = `${title}|${home}`;
  const [looked, look] = useState<{ home: string; centre: Point; scale: number } | null>(null);
  const setLooked = (to: { home: string; centre: Point; scale: number } | null) => {
    look(to);
    keepLook(memory, to && { centre: to.centre, scale: to.scale });
  };
  const held = useRef<{ from: Point; centre: Point; taken: boolean } | null>(null);

  useLayoutEffect(() => {
    if (!box.current) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    watch.observe(box.current);
    return () => watch.disconnect();
  }, []);

  const fitted = {
    centre: [extent.x + extent.width / 2, extent.y + extent.height / 2] as Point,
    scale: Math.max(0.01, Math.min((size.width - 36) / extent.width, (size.height - 28) / extent.height)),
  };
  const kept = lookAt(memory);
  const own = looked && looked.home === home ? looked : kept && { home, ...kept };
  const now = own ?? { home, ...fitted };
  const { centre, scale } = now;
  const at = (x: number, y: number): Point => [
    size.width / 2 + (x - centre[0]) * scale,
    size.height / 2 - (y - centre[1]) * scale,
  ];
  const place = useCallback(
    (event: { clientX: number; clientY: number }): Point => {
      const bounds = box.current?.getBoundingClientRect();
      if (!bounds) return [0, 0];
      return [
        centre[0] + (event.clientX - bounds.left - size.width / 2) / scale,
        centre[1] - (event.clientY - bounds.top - size.height / 2) / scale,
      ];
    },
    [centre, scale, size],
  );

  useEffect(() => {
    const node = box.current;
    if (!node) return;
    const turned = (event: WheelEvent) => {
      event.preventDefault();
      const [x, y] = place(event);
      const next = Math.min(60000, Math.max(0.05, scale * (event.deltaY < 0 ? 1.15 : 1 / 1.15)));
      const k = scale / next;
      setLooked({ home, scale: next, centre: [x + (centre[0] - x) * k, y + (centre[1] - y) * k] });
    };
    node.addEventListener("wheel", turned, { passive: false });
    return () => node.removeEventListener("wheel", turned);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- setLooked goes by title and home alone
  }, [place, scale, centre, home]);

  const down = (event: React.PointerEvent) => {
    if (event.button !== 0 || (event.target as Element).closest("[data-handle]")) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const taken = onPress?.(place(event)) ?? false;
    held.current = { from: [event.clientX, event.clientY], centre, taken };
  };
  const move = (event: React.PointerEvent) => {
    const hold = held.current;
    if (!hold) {
      onHover?.(place(event), 10 / scale);
      return;
    }
    if (hold.taken) onDrag?.(place(event));
    else
      setLooked({
        home,
        scale,
        centre: [
          hold.centre[0] - (event.clientX - hold.from[0]) / scale,
          hold.centre[1] + (event.clientY - hold.from[1]) / scale,
        ],
      });
  };
  const up = (event: React.PointerEvent) => {
    if (held.current?.taken) onRelease?.(place(event));
    held.current = null;
  };
  const eye: Eye = { at, scale, width: size.width, height: size.height };
  return (
    <Sheet data-drawing={title} data-eye={`${centre[0]},${centre[1]},${scale}`}>
      <header>
        <b>{title}</b>
        <span>{note}</span>
        {tools}
        {own && (
          <Button aria-label={text.drawings.fitShowAllOfTheAgain(title.toLowerCase())} onPress={() => setLooked(null)}>
            {text.everywhere.fit}
          </Button>
        )}
      </header>
      <Drawn
        ref={box}
        onPointerDown={down}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={up}
        style={{ cursor }}
        data-paper
      >
        {size.width > 0 && (
          <svg role="group" aria-label={label}>
            {children(eye)}
            <ScaleBar eye={eye} top={barAtTop} />
          </svg>
        )}
        {over && <Over onPointerDown={(event) => event.stopPropagation()}>{over}</Over>}
      </Drawn>
    </Sheet>
  );
}

function ScaleBar({ eye, top }: { eye: Eye; top: boolean }) {
  const ruler = useRuler();
  const lengths = [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500];
  const length = lengths.find((l) => l * eye.scale >= 36) ?? 1000;
  const x = eye.width - 14 - length * eye.scale;
  const y = top ? 14 : eye.height - 12;
  const words =
    ruler.unit !== "m" && length < 1000 * ruler.metres
      ? `${Number((length / ruler.metres).toFixed(3))} ${ruler.unit}`
      : `${length} m`;
  const wide = 7 * words.length + 12;
  return (
    <g stroke={ink} strokeWidth={1} aria-hidden>
      <rect
        x={x - wide}
        y={y - 11}
        width={wide + length * eye.scale + 8}
        height={18}
        rx={2}
        fill={card}
        stroke="none"
      />
      <path d={`M${x} ${y - 4}v4h${length * eye.scale}v-4`} fill="none" />
      <text x={x - 6} y={y + 1} textAnchor="end" fontSize={11} fill={ink} stroke="none">
        {words}
      </text>
    </g>
  );
}
