import { memo } from "react";
import styled from "styled-components";
import { http, type Project, proofOf, type PutHabits, shotIn, told, type Write } from "../../api/client";
import { BackInstrument } from "../../instruments/Back";
import { FocusInstrument } from "../../instruments/Focus";
import { GuidesInstrument } from "../../instruments/Guides";
import { Instrument } from "../../instruments/Instrument";
import { LeftOutInstrument } from "../../instruments/LeftOut";
import { LensInstrument, useLensWords } from "../../instruments/Lens";
import { StandInstrument } from "../../instruments/Stand";
import { Plain, Primary } from "../../kit/controls";
import { useLength } from "../../kit/ruler";
import { line, quiet } from "../../kit/tokens";
import { degrees, many, pitchWords } from "../../kit/words";
import type { ShotDesk } from "../../shots/draft";
import type { Picking } from "./picking";

const Acts = styled.div`padding: 12px 14px; display: flex; gap: 8px; flex-wrap: wrap; border-bottom: 1px solid ${line};`;

interface Props {
  project: Project;
  desk: ShotDesk;
  open: string;
  setOpen: (name: string) => void;
  picking: Picking | null;
  pick: (what: Picking | null) => void;
  putHabits: PutHabits;
  keep: () => void;
  toLab: () => void;
  write: Write;
}

/** What is done with a shot, and its instruments. */
export const FrameSide = memo(function FrameSide({ project, desk, open, setOpen, picking, pick, putHabits, keep, toLab, write }: Props) {
  const length = useLength();
  const seen = useLensWords(desk);
  const { sheet, shot, row } = desk;
  const one = (name: string) => ({ name, open: open === name, onOpen: (is: boolean) => setOpen(is ? name : "") });
  const guides = [shot.guides.thirds && "Thirds", shot.guides.centre && "Centre"].filter(Boolean).join(" + ") || "none";
  const height = sheet.pose.above_floor_m == null ? "no floor" : length(sheet.pose.above_floor_m);
  return (
    <>
      <Acts>
        <Primary onPress={() => write(proofOf(row.id))}>Make a proof</Primary>
        {row.kept ? <span style={{ color: quiet, padding: "4px 6px" }}>Kept as take {row.take?.number ?? 1}</span> : <Plain onPress={keep}>Keep</Plain>}
        {!row.kept && row.take && !row.locked && (
          <Plain onPress={() => write((now) => told(http.POST("/api/shots/{key}/back-to-kept", { params: { path: { key: row.id } }, body: { version: shotIn(now, row.id).version } })))}>Back to take {row.take.number}</Plain>
        )}
        <Latest project={project} shot={row.id} toLab={toLab} />
      </Acts>
      <Instrument {...one("Stand")} value={`${height} · ${sheet.pose.compass} ${degrees(sheet.pose.heading_deg, 0)} · ${pitchWords(sheet.pose.pitch_deg)}`}><StandInstrument project={project} desk={desk} picking={picking} pick={pick} put={putHabits}
        mark={(on) => write(({ id, version }) => told(http.PATCH("/api/projects/{key}", { params: { path: { key: id } }, body: { version, mark: { shot: row.id, on } } })))} /></Instrument>
      <Instrument {...one("Lens")} value={`${seen[0]}${seen[2] ? " · " : " "}${seen[1]}${seen[2]}`}><LensInstrument desk={desk} /></Instrument>
      <Instrument {...one("Back")} value={`${sheet.back.format} cut to ${sheet.back.ratio}`}><BackInstrument desk={desk} /></Instrument>
      <Instrument {...one("Focus")} value={sheet.focus.stop === null || sheet.lens.angle_deg == null ? "everything sharp" : `${length(sheet.focus.sharp_from_m)} – ${length(sheet.focus.sharp_to_m)} sharp`}><FocusInstrument desk={desk} picking={picking === "focus"} setPicking={(on) => pick(on ? "focus" : null)} /></Instrument>
      <Instrument {...one("Guides")} value={guides}><GuidesInstrument desk={desk} /></Instrument>
      <Instrument {...one("Left out")} value={shot.left_out.length ? many(shot.left_out.length, "thing") : "nothing"}><LeftOutInstrument project={project} desk={desk} picking={picking} pick={pick} /></Instrument>
    </>
  );
});

function Latest({ project, shot, toLab }: { project: Project; shot: string; toLab: () => void }) {
  const last = project.prints.find((p) => p.shot_id === shot);
  if (!last) return null;
  const words = { waiting: "waiting", developing: `${Math.round(last.progress * 100)} %`, done: last.stale ? "older than the shot" : "done", failed: "failed", cancelled: "cancelled" }[last.state];
  return <Plain onPress={toLab}>Proof: {words}</Plain>;
}
