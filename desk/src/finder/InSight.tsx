import { useRef } from "react";
import { Button } from "../kit/pressed";
import styled from "styled-components";
import { type Project, type ShotRow, useCapOf, useSheetOf } from "../api/client";
import { type ShotDraft, useDrawnShot } from "../shots/draft";
import { edgePrint, film, filmText, mid } from "../kit/tokens";
import { useDrawn } from "../stage/draw";
import { seenThrough } from "../stage/seen";
import { useStage } from "../stage/shared";
import type { ShotMarker } from "../stage/markers";
import type { Stage } from "../stage/stage";
import { text } from "../text";

const Row = styled.div`
  background: ${film};
  display: flex;
  gap: 10px;
  padding: 6px 12px 4px;
  align-items: flex-end;
  overflow: hidden;
`;
const One = styled.figure`
  margin: 0;
  position: relative;
  min-width: 0;
  canvas {
    display: block;
    background: ${mid};
  }
  figcaption {
    font-size: 11px;
    color: ${filmText};
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  b {
    color: ${edgePrint};
    font-stretch: 85%;
    margin-right: 5px;
  }
`;
const Open = styled(Button)`
  border: 0;
  background: none;
  padding: 0;
  cursor: pointer;
  display: block;
  &[data-focus-visible] {
    outline-color: ${edgePrint};
  }
`;
const Away = styled(Button)`
  position: absolute;
  right: 2px;
  top: 2px;
  border: 0;
  border-radius: 3px;
  background: rgba(35, 38, 37, 0.75);
  color: #fff;
  cursor: pointer;
  padding: 0 6px 2px;
  line-height: 1.2;
  font-size: 12px;
`;

const nothing: number[] = [];
const nobody: ShotMarker[] = [];

interface Props {
  project: Project;
  rows: ShotRow[];
  draft: ShotDraft | null;
  height: number;
  onOpen: (id: string) => void;
  onAway: (id: string) => void;
}

/** Up to four shots as small live pictures, while one works elsewhere: each follows every change. */
export function InSight({ project, rows, draft, height, onOpen, onAway }: Props) {
  const { stage, state, share, standIns } = useStage(project);
  const ready = state === "ready" ? stage : null;
  return (
    <Row aria-label={text.finder.keptInSight} role="group">
      {rows.map((row) => (
        <Picture
          key={row.id}
          project={project}
          stage={ready}
          row={row}
          draft={draft?.row.id === row.id ? draft : null}
          height={height - 28}
          came={`${share} ${standIns}`}
          number={project.shots.findIndex((s) => s.id === row.id) + 1}
          onOpen={() => onOpen(row.id)}
          onAway={() => onAway(row.id)}
        />
      ))}
    </Row>
  );
}

interface PictureProps {
  project: Project;
  stage: Stage | null;
  row: ShotRow;
  draft: ShotDraft | null;
  height: number;
  number: number;
  came: string;
  onOpen: () => void;
  onAway: () => void;
}

function Picture({ project, stage, row, draft, height, number, came, onOpen, onAway }: PictureProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [w, h] = useDrawnShot(draft, ({ sheet }) => sheet.back.output_px) ?? row.frame_px;
  const width = Math.min(Math.round((height * w) / h), 320);
  const tall = Math.round((width * h) / w);
  const view = useDrawnShot(draft, ({ sheet }) => sheet.pose.view) ?? row.view;
  const own = useDrawnShot(draft, ({ shot }) => shot.lens) ?? row.shot.lens;
  const drawn = useDrawnShot(draft, ({ sheet }) => sheet.lens);
  const solved = useSheetOf(drawn ? null : row);
  const lens = drawn ?? solved?.lens ?? { projection: row.projection, grid: null, shade: null, from_stand: false };
  const capped = useDrawnShot(draft, ({ sheet }) => sheet.drawings.cap ?? null);
  const cap = useCapOf(draft ? null : row, project);
  const frame = { left: 0, top: 0, width, height: tall };
  useDrawn(
    canvas,
    lens.projection || lens.grid ? stage : null,
    {
      place: project.set.view_matrix,
      sunward: project.sunward,
      hidden: row.left_out,
      ghosts: nothing,
      markers: nobody,
      cutAbove: null,
      marked: null,
      view,
      ...seenThrough(own, lens, draft ? capped : cap),
      width,
      height: tall,
      frame,
      around: true,
      soft: null,
    },
    came,
  );
  return (
    <One>
      <Open aria-label={text.finder.open(row.shot.name)} onPress={onOpen}>
        <canvas ref={canvas} style={{ width, height: tall }} data-sight={row.id} />
      </Open>
      <Away aria-label={text.finder.keepInSightNoLonger(row.shot.name)} onPress={onAway}>
        ×
      </Away>
      <figcaption style={{ maxWidth: width }}>
        <b>{number}</b>
        {row.shot.name}
      </figcaption>
    </One>
  );
}
