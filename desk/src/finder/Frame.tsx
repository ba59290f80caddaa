import type { Sheet } from "../api/client";
import type { FrameRect } from "../stage/stage";

interface Size { width: number; height: number }

/** What a shot of the scout view would show: its frame in the middle of the picture, the rest dimmed. */
export function InsetFrame({ size, inset }: { size: Size; inset: Size }) {
  const [left, top] = [(size.width - inset.width) / 2, (size.height - inset.height) / 2];
  return (
    <svg aria-hidden>
      <path fillRule="evenodd" fill="rgba(35,38,37,0.45)" d={`M0 0H${size.width}V${size.height}H0ZM${left} ${top}v${inset.height}h${inset.width}v${-inset.height}Z`} />
      <rect x={left} y={top} width={inset.width} height={inset.height} fill="none" stroke="#fff" strokeDasharray="7 4" strokeWidth={1.5} />
    </svg>
  );
}

/** The frame's edge, with its guides in it; what lies outside is dimmed where it is drawn. */
export function Frame({ size, frame, around, guides }: { size: Size; frame: FrameRect; around: boolean; guides: Sheet["guides"] }) {
  return (
    <svg aria-hidden data-frame={`${frame.left},${frame.top},${frame.width},${frame.height}`}>
      {around && (
        <path fillRule="evenodd" fill="rgba(35,38,37,0.62)" d={`M0 0H${size.width}V${size.height}H0ZM${frame.left} ${frame.top}v${frame.height}h${frame.width}v${-frame.height}Z`} />
      )}
      <rect x={frame.left - 1} y={frame.top - 1} width={frame.width + 2} height={frame.height + 2} fill="none" stroke={around ? "#fff" : "#232625"} strokeWidth={around ? 2 : 1} />
      {guides.flatMap((guide) =>
        guide.lines.map(([x0, y0, x1, y1]) => {
          const place = { x1: frame.left + x0 * frame.width, x2: frame.left + x1 * frame.width, y1: frame.top + (1 - y0) * frame.height, y2: frame.top + (1 - y1) * frame.height };
          return (
            <g key={`${guide.name}${x0},${y0},${x1},${y1}`} data-guide={guide.name}>
              <line {...place} stroke="rgba(0,0,0,0.45)" strokeWidth={2.4} />
              <line {...place} stroke="rgba(255,255,255,0.85)" strokeWidth={1} />
            </g>
          );
        }),
      )}
    </svg>
  );
}
