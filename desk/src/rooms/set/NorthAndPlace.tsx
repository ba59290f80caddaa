import { useRef, useState } from "react";
import type { Project } from "../../api/client";
import { Site } from "../../api/limits";
import { Choice } from "../../kit/choice";
import { Fields } from "../../kit/controls";
import { NumberField, TextField } from "../../kit/fields";
import { dialReading, onDial } from "../../kit/polar";
import { ink, ochre, quiet, spruce } from "../../kit/tokens";
import { text } from "../../text";

interface Props {
  project: Project;
  put: (change: Partial<Project["site"]>) => void;
  setPoints: (points: 8 | 16) => void;
}

/** Where north lies on the plan, turned by hand, and where on earth the set stands: the sun goes by both. */
export function NorthAndPlace({ project, put, setPoints }: Props) {
  const { site } = project;
  return (
    <>
      <Dial deg={site.north_deg} sunward={project.sunward} onDone={(north_deg) => put({ north_deg })} />
      <Fields $columns={2}>
        <NumberField
          label={text.set.northClockwiseFromUp}
          unit="degree"
          digits={2}
          step={1}
          of={Site.north_deg}
          value={site.north_deg}
          onCommit={(north_deg) => put({ north_deg })}
        />
        <TextField label={text.set.place} value={site.name || text.set.notNamed} onCommit={(name) => put({ name })} />
        <NumberField
          label={text.set.latitudeNorth}
          unit="degree"
          digits={4}
          step={0.1}
          of={Site.latitude_deg}
          value={site.latitude_deg ?? 0}
          onCommit={(latitude_deg) => put({ latitude_deg, longitude_deg: site.longitude_deg ?? 0 })}
        />
        <NumberField
          label={text.set.longitudeEast}
          unit="degree"
          digits={4}
          step={0.1}
          of={Site.longitude_deg}
          value={site.longitude_deg ?? 0}
          onCommit={(longitude_deg) => put({ longitude_deg, latitude_deg: site.latitude_deg ?? 0 })}
        />
      </Fields>
      <Choice
        label={text.set.directionsInTheNames}
        value={String(project.habits.compass_points)}
        onChoose={(points) => setPoints(points === "16" ? 16 : 8)}
        options={[
          { id: "8", name: text.set.eightPoints },
          { id: "16", name: text.set.sixteenPoints },
        ]}
      />
      <p style={{ color: quiet }}>
        {text.set.headingsOfShotsAndTheSun(
          site.latitude_deg == null ? text.set.noPlaceOnEarth : text.set.thePlaceIsKept,
        )}
      </p>
    </>
  );
}

function Dial({ deg, sunward, onDone }: { deg: number; sunward: Project["sunward"]; onDone: (deg: number) => void }) {
  const node = useRef<SVGCircleElement>(null);
  const held = useRef<number | null>(null);
  const [turned, setTurned] = useState<number | null>(null);
  const now = turned ?? deg;
  const r = 62;
  const read = (event: React.PointerEvent) => {
    const box = node.current?.getBoundingClientRect();
    return box ? dialReading(event.clientX - box.left - box.width / 2, event.clientY - box.top - box.height / 2) : 0;
  };
  const whole = (value: number) => Math.round((((value % 360) + 360) % 360) * 2) / 2;
  const sun = onDial(dialReading(sunward[0], -sunward[1]), r - 14);
  return (
    <svg viewBox="0 0 272 150" role="group" aria-label={text.set.northOnThePlan}>
      <g transform="translate(136 75)">
        <circle ref={node} r={r} fill="#fff" stroke={ink} />
        {Array.from({ length: 36 }, (_, n) => {
          const [x0, y0] = onDial(n * 10, r);
          const [x1, y1] = onDial(n * 10, r - (n % 9 === 0 ? 8 : 4));
          return <line key={n} x1={x0} y1={y0} x2={x1} y2={y1} stroke={ink} strokeWidth={0.7} />;
        })}
        <rect x={-26} y={-17} width={52} height={34} fill="none" stroke={quiet} strokeDasharray="3 3" />
        <text y={4} textAnchor="middle" fontSize={11} fill={quiet}>
          {text.set.thePlan}
        </text>
        {sunward[2] > 0 && (
          <g transform={`translate(${sun[0]} ${sun[1]})`} role="img" aria-label={text.set.sun}>
            <circle r={5} fill="#fff" stroke={ochre} strokeWidth={2} />
            <circle r={1.6} fill={ochre} />
          </g>
        )}
        <g
          role="slider"
          aria-label={text.set.north}
          aria-valuenow={Math.round(now)}
          aria-valuemin={0}
          aria-valuemax={360}
          tabIndex={0}
          style={{ cursor: "grab", touchAction: "none" }}
          transform={`rotate(${now})`}
          onKeyDown={(e) => {
            const step = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
            if (step) {
              e.preventDefault();
              onDone(whole(deg + step * (e.shiftKey ? 10 : 1)));
            }
          }}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            held.current = read(e) - now;
          }}
          onPointerMove={(e) => {
            if (held.current !== null) setTurned(whole(read(e) - held.current));
          }}
          onPointerUp={() => {
            if (turned !== null && turned !== deg) onDone(turned);
            held.current = null;
            setTurned(null);
          }}
        >
          <path d={`M0 ${-r + 2}l7 22h-14z`} fill={spruce} />
          <text y={-r - 4} textAnchor="middle" fontSize={12} fontWeight={700} fill={spruce}>
            {text.everywhere.northLetter}
          </text>
          <rect x={-18} y={-r - 14} width={36} height={44} fill="transparent" />
        </g>
      </g>
    </svg>
  );
}
