import { type ReactNode, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import styled, { css, keyframes } from "styled-components";
import type { Project, Sheet } from "../api/client";
import { mid, quiet } from "../kit/tokens";
import { Frame, InsetFrame } from "./Frame";
import { type Push, useKeys, usePresses, useWheel } from "./hand";
import { useDrawn } from "../stage/draw";
import { useStage } from "../stage/shared";
import type { Through } from "../stage/seen";
import type { Soft } from "../stage/softness";
import type { ShotMarker } from "../stage/markers";
import type { FrameRect } from "../stage/frameRect";
import { text } from "../text";

const Area = styled.div`
  position: relative;
  background: ${mid};
  min-height: 0;
  min-width: 0;
  overflow: hidden;
  touch-action: none;
  outline-offset: -3px;
  canvas {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    display: block;
  }
  svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
    pointer-events: none;
  }
`;
const Coming = styled.div`
  position: absolute;
  right: 10px;
  bottom: 10px;
  background: rgba(35, 38, 37, 0.82);
  color: #fff;
  padding: 3px 9px;
  border-radius: 3px;
  font-size: 12px;
`;
const appear = keyframes`from { visibility: hidden; } to { visibility: visible; }`;
/** `$late`: only where the wait is long enough to be noticed. */
const Wait = styled.div<{ $late?: boolean }>`
  position: absolute;
  inset: 0;
  display: grid;
  place-items: center;
  color: #fff;
  background: ${quiet};
  ${(p) =>
    p.$late &&
    css`
      animation: ${appear} 0s linear 0.8s both;
    `}
`;

export interface Picture extends Through {
  view: number[];
  ratio: number;
  guides: Sheet["guides"];
  inset?: [number, number] | null;
}
/** The whole frame, when a part of it is to fill the room there is for one. */
function frameAlone(
  width: number,
  height: number,
  ratio: number,
  share: number,
  [left, bottom, right, top]: readonly [number, number, number, number],
): [FrameRect, FrameRect] {
  const own = frameIn(width, height, (ratio * (right - left)) / (top - bottom), share);
  const whole = { width: own.width / (right - left), height: own.height / (top - bottom) };
  return [{ left: own.left - left * whole.width, top: own.top - (1 - top) * whole.height, ...whole }, own];
}

const nothing: number[] = [];
const nobody: ShotMarker[] = [];
const noGuides: Sheet["guides"] = [];

interface Props {
  project: Project;
  picture: Picture | null;
  /** What lies outside the frame is drawn, dimmed. */
  around: boolean;
  /** No frame at all: the picture fills the area (scout view). */
  whole: boolean;
  clean: boolean;
  /** How the frame tells where it is soft. */
  soft?: Soft | null;
  picking: boolean;
  label: string;
  /** A part with a box round it. */
  marked?: number | null;
  /** Parts not drawn beside those lifted off: what a shot leaves out; shown as ghosts with `ghosts`. */
  leftOut?: number[];
  ghosts?: boolean;
  markers?: ShotMarker[];
  /** A part of the frame that is looked at alone: left, bottom, right, top in shares of it. */
  alone?: readonly [number, number, number, number];
  /** What else lies on the picture. */
  over?: (frame: FrameRect) => ReactNode;
  onRatio?: (ratio: number) => void;
  onPick: (x: number, y: number) => void;
  onPushStart?: () => void;
  onPush?: (push: Push) => void;
  onPushEnd?: (push: Push) => void;
  onWheel?: (notches: number) => void;
  onStep?: (ahead: number, right: number, up: number) => void;
  /** Arrow keys with Ctrl: turns to the right and up; with Shift round what is aimed at. */
  onTurn?: (right: number, up: number, around: boolean) => void;
}

function frameIn(width: number, height: number, ratio: number, share: number): FrameRect {
  const room = { width: width * share, height: height * share };
  // Whole pixels: the picture, its edge, guides and picks then lie in the very same frame.
  const wide = Math.round(Math.min(room.width, room.height * ratio));
  const tall = Math.round(wide / ratio);
  return { left: Math.round((width - wide) / 2), top: Math.round((height - tall) / 2), width: wide, height: tall };
}

/** The picture through the lens, or the scout view: as large as fits, on neutral grey. */
export function Finder({
  project,
  picture,
  around,
  whole,
  clean,
  soft = null,
  picking,
  label,
  marked = null,
  leftOut = nothing,
  ghosts = false,
  markers = nobody,
  alone,
  over,
  onRatio,
  onPick,
  onPushStart,
  onPush,
  onPushEnd,
  onWheel,
  onStep,
  onTurn,
}: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const area = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const { stage, state, share: came, standIns } = useStage(project);

  useLayoutEffect(() => {
    if (!area.current) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: Math.round(entry.contentRect.width), height: Math.round(entry.contentRect.height) });
    });
    watch.observe(area.current);
    return () => watch.disconnect();
  }, []);

  useEffect(() => {
    if (whole && size.height) onRatio?.(size.width / size.height);
  }, [whole, size, onRatio]);

  const share = around ? 0.8 : 0.94;
  const [frame, own] =
    !picture || !size.width
      ? [null, null]
      : whole
        ? [{ left: 0, top: 0, ...size }, null]
        : alone
          ? frameAlone(size.width, size.height, picture.ratio, share, alone)
          : [frameIn(size.width, size.height, picture.ratio, share), null];

  const hidden = useMemo(
    () => (leftOut.length ? [...project.hidden, ...leftOut] : project.hidden),
    [project.hidden, leftOut],
  );
  const pale = useMemo(
    () => (ghosts ? leftOut.filter((n) => !project.hidden.includes(n)) : nothing),
    [project.hidden, leftOut, ghosts],
  );
  useDrawn(
    canvas,
    state === "ready" ? stage : null,
    picture &&
      frame && {
        place: project.set.view_matrix,
        sunward: project.sunward,
        hidden,
        ghosts: pale,
        markers,
        cutAbove: project.lifted_above ? project.plan_height : null,
        marked,
        view: picture.view,
        projection: picture.projection,
        grid: picture.grid,
        shade: picture.shade,
        near: picture.near,
        far: picture.far,
        cutting: picture.cutting,
        cap: picture.cap,
        fromStand: picture.fromStand,
        ...size,
        frame,
        around: around || whole,
        soft: !frame || (clean && soft?.how !== "drawn") ? null : soft,
      },
    `${came} ${standIns}`,
  );

  // What a shot of the scout view would show, within the whole picture.
  const inset =
    whole && frame && picture?.inset
      ? { width: frame.width * picture.inset[0], height: frame.height * picture.inset[1] }
      : null;

  const press = usePresses(area, frame, { picking, onPick, onPush, onPushStart, onPushEnd });
  const key = useKeys(onStep, onTurn);
  useWheel(area, onWheel);

  return (
    <Area
      ref={area}
      role="application"
      aria-label={label}
      tabIndex={0}
      data-finder={state}
      onKeyDown={key}
      {...press}
      style={{ cursor: picking ? "crosshair" : onPush ? "grab" : "default" }}
    >
      <canvas ref={canvas} />
      {inset && <InsetFrame size={size} inset={inset} />}
      {frame && picture && !whole && (
        <Frame size={size} frame={frame} around={around} alone={own} guides={clean || own ? noGuides : picture.guides}>
          {over?.(frame)}
        </Frame>
      )}
      {state === "ready" && came < 1 && (
        <Coming role="status">{text.finder.drawingTheSet(Math.round(came * 100))}</Coming>
      )}
      {state === "ready" && !picture && (
        <Wait role="status" $late>
          {text.finder.gettingTheSetReady}
        </Wait>
      )}
      {state !== "ready" && (
        <Wait role="status">{state === "loading" ? text.finder.bringingTheSetToTheDesk : state}</Wait>
      )}
    </Area>
  );
}
