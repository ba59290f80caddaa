import type { ReactNode } from "react";
import { type ButtonProps, Tooltip as AriaTooltip, TooltipTrigger } from "react-aria-components";
import styled, { css } from "styled-components";
import { Button as Pressed, ToggleButton as Turned } from "./pressed";
import { brick, card, edgePrint, film, ink, line, quiet, spruce, sprucePale } from "./tokens";

const shape = css`
  min-height: 28px;
  padding: 3px 11px;
  border-radius: 3px;
  border: 1px solid ${ink};
  background: ${card};
  color: ${ink};
  font-weight: 600;
  cursor: pointer;
  transition: background 100ms;
  white-space: nowrap;
  &[data-hovered] {
    background: ${sprucePale};
  }
  &[data-pressed] {
    background: ${line};
  }
  &[data-disabled] {
    color: ${quiet};
    border-color: ${line};
    cursor: default;
  }
`;

export const Button = styled(Pressed)`
  ${shape}
`;

export const Primary = styled(Pressed)`
  ${shape}
  background: ${spruce};
  border-color: ${spruce};
  color: #fff;
  &[data-hovered] {
    background: #17493b;
  }
  &[data-pressed] {
    background: #12392e;
  }
  &[data-disabled] {
    background: ${line};
    border-color: ${line};
    color: ${quiet};
  }
`;

export const Danger = styled(Pressed)`
  ${shape} color: ${brick};
  border-color: ${brick};
`;

/** A word that is a button: for small actions in running text and rows. */
export const Plain = styled(Pressed)`
  border: 0;
  background: none;
  padding: 3px 6px;
  border-radius: 3px;
  cursor: pointer;
  color: inherit;
  font-weight: 500;
  &[data-hovered] {
    background: rgba(128, 128, 128, 0.18);
  }
  &[data-disabled] {
    opacity: 0.5;
    cursor: default;
  }
`;

export const Toggle = styled(Turned)`
  ${shape} border-color: ${line};
  font-weight: 500;
  &[data-selected] {
    background: ${ink};
    color: #fff;
    border-color: ${ink};
  }
`;

const Bubble = styled(AriaTooltip)`
  background: ${ink};
  color: #fff;
  padding: 4px 8px;
  border-radius: 3px;
  font-size: 12px;
  max-width: 260px;
`;

export function Told({ tip, children, ...button }: ButtonProps & { tip: string; children: ReactNode }) {
  return (
    <TooltipTrigger delay={500}>
      <Plain aria-label={tip} {...button}>
        {children}
      </Plain>
      <Bubble offset={6}>{tip}</Bubble>
    </TooltipTrigger>
  );
}

export const Fields = styled.div<{ $columns?: number }>`
  display: grid;
  grid-template-columns: repeat(${(p) => p.$columns ?? 3}, minmax(0, 1fr));
  gap: 10px 12px;
  align-items: end;
`;

export const Reading = styled.div`
  span {
    display: block;
    color: ${quiet};
    font-size: 12px;
  }
  b {
    font-size: 16px;
    font-weight: 700;
  }
`;

export const Row = styled.div`
  display: flex;
  align-items: center;
  gap: 8px;
  flex-wrap: wrap;
`;

export const Empty = styled.div`
  color: ${quiet};
  max-width: 460px;
  margin: auto;
  text-align: center;
  line-height: 1.6;
  b,
  h1 {
    color: ${ink};
    display: block;
    font-size: 16px;
    font-weight: bold;
    margin: 0 0 4px;
  }
`;

export const MenuPaper = css`
  background: ${card};
  border: 1px solid ${ink};
  border-radius: 3px;
  padding: 4px;
  outline: none;
  min-width: 180px;
  [role="menuitem"],
  [role="option"] {
    padding: 5px 10px;
    border-radius: 2px;
    cursor: pointer;
    outline: none;
  }
  [data-focused] {
    background: ${sprucePale};
  }
  [data-disabled] {
    color: ${quiet};
  }
`;

export const FilmButton = styled(Pressed)`
  background: none;
  border: 0;
  color: ${edgePrint};
  font-weight: 600;
  cursor: pointer;
  padding: 3px 7px;
  border-radius: 3px;
  &[data-hovered] {
    background: ${film};
    filter: brightness(1.5);
  }
  &[data-focus-visible] {
    outline-color: ${edgePrint};
  }
  &[data-disabled] {
    opacity: 0.45;
    cursor: default;
  }
`;

/** A field one writes part of a name into. */
export const Find = styled.input`
  width: 100%;
  border: 1px solid ${line};
  border-radius: 3px;
  background: #fff;
  padding: 5px 8px;
  color: ${ink};
  &::placeholder {
    color: ${quiet};
  }
  &:focus {
    outline: 2px solid ${spruce};
  }
`;
