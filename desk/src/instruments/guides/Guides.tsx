import styled from "styled-components";
import { Guides } from "../../api/limits";
import { Fields } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { ToggleButton } from "../../kit/pressed";
import { ink, quiet, spruce } from "../../kit/tokens";
import type { BodyProps } from "../described";
import { text } from "../../text";

const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  gap: 8px 6px;
  align-items: start;
`;
const Tile = styled(ToggleButton)`
  border: 0;
  background: none;
  padding: 4px 0;
  cursor: pointer;
  text-align: center;
  color: ${quiet};
  border-radius: 3px;
  min-width: 0;
  font-size: 12px;
  line-height: 1.25;
  svg {
    display: block;
    margin: 0 auto 4px;
  }
  &[data-selected] {
    color: ${ink};
    font-weight: 650;
  }
  &[data-disabled] {
    cursor: default;
    opacity: 0.6;
  }
`;

/** The frame itself, with each guide as it lies in it. */
export function GuidesBody({ desk }: BodyProps) {
  const [w, h] = desk.sheet.back.output_px;
  const k = 56 / Math.max(w, h * 1.35);
  const [width, height] = [w * k, h * k];
  const { margin } = desk.shot.guides;
  const off = desk.row.locked;
  return (
    <>
      <Grid>
        {desk.sheet.guides.map(({ name, words, shown, on, off: without, lines }) => (
          <Tile
            key={name}
            isSelected={shown}
            isDisabled={off}
            onChange={(next) => desk.commit(text.guides.guide(words), { guides: { [name]: next ? on : without } })}
          >
            <svg width={62} height={46} viewBox="-31 -23 62 46" aria-hidden>
              <g
                transform={`translate(${-width / 2} ${height / 2}) scale(1 -1)`}
                stroke={shown ? spruce : "#8b8f8d"}
                strokeWidth={shown ? 1.6 : 1}
              >
                <rect
                  width={width}
                  height={height}
                  fill={shown ? spruce : "#fff"}
                  fillOpacity={shown ? 0.12 : 1}
                  strokeWidth={shown ? 2.4 : 1}
                />
                {lines.map((l) => (
                  <line key={l.join()} x1={l[0] * width} y1={l[1] * height} x2={l[2] * width} y2={l[3] * height} />
                ))}
              </g>
            </svg>
            {words}
          </Tile>
        ))}
      </Grid>
      {margin != null && (
        <Fields $columns={2}>
          <NumberField
            label={text.guides.marginOfEachSide}
            unit="percent"
            digits={1}
            step={0.005}
            of={Guides.margin}
            value={margin}
            off={off}
            onCommit={(v) => desk.commit(text.guides.guideMargin, { guides: { margin: v } })}
          />
        </Fields>
      )}
    </>
  );
}
