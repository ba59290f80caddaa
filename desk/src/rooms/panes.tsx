import styled from "styled-components";
import { card, line } from "../kit/tokens";

/** A room in panes: lists and instruments at the sides, the picture in the middle, drawings on paper below it. */
export const Room = styled.div`
  display: grid;
  min-height: 0;
  position: relative;
`;
export const Centre = styled.section`
  display: grid;
  min-height: 0;
  min-width: 0;
  position: relative;
`;
export const Papers = styled.div`
  display: grid;
  min-height: 0;
  background: ${card};
  > * + * {
    border-left: 1px solid ${line};
  }
`;
