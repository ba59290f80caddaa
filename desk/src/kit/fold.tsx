import type { ReactNode } from "react";
import { Disclosure, DisclosurePanel, Heading } from "react-aria-components";
import styled from "styled-components";
import { Button } from "./pressed";
import { useRemembered } from "./remembered";
import { line, quiet } from "./tokens";

const Part = styled(Disclosure)`
  border-top: 1px solid ${line};
  h3 {
    font: inherit;
  }
  h3 button {
    width: 100%;
    border: 0;
    background: none;
    padding: 9px 0;
    cursor: pointer;
    display: flex;
    gap: 6px;
    text-align: left;
    align-items: baseline;
    font-weight: 650;
    i {
      font-style: normal;
      color: ${quiet};
      width: 12px;
    }
    span {
      margin-left: auto;
      color: ${quiet};
      font-weight: 400;
      text-align: right;
    }
  }
`;
const Body = styled.div`
  display: grid;
  gap: 12px;
  padding-bottom: 6px;
  > svg {
    display: block;
    width: 100%;
    height: auto;
  }
`;

interface Props {
  name: string;
  title: string;
  first: boolean;
  value?: string;
  children: ReactNode;
}

/**
 * A part of an instrument that folds under its drawing, and remembers by its `name` whether it was open; closed it
 * shows its value.
 */
export function Fold({ name, title, first, value, children }: Props) {
  const [open, setOpen] = useRemembered(`zevlo-fold-${name}`, first);
  return (
    <Part isExpanded={open} onExpandedChange={setOpen}>
      <Heading level={3}>
        <Button slot="trigger">
          <i aria-hidden>{open ? "▾" : "▸"}</i>
          {title}
          {!open && value && <span>{value}</span>}
        </Button>
      </Heading>
      <DisclosurePanel>{open && <Body>{children}</Body>}</DisclosurePanel>
    </Part>
  );
}
