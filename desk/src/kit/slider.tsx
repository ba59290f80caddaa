import { useState } from "react";
import { Label, Slider as AriaSlider, SliderOutput, SliderThumb, SliderTrack } from "react-aria-components";
import styled from "styled-components";
import { card, ink, line, quiet, spruce } from "./tokens";

const Whole = styled(AriaSlider)`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 8px;
  align-items: baseline;
  label {
    color: ${quiet};
    font-size: 12px;
  }
  output {
    font-weight: 650;
  }
  .react-aria-SliderTrack {
    grid-column: 1 / -1;
    height: 24px;
    width: calc(100% - 16px);
    margin: 0 8px;
  }
  .react-aria-SliderTrack::before {
    content: "";
    position: absolute;
    top: 11px;
    left: -8px;
    right: -8px;
    height: 2px;
    background: ${line};
  }
  .react-aria-SliderThumb {
    top: 12px;
    width: 16px;
    height: 16px;
    border-radius: 50%;
    background: ${card};
    border: 2px solid ${spruce};
    cursor: ew-resize;
  }
  .react-aria-SliderThumb[data-dragging] {
    background: ${spruce};
  }
  .react-aria-SliderThumb[data-focus-visible] {
    outline: 2px solid ${spruce};
    outline-offset: 2px;
  }
  &[data-disabled] {
    label,
    output {
      color: ${quiet};
    }
    .react-aria-SliderThumb {
      border-color: ${line};
      cursor: default;
    }
  }
`;
const Done = styled.i`
  position: absolute;
  top: 11px;
  left: -8px;
  height: 2px;
  background: ${ink};
`;

interface Props {
  label: string;
  value: number;
  shown: (value: number) => string;
  off?: boolean;
  step?: number;
  onMove: (value: number) => void;
  onDone: (value: number) => void;
}

/** A share from none to all, that follows the hand: told while it is moved, and once more when it is let go. */
export function ShareSlider({ label, value, shown, off, step = 0.01, onMove, onDone }: Props) {
  const [held, hold] = useState<number | null>(null);
  const now = held ?? value;
  return (
    <Whole
      value={now}
      minValue={0}
      maxValue={1}
      step={step}
      isDisabled={off}
      formatOptions={{ style: "percent" }}
      onChange={(next) => {
        hold(next as number);
        onMove(next as number);
      }}
      onChangeEnd={(next) => {
        hold(null);
        onDone(next as number);
      }}
    >
      <Label>{label}</Label>
      <SliderOutput>{shown(now)}</SliderOutput>
      <SliderTrack>
        <Done style={{ width: `calc(${100 * now}% + 8px)` }} />
        <SliderThumb />
      </SliderTrack>
    </Whole>
  );
}
