import { memo } from "react";
import { Dialog, DialogTrigger, Popover, Slider, SliderThumb, SliderTrack, Label } from "react-aria-components";
import { Button as AriaButton } from "../kit/pressed";
import styled from "styled-components";
import type { Project, ShotRow } from "../api/client";
import type { ShotMarker } from "../stage/markers";
import { Row, Toggle } from "../kit/controls";
import { useRemembered } from "../kit/remembered";
import { card, ink, line, quiet, spruce } from "../kit/tokens";
import { text } from "../text";

/** How the shots' markers are shown in plan, section and scout view; kept in this browser. */
export interface MarkerLook {
  shown: boolean;
  which: "all" | "level" | "this";
  size: number;
  opacity: number;
}
const first: MarkerLook = { shown: true, which: "all", size: 1, opacity: 0.9 };

export const useMarkerLook = () => useRemembered<MarkerLook>("zevlo-markers", first);

/** The shots that have a marker, with their number in the list. */
export function markedShots(project: Project, look: MarkerLook, chosen: string | null): { row: ShotRow; n: number }[] {
  if (!look.shown) return [];
  return project.shots
    .map((row, n) => ({ row, n }))
    .filter(({ row }) =>
      look.which === "all"
        ? true
        : look.which === "this"
          ? row.id === chosen
          : row.level === (project.plan_level ?? null),
    );
}

export const markerColour = (row: ShotRow, on: boolean): string => row.colour ?? (on ? spruce : "#6b6f6d");

export const inSpace = (project: Project, look: MarkerLook, chosen: string | null): ShotMarker[] =>
  markedShots(project, look, chosen).map(({ row }) => ({
    at: row.marker.at,
    frame: row.marker.frame,
    colour: markerColour(row, row.id === chosen),
    opacity: look.opacity,
    scale: look.size,
    zone: row.id === chosen ? row.marker.zone : [],
  }));

const Open = styled(AriaButton)`
  border: 0;
  background: none;
  color: ${quiet};
  font-size: 12px;
  cursor: pointer;
  padding: 3px 6px;
  border-radius: 3px;
  &[data-hovered] {
    background: ${line};
  }
`;
const Sheet = styled(Popover)`
  background: ${card};
  border: 1px solid ${ink};
  border-radius: 3px;
  padding: 12px 14px;
  width: 250px;
  section {
    outline: none;
    display: grid;
    gap: 12px;
  }
`;
const Slide = styled(Slider)`
  display: grid;
  gap: 6px;
  .react-aria-Label {
    color: ${quiet};
    font-size: 12px;
  }
`;
const Track = styled(SliderTrack)`
  height: 16px;
  position: relative;
  &::before {
    content: "";
    position: absolute;
    top: 7px;
    left: 0;
    right: 0;
    height: 1.5px;
    background: ${ink};
  }
`;
const Thumb = styled(SliderThumb)`
  width: 14px;
  height: 14px;
  border-radius: 50%;
  background: #fff;
  border: 2.4px solid ${spruce};
  top: 8px;
  &[data-focus-visible] {
    outline: 2px solid ${spruce};
  }
`;

const WHICH = [
  ["all", text.drawings.allShots],
  ["level", text.drawings.thisLevel],
  ["this", text.drawings.onlyThisShot],
] as const;

export const MarkerMenu = memo(function MarkerMenu({
  look,
  put,
}: {
  look: MarkerLook;
  put: (look: MarkerLook) => void;
}) {
  return (
    <DialogTrigger>
      <Open className="live">{look.shown ? text.drawings.markers : text.drawings.markersOff}</Open>
      <Sheet placement="top">
        <Dialog aria-label={text.drawings.markersOfShots}>
          <Toggle isSelected={look.shown} onChange={(shown) => put({ ...look, shown })}>
            {text.drawings.showWhereShotsStand}
          </Toggle>
          <Row>
            {WHICH.map(([which, name]) => (
              <Toggle key={which} isSelected={look.which === which} onChange={() => put({ ...look, which })}>
                {name}
              </Toggle>
            ))}
          </Row>
          <Slide
            minValue={0.5}
            maxValue={4}
            step={0.1}
            value={look.size}
            onChange={(size) => put({ ...look, size: size as number })}
          >
            <Label>{text.everywhere.size}</Label>
            <Track>
              <Thumb />
            </Track>
          </Slide>
          <Slide
            minValue={0.15}
            maxValue={1}
            step={0.05}
            value={look.opacity}
            onChange={(opacity) => put({ ...look, opacity: opacity as number })}
          >
            <Label>{text.drawings.opacity}</Label>
            <Track>
              <Thumb />
            </Track>
          </Slide>
        </Dialog>
      </Sheet>
    </DialogTrigger>
  );
});
