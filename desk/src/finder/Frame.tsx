import type { ReactNode } from "react";
import { edgePrint, mid } from "../kit/tokens";
import type { Sheet } from "../api/client";
import type { FrameRect } from "../stage/frameRect";
import { text } from "../text";

interface Size {
  width: number;
  height: number;
}

/** What a shot of the scout view would show: its frame in the middle of the picture, the rest dimmed. */
export function InsetFrame({ size, inset }: { size: Size; inset: Size }) {
  const [left, top] = [(size.width - inset.width) / 2, (size.height - inset.height) / 2];
  return (
    <svg aria-hidden>
      <path
        fillRule="evenodd"
        fill="rgba(35,38,37,0.45)"
        d={`M0 0H${size.width}V${size.height}H0ZM${left} ${top}v${inset.height}h${inset.width}v${-inset.height}Z`}
      />
      <rect
        x={left}
        y={top}
        width={inset.width}
        height={inset.height}
        fill="none"
        stroke="#fff"
        strokeDasharray="7 4"
        strokeWidth={1.5}
      />
    </svg>
  );
}

/** A frame that is not there yet: where its edge would lie. */
export function SupposedFrame({
  frame,
  outline,
}: {
  frame: FrameRect;
  outline: readonly (readonly [number, number])[];
}) {
  if (outline.length < 3) return null;
  const d = `M${outline.map(([u, v]) => `${frame.left + u * frame.width} ${frame.top + (1 - v) * frame.height}`).join("L")}Z`;
  return (
    <g data-supposed>
      <path d={d} fill="none" stroke="rgba(0,0,0,0.6)" strokeWidth={4} />
      <path d={d} fill="none" stroke={edgePrint} strokeWidth={2} strokeDasharray="7 4" />
    </g>
  );
}

/** A place that was pressed, while more are to come. */
export function PressedPlace({ frame, at: [u, v] }: { frame: FrameRect; at: readonly [number, number] }) {
  const [x, y] = [frame.left + u * frame.width, frame.top + (1 - v) * frame.height];
  const d = `M${x - 9} ${y}h6m6 0h6M${x} ${y - 9}v6m0 6v6`;
  return (
    <g data-pressed>
      <path d={d} stroke="rgba(0,0,0,0.6)" strokeWidth={4} />
      <path d={d} stroke={edgePrint} strokeWidth={1.8} />
    </g>
  );
}

/** What a picture drawn with its blur is, and is not. */
export function BlurPreview({ frame }: { frame: FrameRect }) {
  return (
    <text
      data-blur-preview
      x={frame.left + frame.width - 8}
      y={frame.top + frame.height - 8}
      textAnchor="end"
      fontSize={11}
      fontWeight={600}
      fill="#fff"
      stroke="rgba(0,0,0,0.65)"
      strokeWidth={3}
      paintOrder="stroke"
    >
      {text.finder.blurAPreview}
    </text>
  );
}

/** The frame's edge, with its guides in it; what lies outside is dimmed where it is drawn. */
export function Frame({
  size,
  frame,
  around,
  alone,
  guides,
  children,
}: {
  size: Size;
  frame: FrameRect;
  around: boolean;
  alone: FrameRect | null;
  guides: Sheet["guides"];
  children: ReactNode;
}) {
  const edge = alone ?? frame;
  return (
    <svg data-frame={`${frame.left},${frame.top},${frame.width},${frame.height}`}>
      {around && (
        <path
          fillRule="evenodd"
          fill="rgba(35,38,37,0.62)"
          d={`M0 0H${size.width}V${size.height}H0ZM${frame.left} ${frame.top}v${frame.height}h${frame.width}v${-frame.height}Z`}
        />
      )}
      {alone && (
        <path
          fillRule="evenodd"
          fill={mid}
          d={`M0 0H${size.width}V${size.height}H0ZM${alone.left} ${alone.top}v${alone.height}h${alone.width}v${-alone.height}Z`}
        />
      )}
      <rect
        x={edge.left - 1}
        y={edge.top - 1}
        width={edge.width + 2}
        height={edge.height + 2}
        fill="none"
        stroke={around ? "#fff" : "#232625"}
        strokeWidth={around ? 2 : 1}
      />
      {guides.flatMap((guide) =>
        guide.lines.map(([x0, y0, x1, y1], n) => {
          const place = {
            x1: frame.left + x0 * frame.width,
            x2: frame.left + x1 * frame.width,
            y1: frame.top + (1 - y0) * frame.height,
            y2: frame.top + (1 - y1) * frame.height,
          };
          return (
            <g key={`${guide.name}${x0},${y0},${x1},${y1}`} data-guide={guide.name}>
              <line {...place} stroke="rgba(0,0,0,0.45)" strokeWidth={2.4} />
              <line {...place} stroke="rgba(255,255,255,0.85)" strokeWidth={1} />
              {guide.labels[n] && (
                <text
                  x={place.x2 + 6}
                  y={Math.max(place.y2, frame.top) + 14}
                  fontSize={12}
                  fontWeight={650}
                  fill="#fff"
                  stroke="rgba(0,0,0,0.65)"
                  strokeWidth={3}
                  paintOrder="stroke"
                >
                  {guide.labels[n]}
                </text>
              )}
            </g>
          );
        }),
      )}
      {children}
    </svg>
  );
}
