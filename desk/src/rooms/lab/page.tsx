import styled from "styled-components";
import { Check, Checks } from "../../kit/checks";
import { Sheet } from "../../kit/sheet";
import { brick, line, quiet } from "../../kit/tokens";

/*
 * A page one reads before signing: pictures at the left, what will be made of them at the right, what it comes to
 * below.
 */

export const Wide = styled(Sheet)`
  width: min(1180px, 94vw);
  max-width: none;
  height: 88vh;
  max-height: none;
  overflow: hidden;
  padding: 18px 24px;
  > section {
    height: 100%;
    display: grid;
    grid-template-rows: auto minmax(0, 1fr) auto;
    gap: 12px;
  }
`;
export const Two = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 350px;
  gap: 26px;
  min-height: 0;
`;
export const Pictures = styled.div`
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  gap: 8px;
  min-height: 0;
`;
export const List = styled(Checks)`
  overflow: auto;
  border-top: 1px solid ${line};
  border-bottom: 1px solid ${line};
  align-content: start;
`;
export const One = styled(Check)`
  grid-template-columns: 18px 76px minmax(0, 1fr) auto;
  padding: 5px 4px;
  align-items: center;
  &::before {
    margin: 0;
  }
  i {
    display: grid;
    place-items: center;
    height: 52px;
    img {
      max-width: 76px;
      max-height: 52px;
      display: block;
    }
  }
  em {
    font-style: normal;
    color: ${quiet};
    font-size: 12px;
    text-align: right;
  }
`;
export const Settings = styled.div`
  display: grid;
  gap: 16px;
  align-content: start;
  overflow: auto;
  padding-right: 6px;
  h3 {
    font-weight: 650;
    margin-bottom: 6px;
  }
  p {
    color: ${quiet};
  }
  .why {
    color: ${brick};
    font-weight: 600;
  }
`;
export const Foot = styled.div`
  display: flex;
  gap: 14px;
  align-items: center;
  border-top: 1px solid ${line};
  padding-top: 12px;
  b {
    font-weight: 650;
  }
  span {
    color: ${quiet};
  }
  .end {
    margin-left: auto;
    display: flex;
    gap: 8px;
    align-items: center;
  }
`;
