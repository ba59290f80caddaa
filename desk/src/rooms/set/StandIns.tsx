import styled from "styled-components";
import type { Project, StandIn } from "../../api/client";
import { Figure, Panel, Sweep } from "../../api/limits";
import { Button, Fields, Plain, Row, Toggle } from "../../kit/controls";
import { NumberField, TextField } from "../../kit/fields";
import { useLength } from "../../kit/ruler";
import { ink, line, quiet, spruce, sprucePale } from "../../kit/tokens";
import { headed, planAxes } from "../../kit/words";
import { text } from "../../text";

type What = "sweep" | "standing" | "seated" | "panel";
const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
`;
const Item = styled.li<{ $on: boolean }>`
  border-radius: 3px;
  background: ${(p) => (p.$on ? sprucePale : text.everywhere.none)};
  display: flex;
  align-items: center;
  > button:first-child {
    flex: 1;
    text-align: left;
    font-weight: ${(p) => (p.$on ? 650 : 400)};
  }
`;

const words = (one: StandIn, length: (value: number) => string): string =>
  one.kind === "sweep"
    ? text.set.widthOf(length(one.width_m))
    : one.kind === "panel"
      ? `${length(one.width_m)} × ${length(one.height_m)}`
      : length(one.height_m);

interface Props {
  project: Project;
  chosen: number | null;
  choose: (n: number | null) => void;
  add: (what: What) => void;
  /** Whether the next press in the view puts the chosen one there. */
  putting: boolean;
  setPutting: (is: boolean) => void;
  put: (change: (now: StandIn[]) => StandIn[], label: string) => void;
}

/** Stand-ins: added, made to size, placed by numbers; by hand they are moved in plan and section. */
export function StandIns({ project, chosen, choose, add, put, putting, setPutting }: Props) {
  const length = useLength();
  const all = project.stand_ins;
  const axes = planAxes(project.site.north_deg);
  const one = chosen === null ? undefined : all[chosen];
  const change = (to: Partial<StandIn>, label = text.everywhere.size) => {
    if (one)
      put(
        (now) => now.map((s) => (s.id === one.id ? ({ ...s, ...to } as StandIn) : s)),
        text.set.sideOf(label, one.name),
      );
  };
  const at = (axis: 0 | 1 | 2, value: number) => {
    if (!one) return;
    const moved = (place: [number, number, number]) =>
      place.map((v, k) => (k === axis ? value : v)) as [number, number, number];
    put((now) => now.map((s) => (s.id === one.id ? { ...s, at: moved([...s.at]) } : s)), text.set.placeOf(one.name));
  };
  return (
    <>
      <Row>
        <Button onPress={() => add("sweep")}>{text.set.sweep}</Button>
        <Button onPress={() => add("standing")}>{text.set.standingFigure}</Button>
        <Button onPress={() => add("seated")}>{text.set.seatedFigure}</Button>
        <Button onPress={() => add("panel")}>{text.set.lightPanel}</Button>
      </Row>
      {all.length === 0 && <p style={{ color: quiet }}>{text.set.aSweepAPerson}</p>}
      <List aria-label={text.set.standIns}>
        {all.map((s, n) => (
          <Item key={s.id} $on={n === chosen}>
            <Plain aria-pressed={n === chosen} onPress={() => choose(n === chosen ? null : n)}>
              {s.name} <span style={{ color: quiet }}>{words(s, length)}</span>
            </Plain>
            <Plain
              aria-label={text.set.takeAway(s.name)}
              onPress={() => {
                choose(null);
                put((now) => now.filter((other) => other.id !== s.id), text.set.takeAwayQuoted(s.name));
              }}
            >
              {text.set.takeAwayIt}
            </Plain>
          </Item>
        ))}
      </List>
      {one && (
        <>
          {one.kind === "sweep" && <SweepFigure one={one} />}
          <Row>
            <Toggle isSelected={putting} onChange={setPutting}>
              {text.set.putItOnASurface}
            </Toggle>
          </Row>
          <Fields>
            {one.kind === "sweep" && (
              <>
                <NumberField
                  label={text.everywhere.width}
                  unit="meter"
                  step={0.05}
                  of={Sweep.width_m}
                  value={one.width_m}
                  onCommit={(width_m) => change({ width_m } as Partial<StandIn>)}
                />
                <NumberField
                  label={text.set.floor}
                  unit="meter"
                  step={0.05}
                  of={Sweep.floor_m}
                  value={one.floor_m}
                  onCommit={(floor_m) => change({ floor_m } as Partial<StandIn>)}
                />
                <NumberField
                  label={text.set.bendRadius}
                  unit="meter"
                  step={0.05}
                  of={Sweep.bend_m}
                  value={one.bend_m}
                  onCommit={(bend_m) => change({ bend_m } as Partial<StandIn>)}
                />
                <NumberField
                  label={text.everywhere.backHeight}
                  unit="meter"
                  step={0.05}
                  of={Sweep.back_m}
                  value={one.back_m}
                  onCommit={(back_m) => change({ back_m } as Partial<StandIn>)}
                />
              </>
            )}
            {one.kind === "figure" && (
              <>
                <NumberField
                  label={text.set.stature}
                  unit="meter"
                  step={0.01}
                  of={Figure.height_m}
                  value={one.height_m}
                  onCommit={(height_m) => change({ height_m } as Partial<StandIn>)}
                />
                {one.pose === "seated" && (
                  <NumberField
                    label={text.set.seatHeight}
                    unit="meter"
                    step={0.01}
                    of={Figure.seat_m}
                    value={one.seat_m}
                    onCommit={(seat_m) => change({ seat_m } as Partial<StandIn>)}
                  />
                )}
              </>
            )}
            {one.kind === "panel" && (
              <>
                <NumberField
                  label={text.everywhere.width}
                  unit="meter"
                  step={0.05}
                  of={Panel.width_m}
                  value={one.width_m}
                  onCommit={(width_m) => change({ width_m } as Partial<StandIn>)}
                />
                <NumberField
                  label={text.everywhere.height}
                  unit="meter"
                  step={0.05}
                  of={Panel.height_m}
                  value={one.height_m}
                  onCommit={(height_m) => change({ height_m } as Partial<StandIn>)}
                />
                <NumberField
                  label={text.set.tiltedDown}
                  unit="degree"
                  digits={1}
                  step={1}
                  of={Panel.tilt_deg}
                  value={one.tilt_deg}
                  onCommit={(tilt_deg) => change({ tilt_deg } as Partial<StandIn>)}
                />
                <NumberField
                  label={text.set.candela}
                  digits={0}
                  step={100}
                  of={Panel.luminance_cd_m2}
                  value={one.luminance_cd_m2}
                  onCommit={(luminance_cd_m2) => change({ luminance_cd_m2 } as Partial<StandIn>, text.set.light)}
                />
              </>
            )}
            <NumberField label={headed(axes.x)} unit="meter" step={0.05} value={one.at[0]} onCommit={(v) => at(0, v)} />
            <NumberField label={headed(axes.y)} unit="meter" step={0.05} value={one.at[1]} onCommit={(v) => at(1, v)} />
            <NumberField
              label={text.everywhere.height}
              unit="meter"
              step={0.05}
              value={one.at[2]}
              onCommit={(v) => at(2, v)}
            />
            <NumberField
              label={text.set.turned}
              unit="degree"
              digits={1}
              step={5}
              of={Sweep.turn_deg}
              value={one.turn_deg}
              onCommit={(turn_deg) => change({ turn_deg }, text.set.turn)}
            />
            <TextField label={text.set.name} value={one.name} onCommit={(name) => change({ name }, text.set.name)} />
          </Fields>
        </>
      )}
    </>
  );
}

/** The sweep from the side, to scale. */
function SweepFigure({ one }: { one: Extract<StandIn, { kind: "sweep" }> }) {
  const scale = Math.min(220 / (one.floor_m + one.bend_m), 96 / one.back_m);
  const [floor, bend, back] = [one.floor_m * scale, one.bend_m * scale, one.back_m * scale];
  return (
    <svg viewBox="0 0 272 116" role="img" aria-label={text.set.theSweepFromTheSide}>
      <line x1={0} x2={272} y1={108} y2={108} stroke={line} />
      <path
        d={`M20 108h${floor}a${bend} ${bend} 0 0 0 ${bend} ${-bend}v${-(back - bend)}`}
        fill={text.everywhere.none}
        stroke={spruce}
        strokeWidth={2.2}
      />
      <path
        d={`M${20 + floor} 108v${-bend}h${bend}`}
        fill={text.everywhere.none}
        stroke={ink}
        strokeWidth={0.7}
        strokeDasharray="3 3"
      />
    </svg>
  );
}
