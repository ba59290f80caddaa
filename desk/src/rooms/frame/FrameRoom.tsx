import { useCallback, useEffect, useMemo, useState } from "react";
import styled from "styled-components";
import { Centre, Papers, Room } from "../panes";
import {
  http,
  type NewShot,
  type PairFocus,
  type Project,
  shotIn,
  type Suggestion,
  answerOf,
  useFresh,
  useOffer,
  useWrite,
  type Write,
} from "../../api/client";
import { inSpace, useMarkerLook } from "../../drawings/markers";
import type { Point } from "../../drawings/Paper";
import { Plan } from "../../drawings/Plan";
import { Section } from "../../drawings/Section";
import { InSight } from "../../finder/InSight";
import { PICKS } from "../../instruments";
import { Empty, Primary } from "../../kit/controls";
import { newId } from "../../kit/ids";
import { useSay } from "../../kit/notice";
import { fromHere } from "../../kit/place";
import { useLatest, useRemembered } from "../../kit/remembered";
import { Split, useSplit } from "../../kit/split";
import { line, paper } from "../../kit/tokens";
import { useDrawnShot, useShotDraft } from "../../shots/draft";
import { everything, isWanted, type Wanted } from "../../shots/find";
import { ShotList } from "../../shots/ShotList";
import { CalmSide } from "./FrameSide";
import { CalmStrip } from "./LensStrip";
import { useFrameKeys } from "./keys";
import { type Arrangement, Looks } from "./Looks";
import { scoutedFrom, useScout } from "./scout";
import { Suggestions, useSuggestions } from "./Suggestions";
import { useFrameWrites } from "./writes";
import { text } from "../../text";

const Side = styled.aside`
  background: ${paper};
  border-left: 1px solid ${line};
  overflow: auto;
  min-height: 0;
  display: flex;
  flex-direction: column;
`;

interface Props {
  project: Project;
  chosen: string | null;
  choose: (id: string | null, replace?: boolean) => void;
  toLab: () => void;
}

