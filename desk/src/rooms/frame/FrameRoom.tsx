import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import styled from "styled-components";
import { type Back, http, type NewShot, type Project, type ShotGesture, told, useFresh, useWrite } from "../../api/client";
import { Plan } from "../../drawings/Plan";
import { Section } from "../../drawings/Section";
import { Finder, type Push } from "../../finder/Finder";
import { BackInstrument } from "../../instruments/Back";
import { FocusInstrument } from "../../instruments/Focus";
import { GuidesInstrument } from "../../instruments/Guides";
import { Instrument } from "../../instruments/Instrument";
import { LensInstrument } from "../../instruments/Lens";
import { StandInstrument } from "../../instruments/Stand";
import { Empty, FilmButton, Plain, Primary } from "../../kit/controls";
import { useSay } from "../../kit/notice";
import { typing } from "../../kit/shortcuts";
import { Split, useSplit } from "../../kit/split";
import { card, edgePrint, film, filmText, line, paper, quiet } from "../../kit/tokens";
import { degrees, metres, millimetres, pitchWords } from "../../kit/words";
import { type ShotDesk, useShotDesk } from "../../shots/draft";
import { ShotList } from "../../shots/ShotList";
import { ExposureReading } from "./Exposure";
import { scoutedFrom, useScout } from "./scout";

