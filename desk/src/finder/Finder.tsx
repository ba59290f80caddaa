import { useEffect, useLayoutEffect, useRef, useState } from "react";
import styled from "styled-components";
import type { Project, Sheet } from "../api/client";
import { mid, quiet } from "../kit/tokens";
import { type FrameRect, Stage } from "./stage";

const Area = styled.div`
  position: relative; background: ${mid}; min-height: 0; min-width: 0; overflow: hidden; touch-action: none; outline-offset: -3px;
  canvas { position: absolute; inset: 0; width: 100%; height: 100%; display: block; }
  svg { position: absolute; inset: 0; width: 100%; height: 100%; pointer-events: none; }
`;
const Wait = styled.div`position: absolute; inset: 0; display: grid; place-items: center; color: #fff; background: ${quiet};`;

export interface Picture { view: number[]; projection: number[]; ratio: number; guides: Sheet["guides"]; inset?: [number, number] | null }
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
  onRatio?: (ratio: number) => void;
  onPick: (x: number, y: number) => void;
  onPushStart?: () => void;
  onPush?: (push: Push) => void;
  onPushEnd?: (push: Push) => void;
  onWheel?: (notches: number) => void;
  onStep?: (ahead: number, right: number, up: number) => void;
}

function frameIn(width: number, height: number, ratio: number, share: number): FrameRect {
  const room = { width: width * share, height: height * share };
  const wide = Math.min(room.width, room.height * ratio);
  const tall = wide / ratio;
  return { left: (width - wide) / 2, top: (height - tall) / 2, width: wide, height: tall };
}

/** The picture through the lens, or the scout view: as large as fits, on neutral grey. */
export function Finder({ project, picture, around, whole, clean, picking, label, onRatio, onPick, onPushStart, onPush, onPushEnd, onWheel, onStep }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const area = useRef<HTMLDivElement>(null);
  const stage = useRef<Stage | null>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [state, setState] = useState<"loading" | "ready" | string>("loading");
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
    made.load(project.set.view).then(() => { if (!gone) setState("ready"); }, () => { if (!gone) setState("The set could not be drawn. Reload the page to try again."); });
    return () => {
      gone = true;
      stage.current = null;
      made.dispose();
    };
  }, [project.set.view]);

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

  const frame = picture && size.width ? (whole ? { left: 0, top: 0, ...size } : frameIn(size.width, size.height, picture.ratio, around ? 0.8 : 0.94)) : null;

  useEffect(() => {
    const now = stage.current;
    if (!now || state !== "ready" || !picture || !frame) return;
    const wait = requestAnimationFrame(() => {
      now.resize(size.width, size.height);
      now.light(project.sunward);
      now.lift(project.lifted);
      now.draw(picture.view, picture.projection, frame, around || whole);
      canvas.current?.setAttribute("data-drawn", picture.view.join());
    });
    return () => cancelAnimationFrame(wait);
  });

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
    if (!onStep || event.altKey) return;
    const step = event.shiftKey ? 1 : 0.2;
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
                  <g key={`${guide.name}${x0},${y0},${x1},${y1}`}>
                    <line {...place} stroke="rgba(0,0,0,0.45)" strokeWidth={2.4} />
                    <line {...place} stroke="rgba(255,255,255,0.85)" strokeWidth={1} />
                  </g>
                );
              }),
            )}
        </svg>
      )}
      {state !== "ready" && <Wait role="status">{state === "loading" ? "Bringing the set to the desk…" : state}</Wait>}
    </Area>
  );
}
