import styled from "styled-components";
import { line } from "../../kit/tokens";
import type { BodyProps } from "../described";
import { Circle } from "./Circle";
import { FocusPlane } from "./FocusPlane";
import { Shifts } from "./Shifts";
import { Uprights } from "./Uprights";
import { text } from "../../text";

const Part = styled.section`
  display: grid;
  gap: 12px;
  > h3 {
    font-weight: 650;
  }
  > svg {
    display: block;
    width: 100%;
    height: auto;
  }
  & + & {
    border-top: 1px solid ${line};
    padding-top: 10px;
  }
`;

/** The film behind its lens, the lens before its film. */
export function MovementsBody(props: BodyProps) {
  return (
    <>
      <Part>
        <Circle desk={props.desk} />
        <Shifts desk={props.desk} />
      </Part>
      <Part>
        <h3>{text.movements.uprights}</h3>
        <Uprights {...props} />
      </Part>
      <Part>
        <h3>{text.movements.tiltAndSwing}</h3>
        <FocusPlane {...props} />
      </Part>
    </>
  );
}
