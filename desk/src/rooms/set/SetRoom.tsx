import { useCallback, useEffect, useState } from "react";
import styled from "styled-components";
import { Centre, Papers, Room } from "../panes";
import { http, type Leftover, type Project, type StandInMove, answerOf, useWrite } from "../../api/client";
import { useLive } from "../../api/socket";
import { SetPlan } from "../../drawings/SetPlan";
import { type Line, SetSection } from "../../drawings/SetSection";
import type { Point } from "../../drawings/Paper";
import { Finder } from "../../finder/Finder";
import { byMatrix } from "../../stage/seen";
import { Instrument } from "../../instruments/Instrument";
import { FilmButton } from "../../kit/controls";
import { newId } from "../../kit/ids";
import { useSay } from "../../kit/notice";
import { fromHere } from "../../kit/place";
import { Split, useSplit } from "../../kit/split";
import { useLength } from "../../kit/ruler";
import { film, filmText, line as lineColor, paper } from "../../kit/tokens";
import { degrees } from "../../kit/words";
import { useScout } from "../frame/scout";
import { LevelsAndRooms } from "./LevelsAndRooms";
import { NorthAndPlace } from "./NorthAndPlace";
import { PartsTree } from "./PartsTree";
import { SizeAndAxes } from "./SizeAndAxes";
import { StandIns } from "./StandIns";
import { useSetKeys } from "./keys";
import { ThingsToLookAt } from "./ThingsToLookAt";
import { useSetWrites } from "./writes";
import { text } from "../../text";

const Strip = styled.div`
  background: ${film};
  color: ${filmText};
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 0 14px;
  white-space: nowrap;
  overflow: hidden;
  span {
    overflow: hidden;
    text-overflow: ellipsis;
  }
`;
const Side = styled.aside`
  background: ${paper};
  border-left: 1px solid ${lineColor};
  overflow: auto;
  min-height: 0;
`;

/** The section runs through the first room at first, else through the middle. */
const middleLine = (project: Project): Line => {
  const [low, high] = project.set.body;
  const [x, y] = project.room_marks[0]?.at ?? [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2];
  return { x, y, heading: 90 };
};

