import styled from "styled-components";
import { type Project, useProposal } from "../../api/client";
import { Button, Plain, Row } from "../../kit/controls";
import { NumberField, TextField } from "../../kit/fields";
import { line, quiet, spruce, sprucePale } from "../../kit/tokens";
import { text } from "../../text";

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
      text.set.renameTheLevel(to),
    );
  const stacked = [...levels].reverse();
  return (
    <>
      {levels.length === 0 && (
        <p style={{ color: quiet }} role="status">
          {text.set.thereAreNoLevels}{" "}
          {proposal ? (
            clear ? (
              <b style={{ color: spruce }}>
                {text.set.theGeometryShowsAnd(
                  text.counts.level(proposal.levels.length),
                  text.counts.room(proposal.rooms.length),
                )}
              </b>
            ) : (
              text.set.noneIsClearInTheGeometry
            )
          ) : isFetching ? (
            text.set.lookingForThemInTheGeometry
          ) : (
            ""
          )}
        </p>
      )}
      <Row>
        <Button isDisabled={levels.length === 0 && !clear} onPress={onFind}>
          {levels.length === 0 ? text.set.takeWhatWasFound : text.set.findMoreInTheSet}
        </Button>
        <Button onPress={onDrawLevel}>{text.everywhere.addALevel}</Button>
        <Button isDisabled={levels.length === 0} onPress={onDrawRoom}>
          {text.everywhere.drawARoom}
        </Button>
      </Row>
      {stacked.map((level) => (
        <Storey key={level.name} $on={level.name === project.plan_level} aria-label={level.name}>
          <div>
            <TextField
              label={text.everywhere.levelField}
              value={level.name}
              onCommit={(name) => rename(level.name, name)}
            />
            <NumberField
              label={text.set.floorAt}
              unit="meter"
              step={0.05}
              value={level.floor_m}
              onCommit={(floor_m) =>
                put(
                  (now) => ({ ...now, levels: now.levels.map((l) => (l.name === level.name ? { ...l, floor_m } : l)) }),
                  text.everywhere.floorOf(level.name),
                )
              }
            />
          </div>
          <Row style={{ gap: 2, marginLeft: -6, color: quiet }}>
            <Plain isDisabled={level.name === project.plan_level} onPress={() => onShow(level.name)}>
              {text.set.showInPlan}
            </Plain>
            <Plain aria-label={text.set.liftOffAllOf(level.name)} onPress={() => onLift(level.name)}>
              {text.set.liftOff}
            </Plain>
            <Plain
              aria-label={text.set.removeTheLevel(level.name)}
              onPress={() =>
                put(
                  (now) => ({
                    levels: now.levels.filter((l) => l.name !== level.name),
                    rooms: now.rooms.filter((r) => r.level !== level.name),
                  }),
                  text.set.removeTheLevelQuoted(level.name),
                )
              }
            >
              {text.set.remove}
            </Plain>
          </Row>
          <ul>
            {rooms.map(
              (room, n) =>
                room.level === level.name && (
                  <RoomLine key={n} $on={n === chosen} onFocus={() => choose(n)}>
                    <TextField
                      hidden
                      label={text.set.nameOfTheRoom(room.name)}
                      value={room.name}
                      onCommit={(name) =>
                        put(
                          (now) => ({
                            ...now,
                            rooms: now.rooms.map((r) =>
                              r.name === room.name && r.level === room.level ? { ...r, name } : r,
                            ),
                          }),
                          text.set.renameTheRoom(name),
                        )
                      }
                    />
                    <small>{text.set.squareMetres(project.room_marks[n]!.area_m2.toFixed(1))}</small>
                    <Plain
                      aria-label={text.set.removeTheRoom(room.name)}
                      onPress={() => {
                        choose(null);
                        put(
                          (now) => ({
                            ...now,
                            rooms: now.rooms.filter((r) => r.name !== room.name || r.level !== room.level),
                          }),
                          text.set.removeTheRoomQuoted(room.name),
                        );
                      }}
                    >
                      {text.set.remove}
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
