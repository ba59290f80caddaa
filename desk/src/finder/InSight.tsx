import { useEffect, useRef, useState } from "react";
import { Button } from "../kit/pressed";
import styled from "styled-components";
import type { Project, ShotRow } from "../api/client";
import type { ShotDesk } from "../shots/draft";
import { edgePrint, film, filmText } from "../kit/tokens";
import { SmallStage } from "./small";

const Row = styled.div`background: ${film}; display: flex; gap: 10px; padding: 6px 12px 4px; align-items: flex-end; overflow: hidden;`;
const One = styled.figure`margin: 0; position: relative; min-width: 0; canvas { display: block; background: #111; }
  figcaption { font-size: 11px; color: ${filmText}; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; } b { color: ${edgePrint}; font-stretch: 85%; margin-right: 5px; }`;
const Open = styled(Button)`border: 0; background: none; padding: 0; cursor: pointer; display: block; &[data-focus-visible] { outline-color: ${edgePrint}; }`;
const Away = styled(Button)`position: absolute; right: 2px; top: 2px; border: 0; border-radius: 3px; background: rgba(35, 38, 37, 0.75); color: #fff; cursor: pointer; padding: 0 6px 2px; line-height: 1.2; font-size: 12px;`;

interface Props { project: Project; rows: ShotRow[]; desk: ShotDesk | null; height: number; onOpen: (id: string) => void; onAway: (id: string) => void }

/** Up to four shots as small live pictures, while one works elsewhere: each follows every change. */
export function InSight({ project, rows, desk, height, onOpen, onAway }: Props) {
  const [stage, setStage] = useState<SmallStage | null>(null);
  const [drawn, setDrawn] = useState(0);
  useEffect(() => {
    let made: SmallStage;
    try {
      made = new SmallStage(project, () => setDrawn((n) => n + 1));
    } catch {
      return;
    }
    setStage(made);
    return () => made.dispose();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the files change with the revision only
  }, [project.set.revision]);
  useEffect(() => stage?.standIns(project), [stage, project]);
  return (
    <Row aria-label="Kept in sight" role="group">
      {rows.map((row) => (
        <Picture key={row.id} project={project} stage={stage} row={row} desk={desk?.row.id === row.id ? desk : null} height={height - 28} drawn={drawn}
          number={project.shots.findIndex((s) => s.id === row.id) + 1} onOpen={() => onOpen(row.id)} onAway={() => onAway(row.id)} />
      ))}
    </Row>
  );
}

interface PictureProps { project: Project; stage: SmallStage | null; row: ShotRow; desk: ShotDesk | null; height: number; number: number; drawn: number; onOpen: () => void; onAway: () => void }

function Picture({ project, stage, row, desk, height, number, drawn, onOpen, onAway }: PictureProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [w, h] = desk?.sheet.back.output_px ?? row.frame_px;
  const width = Math.min(Math.round((height * w) / h), 320);
  const tall = Math.round((width * h) / w);
  const view = desk?.sheet.pose.view ?? row.view;
  const projection = desk?.sheet.lens.projection ?? row.projection;
  useEffect(() => {
    if (stage && canvas.current) stage.draw(canvas.current, project, { view, projection, left_out: row.left_out });
    canvas.current?.setAttribute("data-drawn", view.join());
  }, [stage, project, view, projection, row.left_out, width, tall, drawn]);
  return (
    <One>
      <Open aria-label={`Open ${row.shot.name}`} onPress={onOpen}><canvas ref={canvas} width={width} height={tall} data-sight={row.id} /></Open>
      <Away aria-label={`Keep ${row.shot.name} in sight no longer`} onPress={onAway}>×</Away>
      <figcaption style={{ maxWidth: width }}><b>{number}</b>{row.shot.name}</figcaption>
    </One>
  );
}
