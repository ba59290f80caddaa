import { useEffect, useLayoutEffect, useRef, useState } from "react";
import styled, { css, keyframes } from "styled-components";
import type { Project, Sheet } from "../api/client";
import { useRuler } from "../kit/ruler";
import { mid, quiet } from "../kit/tokens";
import { underWay } from "../kit/settled";
import { Pace } from "./pace";
import { type FrameRect, Stage } from "./stage";

const Area = styled.div`
  position: relative; background: ${mid}; min-height: 0; min-width: 0; overflow: hidden; touch-action: none; outline-offset: -3px;
  canvas { position: absolute; inset: 0; width: 100%; height: 100%; display: block; }
  svg { position: absolute; inset: 0; width: 100%; height: 100%; pointer-events: none; }
`;
const Coming = styled.div`position: absolute; right: 10px; bottom: 10px; background: rgba(35, 38, 37, 0.82); color: #fff; padding: 3px 9px; border-radius: 3px; font-size: 12px;`;
const appear = keyframes`from { visibility: hidden; } to { visibility: visible; }`;
/** `$late`: only where the wait is long enough to be noticed. */
const Wait = styled.div<{ $late?: boolean }>`position: absolute; inset: 0; display: grid; place-items: center; color: #fff; background: ${quiet};
  ${(p) => p.$late && css`animation: ${appear} 0s linear 0.8s both;`}`;

export interface Picture { view: number[]; projection: number[]; ratio: number; guides: Sheet["guides"]; inset?: [number, number] | null }
export interface ShotMarker { at: number[]; frame: number[][]; colour: string; opacity: number; scale: number }
const nothing: number[] = [];
const nobody: ShotMarker[] = [];
export interface Push { right: number; up: number; shift: boolean; alt: boolean }

