import styled from "styled-components";
import { ToggleButton } from "../kit/pressed";
import { type Shot, useOffer } from "../api/client";
import { ink, quiet, spruce } from "../kit/tokens";
import type { ShotDesk } from "../shots/draft";

const Grid = styled.div`display: grid; grid-template-columns: repeat(3, 1fr); gap: 12px;`;
const Tile = styled(ToggleButton)`
  border: 0; background: none; padding: 4px; cursor: pointer; text-align: center; color: ${quiet}; border-radius: 3px;
  svg { display: block; margin: 0 auto 4px; }
  &[data-selected] { color: ${ink}; font-weight: 650; }
  &[data-disabled] { cursor: default; opacity: 0.6; }
`;
const names: Record<keyof Shot["guides"], string> = { thirds: "Thirds", centre: "Centre" };

/** The frame itself, with each guide drawn in the shot's ratio. */
export function GuidesInstrument({ desk }: { desk: ShotDesk }) {
  const { guides } = useOffer();
  const [w, h] = desk.sheet.back.output_px;
  const k = 74 / Math.max(w, h * 1.35);
  const [width, height] = [w * k, h * k];
  return (
    <Grid>
      {guides.map(({ name, lines }) => {
        const guide = name as keyof Shot["guides"];
        const on = desk.shot.guides[guide];
        return (
          <Tile key={guide} isSelected={on} isDisabled={desk.row.locked} onChange={(next) => desk.commit(`Guide: ${names[guide]}`, { guides: { [guide]: next } })}>
            <svg width={80} height={58} viewBox="-40 -29 80 58" aria-hidden>
              <g transform={`translate(${-width / 2} ${-height / 2})`} stroke={on ? spruce : "#8b8f8d"} strokeWidth={on ? 1.6 : 1}>
                <rect width={width} height={height} fill={on ? spruce : "#fff"} fillOpacity={on ? 0.12 : 1} strokeWidth={on ? 2.4 : 1} />
                {lines.map((l) => <line key={l.join()} x1={l[0] * width} y1={l[1] * height} x2={l[2] * width} y2={l[3] * height} />)}
              </g>
            </svg>
            {names[guide]}
          </Tile>
        );
      })}
    </Grid>
  );
}
