import { useId } from "react";
import { edgePrint, film, filmText } from "../../kit/tokens";
import type { ShotDesk } from "../../shots/draft";
import { text } from "../../text";

type Shape = NonNullable<ShotDesk["sheet"]["focus"]["blur"]["shape"]>;
const [ROOM, HIGH] = [42, 116];
/** Where along a disc's half breadth its brightness is drawn from what the sheet tells of it. */
const STEPS = [0, 0.25, 0.5, 0.75, 1];

/** A light behind the focus as it will be drawn, in the middle of the picture and in its farthest corner. */
export function Discs({ desk }: { desk: ShotDesk }) {
  const { shape } = desk.sheet.focus.blur;
  if (!shape) return null;
  const percent = Math.round(shape.corner.share * 100);
  return (
    <svg viewBox={`0 0 272 ${HIGH}`} role="img" aria-label={text.focus.theBlurOfALight}>
      <rect width={272} height={HIGH} rx={3} fill={film} />
      <Disc shape={shape} of="middle" x={72} />
      <Disc shape={shape} of="corner" x={200} />
      <g fontSize={11} textAnchor="middle" fill={filmText}>
        <text x={72} y={HIGH - 7}>
          {text.focus.inTheMiddle}
        </text>
        <text x={200} y={HIGH - 7}>
          {percent < 100 ? text.focus.inTheCornerBy(percent) : text.focus.inTheCorner}
        </text>
      </g>
    </svg>
  );
}

function Disc({ shape, of, x }: { shape: Shape; of: "middle" | "corner"; x: number }) {
  const id = useId();
  const farthest = Math.max(1, ...shape.middle.outline.map(([a, b]) => Math.hypot(a, b)));
  const scale = ROOM / farthest;
  const [a, b] = shape.weights;
  const bright = STEPS.map((r) => a + b * (r * farthest) ** 2);
  const most = Math.max(...bright);
  const place = ([right, up]: readonly [number, number]) => `${(right * scale).toFixed(1)} ${(-up * scale).toFixed(1)}`;
  return (
    <g transform={`translate(${x} 49)`}>
      <radialGradient id={id} gradientUnits="userSpaceOnUse" cx={0} cy={0} r={ROOM}>
        {STEPS.map((r, n) => (
          <stop key={r} offset={r} stopColor={edgePrint} stopOpacity={bright[n]! / most} />
        ))}
      </radialGradient>
      <circle r={scale} fill="none" stroke="#6d7371" strokeDasharray="2 3" />
      {shape[of].outline.length > 2 && (
        <path
          data-disc={of}
          d={`M${shape[of].outline.map(place).join("L")}Z`}
          fill={`url(#${id})`}
          stroke={edgePrint}
          strokeWidth={1}
        />
      )}
    </g>
  );
}
