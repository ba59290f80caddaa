import styled from "styled-components";
import { Fold } from "../../kit/fold";
import type { BodyProps } from "../described";
import { Crops } from "./Crops";
import { Film } from "./Film";
import { Size, sized } from "./Size";
import { Trimming } from "./Trimming";
import { text } from "../../text";

const Part = styled.section`
  display: grid;
  gap: 12px;
  > svg {
    display: block;
    width: 100%;
    height: auto;
  }
`;

/** The film, the picture that is made of it, what is trimmed off, and the crops out of it. */
export function BackBody(props: BodyProps) {
  const {
    shot: { back },
    sheet,
  } = props.desk;
  const { trim } = back;
  const sides = [
    ["left", trim.left],
    ["right", trim.right],
    ["top", trim.top],
    ["bottom", trim.bottom],
  ] as const;
  const trimmed = sides.filter(([, off]) => off > 0).map(([side]) => side);
  return (
    <>
      <Part>
        <Film {...props} />
      </Part>
      <div>
        <Fold
          name="size"
          title={text.back.sizeOfThePicture}
          first={false}
          value={text.everywhere.pixelCount(sized(sheet.back.output_px))}
        >
          <Size {...props} />
        </Fold>
        <Fold
          name="trim"
          title={text.back.trim}
          first={false}
          value={trimmed.length > 0 ? trimmed.map((side) => text.names.sides[side]).join(", ") : text.everywhere.none}
        >
          <Trimming {...props} />
        </Fold>
        <Fold
          name="crops"
          title={text.back.crops}
          first={false}
          value={back.crops.length > 0 ? text.counts.crop(back.crops.length) : text.everywhere.none}
        >
          <Crops {...props} />
        </Fold>
      </div>
    </>
  );
}
