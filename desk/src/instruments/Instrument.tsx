import type { ReactNode } from "react";
import { Disclosure, DisclosurePanel, Heading } from "react-aria-components";
import { Button } from "../kit/pressed";
import styled from "styled-components";
import { card, line, paper, quiet, spruce } from "../kit/tokens";

const Frame = styled(Disclosure)`
  background: ${paper};
  border-bottom: 1px solid ${line};
  border-left: 3px solid transparent;
  &[data-expanded] {
    background: ${card};
    border-left-color: ${spruce};
  }
  h2 {
    font: inherit;
  }
  h2 button {
    width: 100%;
    border: 0;
    background: none;
    padding: 9px 14px 9px 13px;
    cursor: pointer;
    display: flex;
    gap: 12px;
    text-align: left;
    align-items: baseline;
    b {
      font-weight: 650;
    }
    span {
      margin-left: auto;
      color: ${quiet};
      text-align: right;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    &[data-focus-visible] {
      outline-offset: -3px;
    }
  }
`;
const Body = styled.div`
  padding: 2px 14px 16px 13px;
  display: grid;
  gap: 12px;
  > svg {
    display: block;
    width: 100%;
    height: auto;
  }
`;

interface Props {
  name: string;
  value: string;
  open: boolean;
  onOpen: (open: boolean) => void;
  children: ReactNode;
}

/** One instrument: closed, its value in a line; open, a picture of the thing it sets. */
export function Instrument({ name, value, open, onOpen, children }: Props) {
  return (
    <Frame isExpanded={open} onExpandedChange={onOpen} data-instrument={name}>
      <Heading level={2}>
        <Button slot="trigger">
          <b>{name}</b>
          <span>{value}</span>
        </Button>
      </Heading>
      <DisclosurePanel>{open && <Body>{children}</Body>}</DisclosurePanel>
    </Frame>
  );
}
