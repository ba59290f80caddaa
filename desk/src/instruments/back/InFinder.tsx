import { FrameHandle, type Spot } from "../../finder/FrameHandle";
import type { FrameRect } from "../../stage/frameRect";
import { useCropInHand, useGives } from "../choices";
import type { FinderProps } from "../described";
import { text } from "../../text";

type Frame = readonly [number, number, number, number];
const box = (frame: FrameRect, [left, bottom, right, top]: Frame) => ({
  x: frame.left + left * frame.width,
  y: frame.top + (1 - top) * frame.height,
  width: (right - left) * frame.width,
  height: (top - bottom) * frame.height,
});
const ACROSS = [
  ["left", 0],
  ["right", 1],
] as const;
const UP = [
  ["bottom", 0],
  ["top", 1],
] as const;
const CURSORS = {
  "left bottom": "nesw-resize",
  "right top": "nesw-resize",
  "left top": "nwse-resize",
  "right bottom": "nwse-resize",
} as const;

/** A line that is seen on dark and on light. */
function Outline({
  dash,
  width = 1.2,
  ...at
}: { dash?: string; width?: number; x: number; y: number; width_?: number; height: number } & Record<string, unknown>) {
  const { width_, ...place } = at;
  return (
    <>
      <rect
        {...place}
        width={width_}
        fill="none"
        stroke="rgba(0,0,0,0.55)"
        strokeWidth={width + 1.6}
        strokeDasharray={dash}
      />
      <rect {...place} width={width_} fill="none" stroke="#fff" strokeWidth={width} strokeDasharray={dash} />
    </>
  );
}

/**
 * The crops and the bleed in the frame; while the instrument is open, its edges to be pulled and the crop in hand to
 * be moved.
 */
export function BackInFinder({ desk, frame, open, alone, off }: FinderProps) {
  const { crops, bleed } = desk.sheet.back;
  const [inHand, take] = useCropInHand();
  return (
    <>
      {bleed && alone === null && <BleedLine frame={frame} bleed={bleed} />}
      {crops
        .filter(({ name }) => alone === null || name === alone)
        .map(({ name, frame: own }) => {
          const { width, ...at } = box(frame, own);
          const on = open && name === inHand;
          return (
            <g key={name} data-crop={name}>
              {alone === null && <Outline {...at} width_={width} dash="14 4 2 4" width={on ? 2 : 1.2} />}
              {alone === null && (
                <text
                  x={at.x + 6}
                  y={at.y + 15}
                  fontSize={11}
                  fontWeight={650}
                  fill="#fff"
                  stroke="rgba(0,0,0,0.6)"
                  strokeWidth={3}
                  paintOrder="stroke"
                  style={{ pointerEvents: open ? "all" : "none", cursor: "pointer" }}
                  onPointerDown={(e) => {
                    e.stopPropagation();
                    take(name);
                  }}
                >
                  {name}
                </text>
              )}
              {on && alone === null && <CutHandles desk={desk} name={name} frame={frame} own={own} off={off} />}
            </g>
          );
        })}
      {open && alone === null && <Edges desk={desk} frame={frame} off={off} />}
    </>
  );
}

function BleedLine({ frame, bleed }: { frame: FrameRect; bleed: Frame }) {
  const { width, ...at } = box(frame, bleed);
  return (
    <g data-bleed>
      <Outline {...at} width_={width} dash="1 4" />
    </g>
  );
}

type Parts = Pick<FinderProps, "desk" | "frame" | "off">;