const Desk = styled.div`display: grid; min-height: 0; position: relative;`;
const Centre = styled.section`display: grid; min-height: 0; min-width: 0; position: relative;`;
const Strip = styled.div`
  background: ${film}; color: ${filmText}; display: flex; align-items: center; gap: 16px; padding: 0 10px 0 14px; height: 34px; white-space: nowrap; overflow: hidden;
  b { color: ${edgePrint}; font-weight: 700; } > b, > button, > .end { flex: none; } > span { overflow: hidden; text-overflow: ellipsis; min-width: 0; }
  .end { margin-left: auto; display: flex; gap: 4px; align-items: center; }
`;
const Papers = styled.div`display: grid; min-height: 0; background: ${card}; > * + * { border-left: 1px solid ${line}; }`;
const Side = styled.aside`background: ${paper}; border-left: 1px solid ${line}; overflow: auto; min-height: 0; display: flex; flex-direction: column;`;
const Acts = styled.div`padding: 12px 14px; display: flex; gap: 8px; flex-wrap: wrap; border-bottom: 1px solid ${line};`;
const State = styled(FilmButton)<{ $on: boolean }>`${(p) => (p.$on ? `background: ${edgePrint}; color: ${film}; &[data-hovered] { background: #fff3cf; filter: none; }` : "")}`;
const Scouting = styled.div`position: absolute; left: 12px; top: 10px; display: flex; gap: 2px; background: rgba(35, 38, 37, 0.82); color: #fff; border-radius: 3px; padding: 2px; z-index: 1;
  [aria-pressed="true"] { background: #fff; color: #202322; }`;

const firstBack: Back = { width_mm: 36, height_mm: 24, cut: "inside", output_px: [1920, 1080], enlarge: 1, trim: { left: 0, right: 0, top: 0, bottom: 0 } };

type Grip = "look" | "orbit" | "shift";
const gestureOf = (push: Push, grip: Grip) => {
  const kind = push.alt ? "shift" : push.shift ? "orbit" : grip;
  return { kind, right: push.right, up: push.up } as const;
};

interface Props {
  project: Project;
  chosen: string | null;
  choose: (id: string | null, replace?: boolean) => void;
  toLab: () => void;
}

export function FrameRoom({ project, chosen, choose, toLab }: Props) {
  const say = useSay();
  const write = useWrite(project.id, say);
  const fresh = useFresh(project.id);
  const row = project.shots.find((s) => s.id === chosen) ?? null;
  const desk = useShotDesk(project, row);
  const scouting = chosen === "scout" || row === null;
  const [wanted, setInHand] = useState<string | null>(null);
  const inHand = desk !== null && !desk.row.locked && wanted === desk.row.id;
  const [open, setOpen] = useState("Focus");
  const [picking, setPicking] = useState(false);
  const [placing, setPlacing] = useState(false);
  const [clean, setClean] = useState(false);
  const [grip, setGrip] = useState<Grip>("look");
  const [ratio, setRatio] = useState(16 / 9);
  // A new shot takes over the back of the one it comes after; the scout view shows that frame.
  const before = row ?? project.shots.find((s) => s.id === scoutedFrom(project.id)) ?? project.shots.at(-1) ?? null;
  const scoutBack = useMemo(() => before?.shot.back ?? firstBack, [before]);
  const scout = useScout(project, scouting, ratio, scoutBack);
  const [listWidth, setListWidth] = useSplit("shots", 208, 160, 340);
  const [sideWidth, setSideWidth] = useSplit("instruments", 308, 280, 420);
  const [drawings, setDrawings] = useSplit("drawings", 300, 150, 520);
  const [planShare, setPlanShare] = useSplit("plan", 50, 25, 75);

  // The first shot is on the desk when the room is entered; the scout view where there is none.
  useEffect(() => {
    if (chosen === null) choose(project.shots[0]?.id ?? "scout", true);
    else if (chosen !== "scout" && row === null) choose(project.shots[0]?.id ?? "scout", true);
  }, [chosen, row, project.shots, choose]);

  const leave = useCallback(
    (id: string | null) => {
      setInHand(null);
      setPicking(false);
      choose(id);
    },
    [choose],
  );

  const make = (how: NewShot["how"]) =>
    write.mutate(async () => {
      const made = await told(http.POST("/api/projects/{key}/shots", { params: { path: { key: project.id } }, body: { how, after: before?.id ?? null } }));
      setPlacing(false);
      await fresh();
      leave(made.id);
    });
  const proof = () => {
    if (!row) return;
    write.mutate(() => told(http.POST("/api/shots/{key}/proof", { params: { path: { key: row.id } } })));
  };
  const keep = useCallback(() => {
    if (row) write.mutate(() => told(http.POST("/api/shots/{key}/keep", { params: { path: { key: row.id } }, body: { version: row.version } })));
  }, [row, write]);

  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (typing(event.target)) return;
      if (event.key === "Escape") {
        setInHand(null);
        setPicking(false);
        setPlacing(false);
      } else if (event.key === " " && !(event.target instanceof HTMLButtonElement)) {
        event.preventDefault();
        setClean(true);
      } else if (event.key === "Enter" && (event.target === document.body || (event.target as HTMLElement).dataset.finder)) keep();
      else if (event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
        event.preventDefault();
        const at = project.shots.findIndex((s) => s.id === chosen);
        const next = project.shots[at + (event.key === "ArrowUp" ? -1 : 1)];
        if (next) leave(next.id);
      }
    };
    const up = (event: KeyboardEvent) => { if (event.key === " ") setClean(false); };
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, [project.shots, chosen, leave, keep]);

  const picture = useMemo(() => {
    if (scouting) return scout.answer && { view: scout.answer.view, projection: scout.answer.projection, ratio, guides: [], inset: scout.answer.frame };
    if (!desk) return null;
    const [w, h] = desk.sheet.back.output_px;
    return { view: desk.sheet.pose.view, projection: desk.sheet.lens.projection, ratio: w / h, guides: desk.sheet.guides };
  }, [scouting, scout.answer, desk, ratio]);

  const held = useRef<ShotDesk | null>(null);
  held.current = desk;
  const wheelTimer = useRef<{ timer: number; factor: number } | null>(null);
  const wheelShot = useCallback((notches: number) => {
    const factor = (wheelTimer.current?.factor ?? 1) * (notches < 0 ? 0.94 : 1 / 0.94);
    const gesture: ShotGesture = { kind: "dolly", factor };
    held.current?.drag(gesture);
    window.clearTimeout(wheelTimer.current?.timer);
    const timer = window.setTimeout(() => {
      held.current?.commit("Dolly", gesture);
      wheelTimer.current = null;
    }, 350);
    wheelTimer.current = { timer, factor };
  }, []);

  const gripTools = (scouting || inHand) && (
    <Scouting role="group" aria-label="What dragging does">
      {(["look", "orbit", "shift"] as const).map((kind) => (
        <Plain key={kind} aria-pressed={grip === kind} onPress={() => setGrip(kind)}>{{ look: "Look around", orbit: "Orbit", shift: "Shift" }[kind]}</Plain>
      ))}
    </Scouting>
  );
  return (
    <Desk style={{ gridTemplateColumns: `${listWidth}px minmax(0, 1fr) ${sideWidth}px` }}>
      <ShotList project={project} chosen={chosen} onChoose={leave} write={(action) => write.mutate(action)} onNewInPlan={() => setPlacing(true)}
        onNewFromView={scouting && scout.answer ? () => make({ kind: "from_scout", scout: scout.answer!.scout }) : null} />
      <Centre style={{ gridTemplateRows: `minmax(0, 1fr) 34px ${drawings}px` }}>
        <div style={{ position: "relative", display: "grid", minHeight: 0 }}>
          <Finder
            project={project} picture={picture} around={inHand} whole={scouting} clean={clean} picking={picking && !scouting}
            label={scouting ? "Scout view" : "Finder, through the lens"} onRatio={setRatio}
            onPick={(x, y) => {
              setPicking(false);
              desk?.commit("Focus on what was picked", { kind: "focus_at", x, y });
            }}
            onPushStart={scouting ? scout.hold : undefined}
            onPush={scouting ? (push) => scout.move(gestureOf(push, grip)) : inHand ? (push) => desk.drag(gestureOf(push, grip)) : undefined}
            onPushEnd={scouting ? undefined : inHand ? (push) => desk.commit({ look: "Pan and tilt", orbit: "Orbit the aim", shift: "Truck and pedestal" }[gestureOf(push, grip).kind], gestureOf(push, grip)) : undefined}
            onWheel={scouting ? scout.wheel : inHand ? wheelShot : undefined}
            onStep={scouting ? scout.step : inHand ? (ahead, right, up) => desk.commit("Walk", { kind: "walk", ahead, right, up }) : undefined}
          />
          {gripTools}
        </div>
        <Strip>
          {scouting ? (
            <>
              <b>Scout view</b>
              {scout.answer && <span><b>{scout.answer.compass}</b> {degrees(scout.answer.heading_deg, 0)}</span>}
              {scout.answer?.above_floor_m != null && <span><b>{metres(scout.answer.above_floor_m)}</b> above floor</span>}
              <span className="end">
                {row === null && <FilmButton isDisabled={!scout.answer} onPress={() => scout.answer && make({ kind: "from_scout", scout: scout.answer.scout })}>New shot of this view</FilmButton>}
                {project.shots.length > 0 && <FilmButton onPress={() => leave(before?.id ?? project.shots[0]!.id)}>Back to the shot</FilmButton>}
              </span>
            </>
          ) : desk ? (
            <>
              <b>▸ {project.shots.findIndex((s) => s.id === desk.row.id) + 1}</b>
              <span><b>{millimetres(desk.shot.lens.focal_length_mm)}</b> {degrees(desk.sheet.lens.angle_deg.horizontal)} × {degrees(desk.sheet.lens.angle_deg.vertical)}</span>
              <span><b>{desk.sheet.focus.stop ?? "all sharp"}</b> at {metres(desk.shot.focus.distance_m)}</span>
              <span>{desk.sheet.pose.above_floor_m == null ? "no floor under it" : <><b>{metres(desk.sheet.pose.above_floor_m)}</b> above floor</>}</span>
              {desk.shot.movements.rise_mm !== 0 && <span><b>{desk.shot.movements.rise_mm > 0 ? "rise" : "fall"} {Math.abs(desk.shot.movements.rise_mm)}</b></span>}
              <ExposureReading desk={desk} />
              <span className="end">
                <FilmButton onPress={() => { scout.from(desk.shot, desk.row.id); leave("scout"); }}>Scout</FilmButton>
                {desk.row.locked ? (
                  <State $on onPress={() => write.mutate(() => told(http.POST("/api/shots/{key}/lock", { params: { path: { key: desk.row.id } }, body: { version: desk.row.version, locked: false } })))}>Locked: unlock</State>
                ) : (
                  <State $on={inHand} aria-pressed={inHand} onPress={() => setInHand(inHand ? null : desk.row.id)}>{inHand ? "In hand" : "On tripod"}</State>
                )}
              </span>
            </>
          ) : <span>Setting up…</span>}
        </Strip>
        <Papers style={{ gridTemplateColumns: desk ? `${planShare}fr ${100 - planShare}fr` : "1fr" }}>
          <Plan project={project} desk={desk} scout={scout.answer && { at: [scout.answer.scout.stand.position[0], scout.answer.scout.stand.position[1]], toward: [scout.answer.scout.stand.aim[0], scout.answer.scout.stand.aim[1]] }} placing={placing} setPlacing={setPlacing} onChoose={leave}
            onPlaced={(stand, aim) => make({ kind: "from_plan", stand, aim })}
            onHeight={(height) => write.mutate(() => told(http.PATCH("/api/projects/{key}", { params: { path: { key: project.id } }, body: { version: project.version, plan_height: height, name: null, lifted: null } })))} />
          {desk && <Section desk={desk} />}
        </Papers>
        <Split label="Height of the drawings" vertical at={{ bottom: drawings - 3 }} value={drawings} onMove={(d) => setDrawings(drawings - d)} />
        {desk && <Split label="Width of the plan" at={{ left: `${planShare}%`, top: `calc(100% - ${drawings}px)` }} value={planShare} onMove={(d) => setPlanShare(planShare + d / 8)} />}
      </Centre>
      <Side aria-label="Instruments">
        {desk ? (
          <>
            <Acts>
              <Primary onPress={proof}>Make a proof</Primary>
              {desk.row.kept ? <span style={{ color: quiet, padding: "4px 6px" }}>Kept as take {desk.row.take?.number ?? 1}</span> : <Plain onPress={keep}>Keep</Plain>}
              {!desk.row.kept && desk.row.take && !desk.row.locked && (
                <Plain onPress={() => write.mutate(() => told(http.POST("/api/shots/{key}/back-to-kept", { params: { path: { key: desk.row.id } }, body: { version: desk.row.version } })))}>Back to take {desk.row.take.number}</Plain>
              )}
              <Latest project={project} shot={desk.row.id} toLab={toLab} />
            </Acts>
            <Instruments desk={desk} open={open} setOpen={setOpen} picking={picking} setPicking={setPicking} />
          </>
        ) : scouting ? (
          <Empty style={{ padding: 24 }}>
            <b>Looking around</b>
            Drag to look, wheel or arrow keys to walk. No shot moves while you do. When you like what you see, make it a shot.
            <br /><br />
            <Primary isDisabled={!scout.answer} onPress={() => scout.answer && make({ kind: "from_scout", scout: scout.answer.scout })}>New shot of this view</Primary>
          </Empty>
        ) : null}
      </Side>
      <Split label="Width of the shot list" at={{ left: listWidth - 3 }} value={listWidth} onMove={(d) => setListWidth(listWidth + d)} />
      <Split label="Width of the instruments" at={{ right: sideWidth - 3 }} value={sideWidth} onMove={(d) => setSideWidth(sideWidth - d)} />
    </Desk>
  );
}

