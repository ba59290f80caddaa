import { useState } from "react";
import { http, type ShotGesture, told } from "../../api/client";
import { AimDistance, Face, Stand } from "../../api/limits";
import { Button, Fields, Plain, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { useLength } from "../../kit/ruler";
import { quiet } from "../../kit/tokens";
import { planAxes } from "../../kit/words";
import { partNames } from "../../shots/partNames";
import type { BodyProps } from "../described";
import { Compass } from "./Compass";
import { Moves } from "./Moves";
import { Staff } from "./Staff";

/** A compass one turns, a levelling staff one slides, exact numbers under them; what the stand holds on to; steps. */
export function StandBody({ project, desk, picking, pick, putHabits, write }: BodyProps) {
  const [moving, setMoving] = useState(false);
  const { pose, lens } = desk.sheet;
  const { stand } = desk.shot;
  const off = desk.row.locked;
  const { habits } = project;
  const mark = (on: boolean) =>
    write(({ id, version }) =>
      told(
        http.PATCH("/api/projects/{key}", {
          params: { path: { key: id } },
          body: { version, mark: { shot: desk.row.id, on } },
        }),
      ),
    );
  const height = pose.above_floor_m ?? stand.position[2];
  const heightTo = (value: number): ShotGesture =>
    pose.above_floor_m == null
      ? { kind: "height_to", z: value, above_floor: null }
      : { kind: "height_to", z: null, above_floor: value };
  const place = (axis: 0 | 1, value: number) =>
    desk.commit(
      "Move the stand",
      ({
        stand: {
          position: [x, y],
        },
      }) => ({ kind: "stand_to", x: axis === 0 ? value : x, y: axis === 1 ? value : y }),
    );
  const aim = (key: "x" | "y" | "z", value: number) =>
    desk.commit("Move the aim", { kind: "end_to", end: "aim", both: false, [key]: value } as ShotGesture);
  const turn = (pan_deg: number, label: string) =>
    desk.commit(label, { kind: "turn_by", pan_deg, tilt_deg: 0, roll_deg: 0 });
  const axes = planAxes(project.site.north_deg);
  const follow = stand.follow;
  const length = useLength();
  const marked = habits.marks.some((mark) => length(mark.height_m) === length(height));
  return (
    <>
      <svg viewBox="0 0 272 170" role="group" aria-label="Compass and levelling staff">
        <Compass desk={desk} off={off} half={(lens.angle_deg?.horizontal ?? 0) / 2} />
        <Staff
          project={project}
          height={height}
          off={off}
          onDrag={(v) => desk.drag(heightTo(v))}
          onDone={(v) => desk.commit("Lens height", heightTo(v))}
        />
      </svg>
      {pose.floor_z == null && (
        <p style={{ color: quiet }}>There is no floor under the stand: heights are counted from zero.</p>
      )}
      <Row>
        <Toggle
          isSelected={stand.above_floor_m != null}
          isDisabled={off || pose.floor_z == null}
          onChange={(on) =>
            desk.commit(on ? "Stay above the floor" : "Let the height free", { kind: "stay_above", on })
          }
        >
          Stays above floor
        </Toggle>
        <Plain onPress={() => mark(!marked)}>{marked ? "Remove this mark" : "Mark this height"}</Plain>
      </Row>
      <Fields>
        <NumberField
          label={pose.above_floor_m == null ? "Above zero" : "Above floor"}
          unit="meter"
          value={height}
          step={0.05}
          off={off}
          onCommit={(v) => desk.commit("Lens height", heightTo(v))}
        />
        <NumberField
          label="Heading"
          unit="degree"
          digits={1}
          step={1}
          of={Face.heading_deg}
          value={pose.heading_deg}
          off={off}
          onCommit={(v) => desk.commit("Heading", { kind: "face", heading_deg: v, pitch_deg: null })}
        />
        <NumberField
          label="Pitch"
          unit="degree"
          digits={1}
          step={0.5}
          of={Face.pitch_deg}
          value={pose.pitch_deg}
          off={off}
          onCommit={(v) => desk.commit("Pitch", { kind: "face", heading_deg: null, pitch_deg: v })}
        />
        <NumberField
          label={`Stand ${axes.x}`}
          unit="meter"
          step={0.05}
          value={stand.position[0]}
          off={off}
          onCommit={(v) => place(0, v)}
        />
        <NumberField
          label={`Stand ${axes.y}`}
          unit="meter"
          step={0.05}
          value={stand.position[1]}
          off={off}
          onCommit={(v) => place(1, v)}
        />
        <NumberField
          label="Roll"
          unit="degree"
          digits={1}
          step={0.5}
          of={Stand.roll_deg}
          value={stand.roll_deg}
          off={off}
          onCommit={(v) => desk.commit("Roll", { stand: { roll_deg: v } })}
        />
        <NumberField
          label={`Aim ${axes.x}`}
          unit="meter"
          step={0.05}
          value={stand.aim[0]}
          off={off}
          onCommit={(v) => aim("x", v)}
        />
        <NumberField
          label={`Aim ${axes.y}`}
          unit="meter"
          step={0.05}
          value={stand.aim[1]}
          off={off}
          onCommit={(v) => aim("y", v)}
        />
        <NumberField
          label="Aim height"
          unit="meter"
          step={0.05}
          value={stand.aim[2]}
          off={off}
          onCommit={(v) => aim("z", v)}
        />
        <NumberField
          label="Distance to aim"
          unit="meter"
          step={0.05}
          of={AimDistance.distance_m}
          value={pose.aim_distance_m}
          off={off}
          onCommit={(v) => desk.commit("Distance to the aim", { kind: "aim_distance", distance_m: v })}
        />
      </Fields>
      <Row>
        <Button
          isDisabled={off || (Math.abs(pose.pitch_deg) < 1e-6 && stand.roll_deg === 0)}
          onPress={() => desk.commit("Level the camera", { kind: "level" })}
        >
          Level
        </Button>
        <Button isDisabled={off} aria-label="Turn 90° left" onPress={() => turn(-90, "Turn left by 90°")}>
          90° left
        </Button>
        <Button isDisabled={off} aria-label="Turn 90° right" onPress={() => turn(90, "Turn right by 90°")}>
          90° right
        </Button>
        <Button isDisabled={off} onPress={() => turn(180, "Face the other way")}>
          Face the other way
        </Button>
      </Row>
      <Row>
        <Toggle isSelected={picking === "aim"} isDisabled={off} onChange={(on) => pick(on ? "aim" : null)}>
          Aim at a point
        </Toggle>
        <Toggle isSelected={picking === "aim_part"} isDisabled={off} onChange={(on) => pick(on ? "aim_part" : null)}>
          Aim at a part's middle
        </Toggle>
        <Toggle isSelected={picking === "follow"} isDisabled={off} onChange={(on) => pick(on ? "follow" : null)}>
          Follow aim…
        </Toggle>
        {follow && (
          <Button isDisabled={off} onPress={() => desk.commit("Let go of what is followed", { kind: "let_go" })}>
            Let go
          </Button>
        )}
      </Row>
      {follow && (
        <p style={{ color: quiet }}>
          Follows {follow.part ? `“${partNames(project.set.parts, follow.part)[0]}”` : "a point"}: it keeps its place in
          the frame while the stand moves.
        </p>
      )}
      <Plain style={{ justifySelf: "start", marginLeft: -6 }} aria-expanded={moving} onPress={() => setMoving(!moving)}>
        {moving ? "▾ Move by steps" : "▸ Move by steps"}
      </Plain>
      {moving && <Moves project={project} desk={desk} put={putHabits} />}
    </>
  );
}
