import { Popover } from "react-aria-components";
import styled from "styled-components";
import { Check, Checks } from "../../../kit/checks";
import { Button } from "../../../kit/pressed";
import { brick, card, ink, line, ochre, paper, quiet, spruce } from "../../../kit/tokens";

/*
 * An order is a page one reads before signing: the pictures at the left, what will be made of them and how long it
 * takes at the right.
 */

export const Page = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 372px;
  background: ${paper};
  min-height: 0;
  height: 100%;
`;
export const Left = styled.section`
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
  padding: 20px 24px 0;
  > header {
    display: flex;
    gap: 12px;
    align-items: baseline;
    flex-wrap: wrap;
    padding-bottom: 8px;
    border-bottom: 1px solid ${line};
    h1 {
      font-size: 15px;
      font-weight: 700;
    }
    > span {
      color: ${quiet};
    }
    .end {
      margin-left: auto;
      display: flex;
      gap: 2px;
      align-items: center;
      white-space: nowrap;
      input {
        width: 136px;
        min-width: 0;
      }
    }
  }
`;
export const Lines = styled(Checks)`
  display: block;
  overflow: auto;
  padding-bottom: 30px;
  position: relative;
`;
export const Line = styled.div`
  display: grid;
  grid-template-columns: minmax(260px, 1fr) 168px minmax(170px, 0.62fr);
  gap: 18px;
  align-items: center;
  border-bottom: 1px solid ${line};
  padding: 8px 0;
  &[data-crop] > label {
    margin-left: 34px;
  }
  &:not([data-in]) > div {
    color: ${quiet};
  }
  .words {
    display: grid;
    gap: 1px;
    justify-items: start;
    color: ${quiet};
    .mind {
      color: ${ochre};
      font-weight: 500;
    }
    .well {
      color: ${spruce};
      font-weight: 500;
    }
  }
`;
export const What = styled(Check)`
  grid-template-columns: 18px 92px minmax(0, 1fr);
  gap: 14px;
  align-items: center;
  padding: 2px;
  &::before {
    margin: 0;
  }
  i {
    display: grid;
    place-items: center;
    height: 58px;
    img {
      display: block;
      max-width: 92px;
      max-height: 58px;
    }
  }
  b {
    font-weight: 650;
    display: block;
    overflow-wrap: anywhere;
  }
`;
export const Size = styled(Button)`
  border: 0;
  border-bottom: 1px solid ${ink};
  background: none;
  padding: 2px 0 4px;
  cursor: pointer;
  text-align: left;
  width: 100%;
  font-weight: 500;
  i {
    display: block;
    font-style: normal;
  }
  span {
    color: ${quiet};
    font-weight: 400;
  }
  &[data-hovered] {
    border-bottom-color: ${spruce};
    color: ${spruce};
  }
`;
export const Word = styled(Button)`
  border: 0;
  background: none;
  padding: 4px 0;
  min-height: 24px;
  cursor: pointer;
  text-decoration: underline;
  text-underline-offset: 2px;
  font-weight: 600;
  color: ${ochre};
`;
export const Paper = styled(Popover)`
  background: ${card};
  border: 1px solid ${ink};
  border-radius: 3px;
  padding: 14px 16px;
  width: 330px;
  color: ${ink};
  section {
    outline: none;
    display: grid;
    gap: 10px;
  }
`;
export const Right = styled.section`
  background: ${card};
  border-left: 1px solid ${line};
  padding: 18px 22px 14px;
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto auto;
  gap: 12px;
  min-height: 0;
  > div:first-child {
    overflow: auto;
    position: relative;
    display: grid;
    gap: 14px;
    align-content: start;
    padding-right: 6px;
  }
  h2 {
    color: ${quiet};
    font-size: 12px;
    margin-bottom: 4px;
  }
  p {
    color: ${quiet};
    margin-top: 5px;
  }
  .why {
    color: ${brick};
    font-weight: 600;
  }
`;
export const Sum = styled.dl`
  border-top: 1px solid ${line};
  margin: 0;
  padding-top: 12px;
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 6px 12px;
  dt {
    color: ${ink};
  }
  dd {
    margin: 0;
    text-align: right;
    font-weight: 650;
  }
`;
export const Soon = styled.p`
  border-top: 1px solid ${line};
  margin: 0;
  padding-top: 12px;
  color: ${ink};
`;
export const Sign = styled.div`
  display: flex;
  gap: 8px;
  align-items: center;
  .leave {
    margin-left: auto;
  }
`;