function Latest({ project, shot, toLab }: { project: Project; shot: string; toLab: () => void }) {
  const last = project.prints.find((p) => p.shot_id === shot);
  if (!last) return null;
  const words = { waiting: "waiting", developing: `${Math.round(last.progress * 100)} %`, done: last.stale ? "older than the shot" : "done", failed: "failed", cancelled: "cancelled" }[last.state];
  return <Plain onPress={toLab}>Proof: {words}</Plain>;
}

function Instruments({ desk, open, setOpen, picking, setPicking }: { desk: ShotDesk; open: string; setOpen: (name: string) => void; picking: boolean; setPicking: (on: boolean) => void }) {
  const { sheet, shot } = desk;
  const one = (name: string) => ({ name, open: open === name, onOpen: (is: boolean) => setOpen(is ? name : "") });
  const guides = [shot.guides.thirds && "Thirds", shot.guides.centre && "Centre"].filter(Boolean).join(" + ") || "none";
  const height = sheet.pose.above_floor_m == null ? "no floor" : metres(sheet.pose.above_floor_m);
  return (
    <>
      <Instrument {...one("Stand")} value={`${height} · ${sheet.pose.compass} ${degrees(sheet.pose.heading_deg, 0)} · ${pitchWords(sheet.pose.pitch_deg)}`}><StandInstrument desk={desk} /></Instrument>
      <Instrument {...one("Lens")} value={`${millimetres(shot.lens.focal_length_mm)} · ${degrees(sheet.lens.angle_deg.horizontal)} × ${degrees(sheet.lens.angle_deg.vertical)}`}><LensInstrument desk={desk} /></Instrument>
      <Instrument {...one("Back")} value={`${sheet.back.format} cut to ${sheet.back.ratio}`}><BackInstrument desk={desk} /></Instrument>
      <Instrument {...one("Focus")} value={sheet.focus.stop === null ? "everything sharp" : `${metres(sheet.focus.sharp_from_m)} – ${metres(sheet.focus.sharp_to_m)} sharp`}><FocusInstrument desk={desk} picking={picking} setPicking={setPicking} /></Instrument>
      <Instrument {...one("Guides")} value={guides}><GuidesInstrument desk={desk} /></Instrument>
    </>
  );
}
