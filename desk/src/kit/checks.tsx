import { Checkbox, CheckboxGroup } from "react-aria-components";
import styled from "styled-components";
import { brick, ink, ochre, quiet, spruce } from "./tokens";

/** Things to choose several of, under one label. */
export const Checks = styled(CheckboxGroup)`
  display: grid;
  gap: 2px;
  align-content: start;
  > .react-aria-Label {
    color: ${quiet};
    font-size: 12px;
    margin-bottom: 4px;
  }
`;

/** One of them: a box and its words, small ones under them. */
export const Check = styled(Checkbox)`
  display: grid;
  grid-template-columns: 18px 1fr;
  gap: 8px;
  padding: 4px 2px;
  border-radius: 3px;
  cursor: pointer;
  align-items: start;
  &::before {
    content: "";
    width: 15px;
    height: 15px;
    border: 1.5px solid ${ink};
    border-radius: 2px;
    margin-top: 2px;
    background: #fff;
  }
  &[data-selected]::before {
    background: ${spruce};
    border-color: ${spruce};
    box-shadow: inset 0 0 0 2px #fff;
  }
  &[data-disabled] {
    color: ${quiet};
    cursor: default;
  }
  small {
    display: block;
    color: ${quiet};
    font-size: 12px;
  }
  .no {
    color: ${brick};
  }
  .mind {
    color: ${ochre};
  }
  &[data-focus-visible] {
    outline: 2px solid ${spruce};
  }
`;