interface Props {
  project: Project;
  picture: Picture | null;
  /** What lies outside the frame is drawn, dimmed. */
  around: boolean;
  /** No frame at all: the picture fills the area (scout view). */
  whole: boolean;
  clean: boolean;
  picking: boolean;
  label: string;
  /** A part with a box round it. */
  marked?: number | null;
  /** Parts not drawn beside those lifted off: what a shot leaves out; shown as ghosts with `ghosts`. */
  leftOut?: number[];
  ghosts?: boolean;
  markers?: ShotMarker[];
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
export function Finder({ project, picture, around, whole, clean, picking, label, marked = null, leftOut = nothing, ghosts = false, markers = nobody, onRatio, onPick, onPushStart, onPush, onPushEnd, onWheel, onStep, onTurn }: Props) {
  const ruler = useRuler();
  const canvas = useRef<HTMLCanvasElement>(null);
  const area = useRef<HTMLDivElement>(null);
  const stage = useRef<Stage | null>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [state, setState] = useState<"loading" | "ready" | string>("loading");
  const [came, setCame] = useState(0);
  const [standIns, setStandIns] = useState(0);
  const pace = useRef(new Pace());
  const pushing = useRef<{ x: number; y: number; moved: boolean } | null>(null);

  useEffect(() => {
    if (!canvas.current) return;
    let gone = false;
    let made: Stage;
    try {
      made = new Stage(canvas.current);
    } catch {
      setState("This browser cannot draw in three dimensions (WebGL 2 is needed). The drawings and instruments work without it.");
      return;
    }
    stage.current = made;
    made.load(project.set.views, (share) => { if (!gone) { setState("ready"); setCame(share); } }).catch(() => { if (!gone) setState("The set could not be drawn. Reload the page to try again."); });
    const pacing = pace.current;
    return () => {
      gone = true;
      pacing.stop();
      stage.current = null;
      made.dispose();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the files change with the revision only
  }, [project.set.revision]);

  useEffect(() => {
    void stage.current?.loadStandIns(project.set.stand_ins_view ?? null, project.set.own_parts, () => setStandIns((n) => n + 1))
      .catch(() => setState("The stand-ins could not be drawn. Reload the page to try again."));
  }, [project.set.stand_ins_view, project.set.own_parts, project.set.revision]);

  useLayoutEffect(() => {
    if (!area.current) return;
    const watch = new ResizeObserver(([entry]) => {
      pace.current.took(null);
      if (entry) setSize({ width: Math.round(entry.contentRect.width), height: Math.round(entry.contentRect.height) });
    });
    watch.observe(area.current);
    return () => watch.disconnect();
  }, []);

  useEffect(() => {
    if (whole && size.height) onRatio?.(size.width / size.height);
  }, [whole, size, onRatio]);

  const frame = picture && size.width ? (whole ? { left: 0, top: 0, ...size } : frameIn(size.width, size.height, picture.ratio, around ? 0.8 : 0.94)) : null;

  // Numbers come anew with every answer; what they say is what counts. Lists keep their identity while they are the same.
  const seenFrom = picture && frame ? JSON.stringify([picture.view, picture.projection, frame, size, project.sunward, project.set.view_matrix]) : null;
  useEffect(() => {
    const now = stage.current;
    if (!now || state !== "ready" || !picture || !frame) return;
    const draw = (fineness: number) => {
      now.resize(size.width, size.height, fineness);
      now.light(project.sunward);
      now.place(project.set.view_matrix);
      now.lift(leftOut.length ? [...project.hidden, ...leftOut] : project.hidden, ghosts ? leftOut.filter((n) => !project.hidden.includes(n)) : nothing);
      now.standingShots(markers);
      now.cutAbove(project.lifted_above ? project.plan_height : null);
      now.mark(marked);
      now.draw(picture.view, picture.projection, frame, around || whole);
    };
    const told = () => canvas.current?.setAttribute("data-drawn", picture.view.join());
    const wholly = (fineness: number) => {
      draw(fineness);
      now.finished();
    };
    const over = underWay();
    const wait = requestAnimationFrame(() => {
      over();
      if (pace.current.quick) {
        draw(1);
        told();
        return;
      }
      const finely = () => {
        const began = performance.now();
        wholly(1);
        pace.current.took(performance.now() - began);
        told();
      };
      // The first picture of its size is drawn in all pixels, and measured: nothing finer comes after it.
      if (!pace.current.known) {
        finely();
        return;
      }
      pace.current.follow(() => wholly(pace.current.fineness()));
      pace.current.rest(finely);
    });
    return () => {
      cancelAnimationFrame(wait);
      over();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- drawn anew when something drawn is another one
  }, [state, came, standIns, seenFrom, project.hidden, project.lifted_above, project.plan_height, leftOut, ghosts, markers, marked, around, whole]);

  // What a shot of the scout view would show, within the whole picture.
  const inset = whole && frame && picture?.inset ? { width: frame.width * picture.inset[0], height: frame.height * picture.inset[1] } : null;

  const share = (event: React.PointerEvent, from: { x: number; y: number }): Push => ({
    right: frame ? (event.clientX - from.x) / frame.width : 0,
    up: frame ? -(event.clientY - from.y) / frame.height : 0,
    shift: event.shiftKey,
    alt: event.altKey,
  });
  const down = (event: React.PointerEvent) => {
    if (event.button !== 0 || !frame) return;
    if (picking) {
      const box = area.current?.getBoundingClientRect();
      if (!box) return;
      const x = (event.clientX - box.left - frame.left) / frame.width;
      const y = 1 - (event.clientY - box.top - frame.top) / frame.height;
      if (x >= 0 && x <= 1 && y >= 0 && y <= 1) onPick(x, y);
      return;
    }
    if (!onPush) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    pushing.current = { x: event.clientX, y: event.clientY, moved: false };
    onPushStart?.();
  };
  const move = (event: React.PointerEvent) => {
    if (!pushing.current) return;
    pushing.current.moved = true;
    onPush?.(share(event, pushing.current));
  };
  const up = (event: React.PointerEvent) => {
    const from = pushing.current;
    pushing.current = null;
    if (from?.moved) onPushEnd?.(share(event, from));
  };
  const key = (event: React.KeyboardEvent) => {
    const turn = { ArrowUp: [0, 1], ArrowDown: [0, -1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[event.key];
    if (event.ctrlKey || event.metaKey) {
      if (!onTurn || !turn) return;
      event.preventDefault();
      onTurn(turn[0]!, turn[1]!, event.shiftKey);
      return;
    }
    if (!onStep || event.altKey) return;
    const step = event.shiftKey ? ruler.stride_m : ruler.walk_m;
    const ways: Record<string, [number, number, number]> = {
      ArrowUp: [step, 0, 0], ArrowDown: [-step, 0, 0], ArrowLeft: [0, -step, 0], ArrowRight: [0, step, 0],
      PageUp: [0, 0, step / 2], PageDown: [0, 0, -step / 2],
    };
    const way = ways[event.key];
    if (way) {
      event.preventDefault();
      onStep(...way);
    }
  };
  useEffect(() => {
    const node = area.current;
    if (!node || !onWheel) return;
    const turned = (event: WheelEvent) => {
      event.preventDefault();
      onWheel(Math.sign(event.deltaY));
    };
    node.addEventListener("wheel", turned, { passive: false });
    return () => node.removeEventListener("wheel", turned);
  }, [onWheel]);

  return (
    <Area
      ref={area} role="application" aria-label={label} tabIndex={0} data-finder={state} onKeyDown={key}
      onPointerDown={down} onPointerMove={move} onPointerUp={up} onPointerCancel={up}
      style={{ cursor: picking ? "crosshair" : onPush ? "grab" : "default" }}
    >
      <canvas ref={canvas} />
      {inset && (
        <svg aria-hidden>
          <path fillRule="evenodd" fill="rgba(35,38,37,0.45)" d={`M0 0H${size.width}V${size.height}H0ZM${(size.width - inset.width) / 2} ${(size.height - inset.height) / 2}v${inset.height}h${inset.width}v${-inset.height}Z`} />
          <rect x={(size.width - inset.width) / 2} y={(size.height - inset.height) / 2} width={inset.width} height={inset.height} fill="none" stroke="#fff" strokeDasharray="7 4" strokeWidth={1.5} />
        </svg>
      )}
      {frame && picture && !whole && (
        <svg aria-hidden data-frame={`${frame.left},${frame.top},${frame.width},${frame.height}`}>
          {around && (
            <path fillRule="evenodd" fill="rgba(35,38,37,0.62)" d={`M0 0H${size.width}V${size.height}H0ZM${frame.left} ${frame.top}v${frame.height}h${frame.width}v${-frame.height}Z`} />
          )}
          <rect x={frame.left - 1} y={frame.top - 1} width={frame.width + 2} height={frame.height + 2} fill="none" stroke={around ? "#fff" : "#232625"} strokeWidth={around ? 2 : 1} />
          {!clean &&
            picture.guides.flatMap((guide) =>
              guide.lines.map(([x0, y0, x1, y1]) => {
                const place = { x1: frame.left + x0 * frame.width, x2: frame.left + x1 * frame.width, y1: frame.top + (1 - y0) * frame.height, y2: frame.top + (1 - y1) * frame.height };
                return (
                  <g key={`${guide.name}${x0},${y0},${x1},${y1}`} data-guide={guide.name}>
                    <line {...place} stroke="rgba(0,0,0,0.45)" strokeWidth={2.4} />
                    <line {...place} stroke="rgba(255,255,255,0.85)" strokeWidth={1} />
                  </g>
                );
              }),
            )}
        </svg>
      )}
      {state === "ready" && came < 1 && <Coming role="status">Drawing the set, {Math.round(came * 100)} %</Coming>}
      {state === "ready" && !picture && <Wait role="status" $late>Getting the set ready to be worked in…</Wait>}
      {state !== "ready" && <Wait role="status">{state === "loading" ? "Bringing the set to the desk…" : state}</Wait>}
    </Area>
  );
}
