import { useState } from "react";
import { http, type ShotGesture, answerOf } from "../../api/client";
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
import { text } from "../../text";

/** A compass one turns, a levelling staff one slides, exact numbers under them; what the stand holds on to; steps. */
export function StandBody({ project, desk, picking, pick, putHabits, write }: BodyProps) {
  const [moving, setMoving] = useState(false);
  const { pose, lens } = desk.sheet;
  const { stand } = desk.shot;
  const off = desk.row.locked;
  const { habits } = project;
  const mark = (on: boolean) =>
    write(({ id, version }) =>
      answerOf(
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
      text.stand.moveTheStand,
      ({
        stand: {
          position: [x, y],
        },
      }) => ({ kind: "stand_to", x: axis === 0 ? value : x, y: axis === 1 ? value : y }),
    );
  const aim = (key: "x" | "y" | "z", value: number) =>
    desk.commit(text.stand.moveTheAim, { kind: "end_to", end: "aim", both: false, [key]: value } as ShotGesture);
  const turn = (pan_deg: number, label: string) =>
    desk.commit(label, { kind: "turn_by", pan_deg, tilt_deg: 0, roll_deg: 0 });
  const axes = planAxes(project.site.north_deg);
  const follow = stand.follow;
  const length = useLength();
  const marked = habits.marks.some((mark) => length(mark.height_m) === length(height));
  return (
    <>
      <svg viewBox="0 0 272 170" role="group" aria-label={text.stand.compassAndLevellingStaff}>
        <Compass desk={desk} off={off} half={(lens.angle_deg?.horizontal ?? 0) / 2} />
        <Staff
          project={project}
          height={height}
          off={off}
          onDrag={(v) => desk.drag(heightTo(v))}
          onDone={(v) => desk.commit(text.stand.lensHeight, heightTo(v))}
        />
      </svg>
      {pose.floor_z == null && <p style={{ color: quiet }}>{text.stand.thereIsNoFloor}</p>}
      <Row>
        <Toggle
          isSelected={stand.above_floor_m != null}
          isDisabled={off || pose.floor_z == null}
          onChange={(on) =>
            desk.commit(on ? text.stand.stayAboveTheFloor : text.stand.letTheHeightFree, { kind: "stay_above", on })
          }
        >
          {text.stand.staysAboveFloor}
        </Toggle>
        <Plain onPress={() => mark(!marked)}>{marked ? text.stand.removeThisMark : text.stand.markThisHeight}</Plain>
      </Row>
      <Fields>
        <NumberField
          label={pose.above_floor_m == null ? text.stand.aboveZero : text.stand.heightAboveFloor}
          unit="meter"
          value={height}
          step={0.05}
          off={off}
          onCommit={(v) => desk.commit(text.stand.lensHeight, heightTo(v))}
        />
        <NumberField
          label={text.stand.heading}
          unit="degree"
          digits={1}
          step={1}
          of={Face.heading_deg}
          value={pose.heading_deg}
          off={off}
          onCommit={(v) => desk.commit(text.stand.heading, { kind: "face", heading_deg: v, pitch_deg: null })}
        />
        <NumberField
          label={text.stand.pitch}
          unit="degree"
          digits={1}
          step={0.5}
          of={Face.pitch_deg}
          value={pose.pitch_deg}
          off={off}
          onCommit={(v) => desk.commit(text.stand.pitch, { kind: "face", heading_deg: null, pitch_deg: v })}
        />
        <NumberField
          label={text.stand.stand(axes.x)}
          unit="meter"
          step={0.05}
          value={stand.position[0]}
          off={off}
          onCommit={(v) => place(0, v)}
        />
        <NumberField
          label={text.stand.stand(axes.y)}
          unit="meter"
          step={0.05}
          value={stand.position[1]}
          off={off}
          onCommit={(v) => place(1, v)}
        />
        <NumberField
          label={text.stand.roll}
          unit="degree"
          digits={1}
          step={0.5}
          of={Stand.roll_deg}
          value={stand.roll_deg}
          off={off}
          onCommit={(v) => desk.commit(text.stand.roll, { stand: { roll_deg: v } })}
        />
        <NumberField
          label={text.stand.aim(axes.x)}
          unit="meter"
          step={0.05}
          value={stand.aim[0]}
          off={off}
          onCommit={(v) => aim("x", v)}
        />
        <NumberField
          label={text.stand.aim(axes.y)}
          unit="meter"
          step={0.05}
          value={stand.aim[1]}
          off={off}
          onCommit={(v) => aim("y", v)}
        />
        <NumberField
          label={text.stand.aimHeight}
          unit="meter"
          step={0.05}
          value={stand.aim[2]}
          off={off}
          onCommit={(v) => aim("z", v)}
        />
        <NumberField
          label={text.stand.distanceToAim}
          unit="meter"
          step={0.05}
          of={AimDistance.distance_m}
          value={pose.aim_distance_m}
          off={off}
          onCommit={(v) => desk.commit(text.stand.distanceToTheAim, { kind: "aim_distance", distance_m: v })}
        />
      </Fields>
      <Row>
        <Button
          isDisabled={off || (Math.abs(pose.pitch_deg) < 1e-6 && stand.roll_deg === 0)}
          onPress={() => desk.commit(text.stand.levelTheCamera, { kind: "level" })}
        >
          {text.everywhere.levelField}
        </Button>
        <Button isDisabled={off} aria-label={text.stand.turn90Left} onPress={() => turn(-90, text.stand.turnLeftBy90)}>
          {text.stand.left90}
        </Button>
        <Button isDisabled={off} aria-label={text.stand.turn90Right} onPress={() => turn(90, text.stand.turnRightBy90)}>
          {text.stand.right90}
        </Button>
        <Button isDisabled={off} onPress={() => turn(180, text.stand.faceTheOtherWay)}>
          {text.stand.faceTheOtherWay}
        </Button>
      </Row>
      <Row>
        <Toggle isSelected={picking === "aim"} isDisabled={off} onChange={(on) => pick(on ? "aim" : null)}>
          {text.stand.aimAtAPoint}
        </Toggle>
        <Toggle isSelected={picking === "aim_part"} isDisabled={off} onChange={(on) => pick(on ? "aim_part" : null)}>
          {text.stand.aimAtAParts}
        </Toggle>
        <Toggle isSelected={picking === "follow"} isDisabled={off} onChange={(on) => pick(on ? "follow" : null)}>
          {text.stand.followAim}
        </Toggle>
        {follow && (
          <Button isDisabled={off} onPress={() => desk.commit(text.stand.letGoOfWhatIsFollowed, { kind: "let_go" })}>
            {text.everywhere.letGo}
          </Button>
        )}
      </Row>
      {follow && (
        <p style={{ color: quiet }}>
          {text.stand.followsItKeepsItsPlace(
            follow.part ? `“${partNames(project.set.parts, follow.part)[0]}”` : text.everywhere.aPoint,
          )}
        </p>
      )}
      <Plain style={{ justifySelf: "start", marginLeft: -6 }} aria-expanded={moving} onPress={() => setMoving(!moving)}>
        {moving ? "▾" : "▸"} {text.stand.moveBySteps}
      </Plain>
      {moving && <Moves project={project} desk={desk} put={putHabits} />}
    </>
  );
}
