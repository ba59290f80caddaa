import styled from "styled-components";
import { line } from "../../kit/tokens";
import type { BodyProps } from "../described";
import { Crops } from "./Crops";
import { Film } from "./Film";
import { Size } from "./Size";
import { Trimming } from "./Trimming";

const Part = styled.section`display: grid; gap: 12px; border-top: 1px solid ${line}; padding-top: 10px; > h3 { font-weight: 650; } > svg { display: block; width: 100%; height: auto; }
  &:first-child { border-top: 0; padding-top: 0; }`;

/** The film, the picture that is made of it, what is trimmed off, and the crops out of it. */
export function BackBody(props: BodyProps) {
  return (
    <>
      <Part><Film {...props} /></Part>
      <Part><h3>Size of the picture</h3><Size {...props} /></Part>
      <Part><h3>Trim</h3><Trimming {...props} /></Part>
      <Part><h3>Crops</h3><Crops {...props} /></Part>
    </>
  );
}