/** The set: how it stands, its parts, levels and rooms, north, stand-ins, and what is worth a look. */
export function SetRoom({ project, toShot }: { project: Project; toShot: (shot: string) => void }) {
  const length = useLength();
  const say = useSay();
  const live = useLive();
  const write = useWrite(project.id, say);
  const key = { params: { path: { key: project.id } } };
  const [ratio, setRatio] = useState(1.4);
  const scout = useScout(project, true, ratio, null);
  const [open, setOpen] = useState(project.set.guessed.length ? text.set.sizeAndAxes : text.set.levelsAndRooms);
  const [part, setPart] = useState<number | null>(null);
  const [room, setRoom] = useState<number | null>(null);
  const [standIn, setStandIn] = useState<number | null>(null);
  const [picking, setPicking] = useState(false);
  const [putting, setPutting] = useState(false);
  const [drawing, setDrawing] = useState(false);
  const [levelling, setLevelling] = useState(false);
  const [line, setLine] = useState<Line>(() => middleLine(project));
  const [treeWidth, setTreeWidth] = useSplit("parts", 264, 200, 420);
  const [sideWidth, setSideWidth] = useSplit("set-instruments", 308, 280, 420);
  const [papers, setPapers] = useSplit("set-drawings", 320, 150, 560);
  const [planShare, setPlanShare] = useSplit("set-plan", 50, 25, 75);
  const placed = JSON.stringify(project.set.placing);
  // eslint-disable-next-line react-hooks/exhaustive-deps -- back to the middle when the set stands otherwise
  useEffect(() => setLine(middleLine(project)), [placed, project.set.revision]);
  const chosenPart = part === null ? undefined : project.set.parts[part]?.id;
  const { showAll, goTo } = scout;
  const leaveAll = useCallback(() => {
    setPicking(false);
    setLevelling(false);
    setPutting(false);
  }, []);
  useSetKeys(
    showAll,
    useCallback(() => {
      if (chosenPart) goTo(chosenPart);
    }, [chosenPart, goTo]),
    leaveAll,
  );

  const { patch, lift, place, putPlaces } = useSetWrites(write.mutate);
  const { levels, rooms } = project.places;

  const addRoom = (outline: Point[]) => {
    setOpen(text.set.levelsAndRooms);
    write.mutate(async ({ version, places }) => {
      const made = (await answerOf(
        http.POST("/api/projects/{key}/places/room", { ...key, body: { version, outline } }),
      )) as Project;
      if (made.places.rooms.length > places.rooms.length) setRoom(made.places.rooms.length - 1);
    });
  };
  const addLevel = (floor_m: number) => {
    setLevelling(false);
    setOpen(text.set.levelsAndRooms);
    write.mutate(({ version }) =>
      answerOf(http.POST("/api/projects/{key}/places/level", { ...key, body: { version, floor_m } })),
    );
  };
  const moveStandIn = (n: number, to: StandInMove["to"]) => {
    const moved = project.stand_ins[n];
    if (moved)
      write.mutate(({ version }) =>
        answerOf(http.POST("/api/projects/{key}/stand-ins/move", { ...key, body: { version, id: moved.id, to } })),
      );
  };
  const chooseStandIn = (n: number | null) => {
    setStandIn(n);
    const one = n === null ? undefined : project.stand_ins[n];
    if (!one) return;
    setOpen(text.set.standIns);
    setLine((l) => ({ ...l, x: one.at[0], y: one.at[1] }));
  };
  const addStandIn = (what: "sweep" | "standing" | "seated" | "panel") => {
    const stand = scout.answer?.scout.stand;
    if (!stand) return;
    const [x, y] = stand.aim;
    const id = newId();
    write.mutate(async (now) => {
      const under = what === "sweep" ? (chosenPart ?? null) : null;
      const made = (await answerOf(
        http.POST("/api/projects/{key}/stand-ins", {
          ...key,
          body: { id, version: now.version, what, at: [x, y], seen_from: stand.position, under },
        }),
      )) as Project;
      setStandIn(made.stand_ins.length - 1);
      const place = made.stand_ins.at(-1)?.at;
      if (place) setLine((l) => ({ ...l, x: place[0], y: place[1] }));
    });
  };
  const go = (thing: Leftover) => {
    setPart(thing.part);
    if (scout.answer)
      live.askScout({ scout: scout.answer.scout }, ratio, null, {
        kind: "look_at",
        at: thing.at,
        size_m: thing.size_m,
      });
  };
  const pick = (x: number, y: number) => {
    if (!scout.answer) return;
    if (putting && standIn !== null) {
      setPutting(false);
      const picture = { kind: "scout" as const, scout: scout.answer.scout, ratio, back: null };
      moveStandIn(standIn, { kind: "on_seen", picture, x, y });
      return;
    }
    setPicking(false);
    answerOf(
      http.POST("/api/projects/{key}/pick", {
        ...key,
        body: { picture: { kind: "scout", scout: scout.answer.scout, ratio, back: null }, x, y },
      }),
    )
      .then((seen) => setPart(seen.part))
      .catch((error: Error) => say(error.message));
  };

  const picture = scout.answer && { view: scout.answer.view, ...byMatrix(scout.answer.projection), ratio, guides: [] };
  const one = (name: string) => ({ name, open: open === name, onOpen: (is: boolean) => setOpen(is ? name : "") });
  const stand = scout.answer?.scout.stand;
  const shoot = () => {
    const view = scout.answer?.scout;
    if (!view) return;
    const id = newId(),
      goOn = fromHere();
    write.mutate(
      () =>
        answerOf(
          http.POST("/api/projects/{key}/shots", {
            ...key,
            body: { id, how: { kind: "from_scout", scout: view }, after: null },
          }),
        ),
      { onSuccess: () => goOn(() => toShot(id)) },
    );
  };
  return (
    <Room style={{ gridTemplateColumns: `${treeWidth}px minmax(0, 1fr) ${sideWidth}px` }}>
      <PartsTree
        project={project}
        chosen={part}
        choose={setPart}
        picking={picking}
        setPicking={setPicking}
        onLift={(change) => patch((now) => ({ lifted: change(now.lifted) }))}
        onLiftAbove={(on) => lift({ kind: "above", on })}
        onAllBack={() => lift({ kind: "none" })}
      />
      <Centre style={{ gridTemplateRows: `minmax(0, 1fr) 30px ${papers}px` }}>
        <div style={{ position: "relative", display: "grid", minHeight: 0 }}>
          <Finder
            project={project}
            picture={picture}
            around={false}
            whole
            clean
            picking={picking || putting}
            marked={part}
            label={text.set.scoutViewOfTheSet}
            onRatio={setRatio}
            onPick={pick}
            onPushStart={scout.hold}
            onPush={(push) =>
              scout.move({ kind: push.shift ? "look" : push.alt ? "truck" : "orbit", right: push.right, up: push.up })
            }
            onWheel={scout.wheel}
            onStep={scout.step}
          />
        </div>
        <Strip>
          <FilmButton aria-label={text.set.showAllOfTheSet} onPress={showAll}>
            {text.everywhere.showAll}
          </FilmButton>
          {chosenPart && (
            <FilmButton aria-label={text.set.goToTheChosen} onPress={() => goTo(chosenPart)}>
              {text.set.goToIt}
            </FilmButton>
          )}
          <FilmButton isDisabled={!scout.answer} onPress={shoot}>
            {text.everywhere.newShotOfThisView}
          </FilmButton>
          <span>
            {drawing
              ? text.set.pressAtTheRooms
              : levelling
                ? text.set.pressOnAFloor
                : putting
                  ? text.set.pressOnTheSurface
                  : picking
                    ? text.set.pressOnAPart
                    : part !== null
                      ? text.set.isChosen(project.set.parts[part]?.name ?? "")
                      : text.set.dragToOrbitWithShift}
          </span>
        </Strip>
        <Papers style={{ gridTemplateColumns: `${planShare}fr ${100 - planShare}fr` }}>
          <SetPlan
            project={project}
            scout={stand ? { at: [stand.position[0], stand.position[1]], toward: [stand.aim[0], stand.aim[1]] } : null}
            line={line}
            onLine={setLine}
            drawing={drawing}
            setDrawing={setDrawing}
            chosenRoom={room}
            chooseRoom={(n) => {
              setRoom(n);
              setOpen(text.set.levelsAndRooms);
            }}
            chosenStandIn={standIn}
            chooseStandIn={chooseStandIn}
            onRoom={addRoom}
            onCut={(plan_height) => patch(() => ({ plan_height }))}
            onCorner={(n, corner, to) =>
              putPlaces(
                (now) => ({
                  ...now,
                  rooms: now.rooms.map((r) =>
                    r.name === rooms[n]?.name && r.level === rooms[n]?.level
                      ? { ...r, outline: r.outline.map((c, i) => (i === corner ? to : c)) }
                      : r,
                  ),
                }),
                text.set.shape(rooms[n]?.name ?? "room"),
              )
            }
            onStandIn={(n, [x, y]) => moveStandIn(n, { kind: "plan", x, y })}
            onFacing={(n, [x, y]) => moveStandIn(n, { kind: "facing", x, y })}
          />
          <SetSection
            project={project}
            line={line}
            turn={() => setLine((l) => ({ ...l, heading: (l.heading + 90) % 360 }))}
            chosenStandIn={standIn}
            naming={levelling}
            setNaming={setLevelling}
            onLevel={addLevel}
            onLevelMoved={(n, floor_m) =>
              putPlaces(
                (now) => ({
                  ...now,
                  levels: now.levels.map((l) => (l.name === levels[n]?.name ? { ...l, floor_m } : l)),
                }),
                text.everywhere.floorOf(levels[n]?.name ?? "level"),
              )
            }
            onCut={(plan_height) => patch(() => ({ plan_height }))}
            onStandIn={(n, [x, y]) =>
              moveStandIn(n, { kind: "section", origin: [line.x, line.y], heading_deg: line.heading, x, y })
            }
          />
        </Papers>
        <Split
          label={text.everywhere.heightOfTheDrawings}
          vertical
          at={{ bottom: papers - 3 }}
          value={papers}
          onMove={(d) => setPapers(papers - d)}
        />
        <Split
          label={text.everywhere.widthOfThePlan}
          at={{ left: `${planShare}%`, top: `calc(100% - ${papers}px)` }}
          value={planShare}
          onMove={(d) => setPlanShare(planShare + d / 8)}
        />
      </Centre>
      <Side aria-label={text.set.setInstruments}>
        <Instrument
          {...one(text.set.sizeAndAxes)}
          value={text.set.sizeLine(
            length(project.set.bounds[1][2] - project.set.bounds[0][2]),
            project.set.unit ?? text.set.ownUnit,
            project.set.guessed.length > 0,
            project.set.placing.up.toUpperCase(),
          )}
        >
          <SizeAndAxes project={project} width={sideWidth - 32} place={place} />
        </Instrument>
        <Instrument
          {...one(text.set.levelsAndRooms)}
          value={`${text.counts.level(levels.length)}, ${text.counts.room(rooms.length)}`}
        >
          <LevelsAndRooms
            project={project}
            chosen={room}
            choose={setRoom}
            put={putPlaces}
            onShow={(level) => patch(() => ({ plan_level: level }))}
            onLift={(level) => lift({ kind: "level", level })}
            onFind={() =>
              write.mutate(({ version }) =>
                answerOf(http.POST("/api/projects/{key}/places/find", { ...key, body: { version } })),
              )
            }
            onDrawLevel={() => setLevelling(true)}
            onDrawRoom={() => setDrawing(true)}
          />
        </Instrument>
        <Instrument
          {...one(text.set.northAndPlace)}
          value={`${degrees(project.site.north_deg)}${project.site.name ? ` · ${project.site.name}` : ""}`}
        >
          <NorthAndPlace
            project={project}
            put={(change) => patch((now) => ({ site: { ...now.site, ...change } }))}
            setPoints={(compass_points) =>
              patch((now) => ({
                habits: { ...now.habits, compass_points },
                label: text.set.namesByCompassPoints(compass_points),
              }))
            }
          />
        </Instrument>
        <Instrument
          {...one(text.set.standIns)}
          value={project.stand_ins.length ? text.counts.standIn(project.stand_ins.length) : text.everywhere.none}
        >
          <StandIns
            project={project}
            chosen={standIn}
            choose={chooseStandIn}
            add={addStandIn}
            putting={putting}
            setPutting={setPutting}
            put={(change, label) => patch((now) => ({ stand_ins: change(now.stand_ins), label }))}
          />
        </Instrument>
        <Instrument {...one(text.set.thingsToLookAt)} value="">
          <ThingsToLookAt
            project={project}
            chosen={part}
            go={go}
            onLift={(n) => patch((now) => ({ lifted: [...now.lifted, now.set.parts[n]!.id] }))}
          />
        </Instrument>
      </Side>
      <Split
        label={text.set.widthOfTheParts}
        at={{ left: treeWidth - 3 }}
        value={treeWidth}
        onMove={(d) => setTreeWidth(treeWidth + d)}
      />
      <Split
        label={text.everywhere.widthOfTheInstruments}
        at={{ right: sideWidth - 3 }}
        value={sideWidth}
        onMove={(d) => setSideWidth(sideWidth - d)}
      />
    </Room>
  );
}
