import { useId } from "react";
import { type Project, useElevation } from "../../api/client";
import { useLength } from "../../kit/ruler";
import { ink, quiet, spruce } from "../../kit/tokens";
import { text } from "../../text";

/** As small as the figure is drawn for the width's sake: a very wide set is broken off instead. */
const SMALLEST_FIGURE_PX = 26;

/** Standing on (0, 0), a hundred high. */
const FIGURES = {
  person:
    "M-8 -92a8 8 0 1 0 16 0a8 8 0 1 0 -16 0M-13 -80Q0 -86 13 -80L15 -44L10 -44L9 0L1.5 0L0 -38L-1.5 0L-9 0L-10 -44L-15 -44Z",
  hand: "M-15 0L-16 -16Q-22 -30 -22 -48L-23.5 -79Q-23 -84 -19 -84Q-15.5 -84 -15 -79L-13 -55L-11.5 -55L-11.5 -93Q-11 -98 -7 -98Q-3 -98 -2.5 -93L-2 -55L-0.5 -55L1 -95Q1.5 -100 5.5 -100Q9.5 -100 9.5 -95L9 -54L10.5 -54L13 -84Q13.5 -88.5 17 -88.5Q20.5 -88.5 20.5 -84L19 -46L19 -40Q23 -46 28.5 -57Q31.5 -62 35 -60Q38.5 -58 37 -53L28 -30Q23 -20 17 -14L16 0Z",
};
const BESIDE = { person: text.set.aFigure, hand: text.set.aHand };

/** The set from the south beside a standing person, or a hand where it is small: a wrong unit or axis shows at once. */
export function SizeAgainstFigure({
  project,
  width = 520,
  height = 150,
}: {
  project: Project;
  width?: number;
  height?: number;
}) {
  const length = useLength();
  const clip = useId();
  const { data: elevation } = useElevation(project);
  const { set } = project;
  const { beside, beside_m: besideM, unit, metres } = set.ruler;
  const [least, most] = set.bounds;
  const [low, high] = set.body;
  const wide = high[0] - low[0];
  const tall = Math.max(high[2] - low[2], 1e-6);
  const span = wide + besideM * 0.7 + Math.max(wide, besideM) * 0.12;
  const whole = (width - 20) / span;
  const scale = Math.min((height - 14) / Math.max(tall, besideM), Math.max(whole, SMALLEST_FIGURE_PX / besideM));
  const floor = height - 4;
  const figure = besideM * scale;
  const left = 10 + figure * 0.65 + 10;
  const right = Math.min(left + Math.max(1, wide * scale), width - 16);
  const broken = wide * scale > right - left + 1;
  const part = broken || wide < most[0] - least[0] - 1e-6;
  const step = (height - 8) / 4;
  const breaks = `l5 ${step}l-10 ${step * 2}l5 ${step}`;
  const at = (x: number, z: number) =>
    `${(left + (x - low[0]) * scale).toFixed(1)} ${(floor - (z - low[2]) * scale).toFixed(1)}`;
  const outline = set.outline.map(([x, z]) => at(x, z)).join("L");
  const lines = elevation?.lines ?? [];
  let edges = "";
  for (let n = 0; n + 3 < lines.length; n += 4)
    edges += `M${at(lines[n]!, lines[n + 1]!)}L${at(lines[n + 2]!, lines[n + 3]!)}`;
  return (
    <figure style={{ margin: 0 }}>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        style={{ width: "100%", maxWidth: width, display: "block" }}
        role="img"
        aria-label={text.set.theSetIsWide(
          length(most[0] - least[0]),
          length(most[1] - least[1]),
          length(most[2] - least[2]),
        )}
      >
        <clipPath id={clip}>
          <path d={`M${left - 1} 0H${right}${broken ? `V4${breaks}` : `V${height}`}H${left - 1}Z`} />
        </clipPath>
        <line x1={0} x2={width} y1={floor} y2={floor} stroke={ink} />
        <g clipPath={`url(#${clip})`}>
          <path d={`M${outline}Z`} fill="#E6EDEA" stroke={spruce} strokeOpacity={edges ? 0.25 : 1} />
          <path data-elevation d={edges} fill="none" stroke={spruce} strokeWidth={0.8} />
        </g>
        {broken &&
          [0, 6].map((off) => (
            <path key={off} d={`M${right + off} 4${breaks}`} fill="none" stroke={spruce} strokeWidth={0.9} />
          ))}
        <path
          transform={`translate(${10 + figure * 0.25} ${floor}) scale(${figure / 100})`}
          fill={ink}
          d={FIGURES[beside]}
        />
      </svg>
      <figcaption style={{ color: quiet }}>
        {text.set.size(length(most[0] - least[0]), length(most[1] - least[1]), length(most[2] - least[2]))},{" "}
        {project.site.north_deg % 360 === 0 ? text.set.fromTheSouth : text.set.fromTheFootOfThePlan}{" "}
        {text.set.besideOf(BESIDE[beside], Number((besideM / metres).toFixed(2)), unit)}
        {part && `; ${text.set.partOfItDrawn}`}
      </figcaption>
    </figure>
  );
}
