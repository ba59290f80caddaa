import styled from "styled-components";
import { type Project, useProposal } from "../../api/client";
import { Button, Plain, Row } from "../../kit/controls";
import { NumberField, TextField } from "../../kit/fields";
import { line, quiet, spruce, sprucePale } from "../../kit/tokens";
import { many } from "../../kit/words";

const Storey = styled.section<{ $on: boolean }>`
  border-left: 3px solid ${(p) => (p.$on ? spruce : line)};
  padding: 2px 0 2px 10px;
  display: grid;
  gap: 6px;
  > div:first-child {
    display: grid;
    grid-template-columns: 1fr 84px;
    gap: 10px;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
`;
const RoomLine = styled.li<{ $on: boolean }>`
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 6px;
  align-items: center;
  padding: 1px 0 1px 6px;
  border-radius: 3px;
  background: ${(p) => (p.$on ? sprucePale : "none")};
  small {
    color: ${quiet};
    font-size: 12px;
  }
`;

interface Props {
  project: Project;
  chosen: number | null;
  choose: (room: number | null) => void;
  put: (change: (now: Project["places"]) => Project["places"], label: string) => void;
  onFind: () => void;
  onShow: (level: string) => void;
  onLift: (level: string) => void;
  onDrawLevel: () => void;
  onDrawRoom: () => void;
}

/** Storeys as a stack, the highest on top as in a section, with the rooms on each. */
export function LevelsAndRooms({
  project,
  chosen,
  choose,
  put,
  onFind,
  onShow,
  onLift,
  onDrawLevel,
  onDrawRoom,
}: Props) {
  const { levels, rooms } = project.places;
  const { data: proposal, isFetching } = useProposal(project);
  const clear = (proposal?.levels.length ?? 0) > 0;
  const rename = (from: string, to: string) =>
    put(
      (now) => ({
        levels: now.levels.map((l) => (l.name === from ? { ...l, name: to } : l)),
        rooms: now.rooms.map((r) => (r.level === from ? { ...r, level: to } : r)),
      }),
      `Rename the level “${to}”`,
    );
  const stacked = [...levels].reverse();
  return (
    <>
      {levels.length === 0 && (
        <p style={{ color: quiet }} role="status">
          There are no levels yet. Levels and rooms feed the plan, heights above floor and the names of shots.{" "}
          {proposal ? (
            clear ? (
              <b style={{ color: spruce }}>
                The geometry shows {many(proposal.levels.length, "level")} and {many(proposal.rooms.length, "room")}.
              </b>
            ) : (
              "None is clear in the geometry: draw them by hand."
            )
          ) : isFetching ? (
            "Looking for them in the geometry…"
          ) : (
            ""
          )}
        </p>
      )}
      <Row>
        <Button isDisabled={levels.length === 0 && !clear} onPress={onFind}>
          {levels.length === 0 ? "Take what was found" : "Find more in the set"}
        </Button>
        <Button onPress={onDrawLevel}>Add a level</Button>
        <Button isDisabled={levels.length === 0} onPress={onDrawRoom}>
          Draw a room
        </Button>
      </Row>
      {stacked.map((level) => (
        <Storey key={level.name} $on={level.name === project.plan_level} aria-label={level.name}>
          <div>
            <TextField label="Level" value={level.name} onCommit={(name) => rename(level.name, name)} />
            <NumberField
              label="Floor at"
              unit="meter"
              step={0.05}
              value={level.floor_m}
              onCommit={(floor_m) =>
                put(
                  (now) => ({ ...now, levels: now.levels.map((l) => (l.name === level.name ? { ...l, floor_m } : l)) }),
                  `Floor of ${level.name}`,
                )
              }
            />
          </div>
          <Row style={{ gap: 2, marginLeft: -6, color: quiet }}>
            <Plain isDisabled={level.name === project.plan_level} onPress={() => onShow(level.name)}>
              Show in plan
            </Plain>
            <Plain aria-label={`Lift off all of ${level.name}`} onPress={() => onLift(level.name)}>
              Lift off
            </Plain>
            <Plain
              aria-label={`Remove the level ${level.name}`}
              onPress={() =>
                put(
                  (now) => ({
                    levels: now.levels.filter((l) => l.name !== level.name),
                    rooms: now.rooms.filter((r) => r.level !== level.name),
                  }),
                  `Remove the level “${level.name}”`,
                )
              }
            >
              Remove
            </Plain>
          </Row>
          <ul>
            {rooms.map(
              (room, n) =>
                room.level === level.name && (
                  <RoomLine key={n} $on={n === chosen} onFocus={() => choose(n)}>
                    <TextField
                      hidden
                      label={`Name of the room ${room.name}`}
                      value={room.name}
                      onCommit={(name) =>
                        put(
                          (now) => ({
                            ...now,
                            rooms: now.rooms.map((r) =>
                              r.name === room.name && r.level === room.level ? { ...r, name } : r,
                            ),
                          }),
                          `Rename the room “${name}”`,
                        )
                      }
                    />
                    <small>{project.room_marks[n]!.area_m2.toFixed(1)} m²</small>
                    <Plain
                      aria-label={`Remove the room ${room.name}`}
                      onPress={() => {
                        choose(null);
                        put(
                          (now) => ({
                            ...now,
                            rooms: now.rooms.filter((r) => r.name !== room.name || r.level !== room.level),
                          }),
                          `Remove the room “${room.name}”`,
                        );
                      }}
                    >
                      Remove
                    </Plain>
                  </RoomLine>
                ),
            )}
          </ul>
        </Storey>
      ))}
    </>
  );
}