export function FrameRoom({ project, chosen, choose, toLab }: Props) {
  const say = useSay();
  const { mutate } = useWrite(project.id, say);
  const write = useCallback<Write>((action) => mutate(action), [mutate]);
  const fresh = useFresh(project.id);
  const here = { params: { path: { key: project.id } } };
  const row = project.shots.find((s) => s.id === chosen) ?? null;
  const scouting = chosen === "scout" || row === null;
  const [arrangement, arrange] = useRemembered<Arrangement>("zevlo-arrangement", "one");
  // A new shot takes over the back of the one it comes after; the scout view shows that frame.
  const before = row ?? project.shots.find((s) => s.id === scoutedFrom(project.id)) ?? project.shots.at(-1) ?? null;
  const draft = useShotDraft(project, row ?? (arrangement === "one" ? null : before));
  const [wanted, setInHand] = useState<string | null>(null);
  // While a hand moves in a drawing, that is redrawn with every move; the figures beside it change a few times a
  // second.
  const [inSide, setInSide] = useState(false);
  const solved = useDrawnShot(draft, () => true) ?? false;
  const inHand = solved && draft !== null && !draft.row.locked && wanted === draft.row.id;
  const [open, setOpen] = useState("focus");
  const [picking, pick] = useState<string | null>(null);
  const [placing, setPlacing] = useState(false);
  const [clean, setClean] = useState(false);
  const [alone, lookAlone] = useState<string | null>(null);
  const [suggesting, suggest] = useState<number | null>(null);
  const [over, setOver] = useState<number | null>(null);
  const [narrowed, want] = useState<Wanted>(everything);
  const [sight, setSight] = useRemembered<string[]>(`zevlo-sight-${project.id}`, []);
  const [look, putLook] = useMarkerLook();
  const [ratio, setRatio] = useState(16 / 9);
  const { first_back: firstBack } = useOffer();
  const scoutBack = useMemo(() => before?.shot.back ?? firstBack, [before, firstBack]);
  const scout = useScout(project, scouting || arrangement !== "one", ratio, scoutBack);
  const { data: suggestions } = useSuggestions(project, suggesting);
  const [listWidth, setListWidth] = useSplit("shots", 208, 160, 340);
  const [sideWidth, setSideWidth] = useSplit("instruments", 308, 280, 420);
  const [drawings, setDrawings] = useSplit("drawings", 300, 150, 520);
  const [planShare, setPlanShare] = useSplit("plan", 50, 25, 75);
  const [sightHeight, setSightHeight] = useSplit("sight", 110, 80, 240);

  // The first shot is on the desk when the room is entered; the scout view where there is none.
  useEffect(() => {
    if (chosen === null) choose(project.shots[0]?.id ?? "scout", true);
    else if (chosen !== "scout" && row === null) choose(project.shots[0]?.id ?? "scout", true);
  }, [chosen, row, project.shots, choose]);

  const leave = useCallback(
    (id: string | null) => {
      setInHand(null);
      pick(null);
      lookAlone(null);
      choose(id);
    },
    [choose],
  );
  const make = (how: NewShot["how"]) => {
    const id = newId(),
      goOn = fromHere();
    write(async () => {
      const made = await answerOf(
        http.POST("/api/projects/{key}/shots", { ...here, body: { id, how, after: before?.id ?? null } }),
      );
      setPlacing(false);
      await fresh();
      goOn(() => leave(made.id));
    });
  };
  const pair = (shot: string, focus: PairFocus) => {
    const id = newId(),
      goOn = fromHere();
    write(async () => {
      const made = await answerOf(
        http.POST("/api/shots/{key}/pair", { params: { path: { key: shot } }, body: { id, focus } }),
      );
      await fresh();
      goOn(() => leave(made.front.id));
    });
  };
  const makeOfView = scout.answer ? () => make({ kind: "from_scout", scout: scout.answer!.scout }) : null;
  const ofView = useLatest(makeOfView);
  const fromView = useMemo(() => (scouting ? () => ofView.current?.() : null), [scouting, ofView]);
  const newOfView = useMemo(() => (row === null ? () => ofView.current?.() : null), [row, ofView]);
  const inPlan = useCallback(() => setPlacing(true), []);
  const { from: scoutFrom } = scout;
  const draftNow = useLatest(draft);
  const toScout = useCallback(() => {
    const now = draftNow.current;
    const drawn = now?.draft.drawn;
    if (!drawn || drawn.id !== now.row.id) return;
    scoutFrom(drawn.shot, drawn.id);
    leave("scout");
  }, [draftNow, scoutFrom, leave]);
  const behind = before?.id ?? project.shots[0]?.id ?? null;
  const toShot = useMemo(() => (behind === null ? null : () => leave(behind)), [behind, leave]);
  const kept = solved ? draft?.row.id : undefined;
  const keep = useCallback(() => {
    if (kept)
      write((now) =>
        answerOf(
          http.POST("/api/shots/{key}/keep", {
            params: { path: { key: kept } },
            body: { version: shotIn(now, kept).version },
          }),
        ),
      );
  }, [kept, write]);
  const { cutAt, showLevel, putHabits, putKept, moveStandIn } = useFrameWrites(project, write);
  const takeSuggested = (one: Suggestion) => {
    suggest(null);
    make({ kind: "from_stand", stand: one.stand });
  };
  const { rooms } = project.places;
  const startSuggesting = useMemo(() => {
    if (rooms.length === 0) return null;
    const inside = rooms.findIndex((r) => r.name === before?.room && r.level === before.level);
    return () => suggest(inside >= 0 ? inside : 0);
  }, [rooms, before]);

  const leaveAll = useCallback(() => {
    setInHand(null);
    pick(null);
    lookAlone(null);
    setPlacing(false);
    suggest(null);
  }, []);
  const step = useCallback(
    (by: 1 | -1) => {
      const among = project.shots.filter((s) => s.id === chosen || isWanted(s, narrowed));
      const next = among[among.findIndex((s) => s.id === chosen) + by];
      if (next) leave(next.id);
    },
    [project.shots, chosen, narrowed, leave],
  );
  const prime = useCallback(
    (by: 1 | -1) => {
      const now = draftNow.current;
      if (now && !now.row.locked)
        now.commit(by > 0 ? text.everywhere.nextLongerPrime : text.everywhere.nextShorterPrime, {
          kind: "prime_step",
          by,
        });
    },
    [draftNow],
  );
  useFrameKeys({ leaveAll, setClean, keep, prime, step });

  const ruled = picking === null ? undefined : PICKS[picking];
  const onLine =
    ruled?.onPaper && draft
      ? (drawing: "plan" | "section", start: Point, end: Point) => {
          pick(null);
          draft.commit(ruled.label, ruled.onPaper!(drawing, start, end));
        }
      : null;
  const inSight = sight.map((id) => project.shots.find((s) => s.id === id)).filter((s) => s !== undefined);
  const markers = useMemo(() => inSpace(project, look, before?.id ?? null), [project, look, before?.id]);
  const stand = scout.answer?.scout.stand;
  const sightRow = inSight.length > 0 ? `${sightHeight}px ` : "";
  return (
    <Room style={{ gridTemplateColumns: `${listWidth}px minmax(0, 1fr) ${sideWidth}px` }}>
      <ShotList
        project={project}
        chosen={chosen}
        wanted={narrowed}
        want={want}
        sight={sight}
        setSight={setSight}
        onSuggest={startSuggesting}
        onChoose={leave}
        write={write}
        onNewInPlan={inPlan}
        onNewFromView={fromView}
      />
      <Centre style={{ gridTemplateRows: `minmax(0, 1fr) ${sightRow}34px ${drawings}px` }}>
        <Looks
          project={project}
          draft={draft}
          scout={scout}
          scouting={scouting}
          inHand={inHand}
          clean={clean}
          picking={picking}
          pick={pick}
          open={open}
          alone={alone}
          arrangement={arrangement}
          ratio={ratio}
          setRatio={setRatio}
          markers={markers}
          onPair={pair}
          onPutBack={() =>
            write(({ version }) =>
              answerOf(http.POST("/api/projects/{key}/lift", { ...here, body: { version, how: { kind: "none" } } })),
            )
          }
        />
        {inSight.length > 0 && (
          <InSight
            project={project}
            rows={inSight}
            draft={draft}
            height={sightHeight}
            onOpen={leave}
            onAway={(id) => setSight(sight.filter((s) => s !== id))}
          />
        )}
        <CalmStrip
          project={project}
          draft={draft}
          atOnce={inSide}
          answer={scout.answer}
          scouting={scouting}
          inHand={inHand}
          take={setInHand}
          write={write}
          arrangement={arrangement}
          arrange={arrange}
          onScout={toScout}
          onBack={toShot}
          onNew={newOfView}
        />
        <Papers style={{ gridTemplateColumns: solved ? `${planShare}fr ${100 - planShare}fr` : "1fr" }}>
          <Plan
            project={project}
            draft={draft}
            scout={stand ? { at: [stand.position[0], stand.position[1]], toward: [stand.aim[0], stand.aim[1]] } : null}
            placing={placing}
            setPlacing={setPlacing}
            onChoose={leave}
            onPlaced={(at, aim) => make({ kind: "from_plan", stand: at, aim })}
            onHeight={cutAt}
            onLevel={showLevel}
            putHabits={putHabits}
            look={look}
            putLook={putLook}
            ghosts={suggesting === null ? null : (suggestions?.found ?? null)}
            overGhost={over}
            onLine={onLine}
            open={open}
            onGhost={(n) => {
              const one = suggestions?.found[n];
              if (one) takeSuggested(one);
            }}
            onStandIn={(n, [x, y]) => moveStandIn(n, { kind: "plan", x, y })}
          />
          {solved && draft && (
            <Section
              project={project}
              draft={draft}
              look={look}
              onLine={onLine}
              open={open}
              onStandIn={(n, origin, heading_deg, [x, y]) =>
                moveStandIn(n, { kind: "section", origin, heading_deg, x, y })
              }
            />
          )}
        </Papers>
        <Split
          label={text.everywhere.heightOfTheDrawings}
          vertical
          at={{ bottom: drawings - 3 }}
          value={drawings}
          onMove={(d) => setDrawings(drawings - d)}
        />
        {inSight.length > 0 && (
          <Split
            label={text.frame.heightOfWhatIsKept}
            vertical
            at={{ bottom: drawings + 34 + sightHeight - 3 }}
            value={sightHeight}
            onMove={(d) => setSightHeight(sightHeight - d)}
          />
        )}
        {solved && (
          <Split
            label={text.everywhere.widthOfThePlan}
            at={{ left: `${planShare}%`, top: `calc(100% - ${drawings}px)` }}
            value={planShare}
            onMove={(d) => setPlanShare(planShare + d / 8)}
          />
        )}
      </Centre>
      <Side
        aria-label={text.frame.instruments}
        onPointerDownCapture={() => setInSide(true)}
        onPointerUpCapture={() => setInSide(false)}
        onPointerCancelCapture={() => setInSide(false)}
      >
        {suggesting !== null ? (
          <Suggestions
            project={project}
            room={suggesting}
            setRoom={suggest}
            over={over}
            setOver={setOver}
            onTake={takeSuggested}
            onLevel={showLevel}
            close={() => suggest(null)}
          />
        ) : solved && draft ? (
          <CalmSide
            project={project}
            draft={draft}
            atOnce={inSide}
            open={open}
            setOpen={setOpen}
            picking={picking}
            pick={pick}
            putHabits={putHabits}
            putKept={putKept}
            alone={alone}
            lookAlone={lookAlone}
            keep={keep}
            toLab={toLab}
            write={write}
          />
        ) : scouting ? (
          <Empty style={{ padding: 24 }}>
            <b>{text.frame.lookingAround}</b>
            {text.frame.dragToLookWheel}
            <br />
            <br />
            <Primary isDisabled={!scout.answer} onPress={() => makeOfView?.()}>
              {text.everywhere.newShotOfThisView}
            </Primary>
          </Empty>
        ) : null}
      </Side>
      <Split
        label={text.frame.widthOfTheShot}
        at={{ left: listWidth - 3 }}
        value={listWidth}
        onMove={(d) => setListWidth(listWidth + d)}
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
