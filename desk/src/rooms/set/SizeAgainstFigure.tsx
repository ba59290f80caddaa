import { useId } from "react";
import { type Project, useElevation } from "../../api/client";
import { ink, quiet, spruce } from "../../kit/tokens";
import { metres } from "../../kit/words";

const FIGURE_M = 1.75;
/** As small as the figure is drawn for the width's sake: a very wide set is broken off instead. */
const SMALLEST_FIGURE_PX = 26;

/** The set from the south beside a standing figure of 1.75 m: its doors show a wrong unit or axis at once. */
export function SizeAgainstFigure({ project, width = 520, height = 150 }: { project: Project; width?: number; height?: number }) {
  const clip = useId();
  const { data: elevation } = useElevation(project);
  const { set } = project;
  const [least, most] = set.bounds;
  const [low, high] = set.body;
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
  const part = broken || wide < most[0] - least[0] - 1e-6;
  const step = (height - 8) / 4;
  const breaks = `l5 ${step}l-10 ${step * 2}l5 ${step}`;
  const at = (x: number, z: number) => `${(left + (x - low[0]) * scale).toFixed(1)} ${(floor - (z - low[2]) * scale).toFixed(1)}`;
  const outline = set.outline.map(([x, z]) => at(x, z)).join("L");
  const lines = elevation?.lines ?? [];
  let edges = "";
  for (let n = 0; n + 3 < lines.length; n += 4) edges += `M${at(lines[n]!, lines[n + 1]!)}L${at(lines[n + 2]!, lines[n + 3]!)}`;
  return (
    <figure style={{ margin: 0 }}>
      <svg viewBox={`0 0 ${width} ${height}`} style={{ width: "100%", maxWidth: width, display: "block" }} role="img" aria-label={`The set is ${metres(most[0] - least[0])} wide, ${metres(most[1] - least[1])} deep and ${metres(most[2] - least[2])} high`}>
        <clipPath id={clip}><path d={`M${left - 1} 0H${right}${broken ? `V4${breaks}` : `V${height}`}H${left - 1}Z`} /></clipPath>
        <line x1={0} x2={width} y1={floor} y2={floor} stroke={ink} />
        <g clipPath={`url(#${clip})`}>
          <path d={`M${outline}Z`} fill="#E6EDEA" stroke={spruce} strokeOpacity={edges ? 0.25 : 1} />
          <path data-elevation d={edges} fill="none" stroke={spruce} strokeWidth={0.8} />
        </g>
        {broken && [0, 6].map((off) => <path key={off} d={`M${right + off} 4${breaks}`} fill="none" stroke={spruce} strokeWidth={0.9} />)}
        <g transform={`translate(${10 + figure * 0.2} ${floor}) scale(${figure / 100})`} fill={ink}>
          <circle cx={0} cy={-92} r={8} />
          <path d="M-13 -80 Q0 -86 13 -80 L15 -44 L10 -44 L9 0 L1.5 0 L0 -38 L-1.5 0 L-9 0 L-10 -44 L-15 -44 Z" />
        </g>
      </svg>
      <figcaption style={{ color: quiet }}>{metres(most[0] - least[0])} wide, {metres(most[1] - least[1])} deep, {metres(most[2] - least[2])} high, from {project.site.north_deg % 360 === 0 ? "the south" : "the foot of the plan"} beside a figure of 1.75 m{part ? "; part of it drawn" : ""}</figcaption>
    </figure>
  );
}
