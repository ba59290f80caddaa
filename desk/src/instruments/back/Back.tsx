import styled from "styled-components";
import { Fold } from "../../kit/fold";
import { many } from "../../kit/words";
import type { BodyProps } from "../described";
import { Crops } from "./Crops";
import { Film } from "./Film";
import { Size, sized } from "./Size";
import { Trimming } from "./Trimming";

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
        <Fold name="size" title="Size of the picture" first={false} value={`${sized(sheet.back.output_px)} px`}>
          <Size {...props} />
        </Fold>
        <Fold name="trim" title="Trim" first={false} value={trimmed.length > 0 ? trimmed.join(", ") : "none"}>
          <Trimming {...props} />
        </Fold>
        <Fold
          name="crops"
          title="Crops"
          first={false}
          value={back.crops.length > 0 ? many(back.crops.length, "crop") : "none"}
        >
          <Crops {...props} />
        </Fold>
      </div>
    </>
  );
}