/** The frame's sides and corners. What they are pulled to is outlined until the hand lets go. */
function Edges({ desk, frame, off }: Parts) {
  const [gives] = useGives();
  const edge = (
    x: "left" | "right" | null,
    y: "bottom" | "top" | null,
    at: Spot,
    shape: [number, number],
    cursor: string,
  ) => {
    const [px, py] = [frame.left + at[0] * frame.width, frame.top + (1 - at[1]) * frame.height];
    const sides = [y, x].filter((side) => side !== null);
    const gesture = (to: Spot, { both, ratio }: { both: boolean; ratio: boolean }) =>
      ({
        kind: "edge_to",
        x,
        y,
        to: to.map((share) => Math.min(Math.max(share, -20), 20)) as Spot,
        both,
        hold_ratio: ratio,
        gives: gives ?? null,
      }) as const;
    return (
      <FrameHandle
        key={sides.join(" ")}
        frame={frame}
        at={at}
        label={text.back.frameSide(sides)}
        cursor={cursor}
        off={off}
        onMove={(to, held) => desk.suppose(gesture(to, held))}
        onDone={(to, held) => {
          desk.suppose(null);
          desk.commit(x && y ? text.back.trimACorner : text.back.trimAnEdge, gesture(to, held));
        }}
        onDrop={() => desk.suppose(null)}
      >
        <rect
          x={px - shape[0] / 2}
          y={py - shape[1] / 2}
          width={shape[0]}
          height={shape[1]}
          rx={2}
          fill="#fff"
          stroke="#232625"
          strokeWidth={1}
        />
        <rect x={px - 12} y={py - 12} width={24} height={24} fill="transparent" />
      </FrameHandle>
    );
  };
  return (
    <g>
      {ACROSS.map(([x, u]) => edge(x, null, [u, 0.5], [5, 26], "ew-resize"))}
      {UP.map(([y, v]) => edge(null, y, [0.5, v], [26, 5], "ns-resize"))}
      {ACROSS.flatMap(([x, u]) => UP.map(([y, v]) => edge(x, y, [u, v], [9, 9], CURSORS[`${x} ${y}`])))}
    </g>
  );
}

/** The crop in hand: its middle moves it, its corners size it. */
function CutHandles({ desk, name, frame, own, off }: Parts & { name: string; own: Frame }) {
  const [left, bottom, right, top] = own;
  const middle: Spot = [(left + right) / 2, (bottom + top) / 2];
  const [mx, my] = [frame.left + middle[0] * frame.width, frame.top + (1 - middle[1]) * frame.height];
  const moved = (to: Spot, from: Spot) =>
    ({ kind: "crop_by", name, right: to[0] - from[0], up: to[1] - from[1] }) as const;
  return (
    <>
      <FrameHandle
        frame={frame}
        at={middle}
        label={text.back.crop(name)}
        cursor="move"
        off={off}
        onMove={(to, _, from) => desk.drag(moved(to, from))}
        onDone={(to, _, from) => desk.commit(text.back.moveACrop, moved(to, from))}
        onDrop={desk.drop}
      >
        <path d={`M${mx - 9} ${my}h18M${mx} ${my - 9}v18`} stroke="rgba(0,0,0,0.6)" strokeWidth={4} />
        <path d={`M${mx - 8} ${my}h16M${mx} ${my - 8}v16`} stroke="#fff" strokeWidth={2} />
        <circle cx={mx} cy={my} r={14} fill="transparent" />
      </FrameHandle>
      {ACROSS.flatMap(([x, u]) =>
        UP.map(([y, v]) => {
          const at: Spot = [u ? right : left, v ? top : bottom];
          const [px, py] = [frame.left + at[0] * frame.width, frame.top + (1 - at[1]) * frame.height];
          const pulled = (to: Spot) => ({ kind: "crop_corner", name, x, y, to }) as const;
          return (
            <FrameHandle
              key={`${x}${y}`}
              frame={frame}
              at={at}
              label={text.back.cornerOf(y, x, name)}
              cursor={CURSORS[`${x} ${y}`]}
              off={off}
              onMove={(to) => desk.drag(pulled(to))}
              onDone={(to) => desk.commit(text.back.sizeOfACrop, pulled(to))}
              onDrop={desk.drop}
            >
              <circle cx={px} cy={py} r={4.5} fill="#fff" stroke="#232625" />
              <circle cx={px} cy={py} r={12} fill="transparent" />
            </FrameHandle>
          );
        }),
      )}
    </>
  );
}
