import { useId } from "react";
import type { Project } from "../../api/client";
import { ink, quiet, spruce } from "../../kit/tokens";
import { metres } from "../../kit/words";

const FIGURE_M = 1.75;
/** As small as the figure is drawn for the width's sake: a very wide set is broken off instead. */
const SMALLEST_FIGURE_PX = 26;

/** The set's outline from the south beside a standing figure of 1.75 m: a wrong unit or axis is seen at once. */
export function SizeAgainstFigure({ set, width = 520, height = 150 }: { set: Project["set"]; width?: number; height?: number }) {
  const clip = useId();
  const [low, high] = set.bounds;
  const wide = high[0] - low[0];
  const tall = Math.max(high[2] - low[2], 1e-6);
  const span = wide + FIGURE_M * 0.6 + Math.max(wide, FIGURE_M) * 0.12;
  const whole = (width - 20) / span;
  const scale = Math.min((height - 14) / Math.max(tall, FIGURE_M), Math.max(whole, SMALLEST_FIGURE_PX / FIGURE_M));
  const floor = height - 4;
  const figure = FIGURE_M * scale;
  const left = 10 + figure * 0.45 + 10;
  const right = Math.min(left + Math.max(1, wide * scale), width - 16);
  const broken = wide * scale > right - left + 1;
  const step = (height - 8) / 4;
  const breaks = `l5 ${step}l-10 ${step * 2}l5 ${step}`;
  const outline = set.outline.map(([x, z]) => `${(left + (x - low[0]) * scale).toFixed(1)} ${(floor - (z - low[2]) * scale).toFixed(1)}`).join("L");
  return (
    <figure style={{ margin: 0 }}>
      <svg viewBox={`0 0 ${width} ${height}`} style={{ width: "100%", maxWidth: width, display: "block" }} role="img" aria-label={`The set is ${metres(wide)} wide, ${metres(high[1] - low[1])} deep and ${metres(tall)} high`}>
        <clipPath id={clip}><path d={`M0 0H${right}${broken ? `V4${breaks}` : `V${height}`}H0Z`} /></clipPath>
        <line x1={0} x2={width} y1={floor} y2={floor} stroke={ink} />
        <path d={`M${outline}Z`} fill="#E6EDEA" stroke={spruce} clipPath={`url(#${clip})`} />
        {broken && [0, 6].map((off) => <path key={off} d={`M${right + off} 4${breaks}`} fill="none" stroke={spruce} strokeWidth={0.9} />)}
        <g transform={`translate(${10 + figure * 0.2} ${floor}) scale(${figure / 100})`} fill={ink}>
          <circle cx={0} cy={-92} r={8} />
          <path d="M-13 -80 Q0 -86 13 -80 L15 -44 L10 -44 L9 0 L1.5 0 L0 -38 L-1.5 0 L-9 0 L-10 -44 L-15 -44 Z" />
        </g>
      </svg>
      <figcaption style={{ color: quiet }}>{metres(wide)} wide, {metres(high[1] - low[1])} deep, {metres(tall)} high, beside a figure of 1.75 m{broken ? "; broken off in the drawing" : ""}</figcaption>
    </figure>
  );
}
