import styled from "styled-components";
import type { ShotGesture } from "../api/client";
import { Button } from "../kit/pressed";
import { brick, card, ink, line, quiet, sprucePale } from "../kit/tokens";
import type { ShotDesk } from "../shots/draft";

const Box = styled.section`
  border-left: 4px solid ${brick};
  padding: 2px 0 2px 10px;
  display: grid;
  gap: 6px;
  h3 {
    font-weight: 650;
  }
`;
const Offer = styled(Button)`
  display: grid;
  text-align: left;
  border: 1px solid ${line};
  border-radius: 3px;
  background: ${card};
  padding: 5px 10px;
  cursor: pointer;
  color: ${ink};
  b {
    font-weight: 650;
  }
  span {
    color: ${quiet};
    font-size: 12px;
  }
  &[data-hovered] {
    background: ${sprucePale};
  }
  &[data-disabled] {
    cursor: default;
    opacity: 0.6;
  }
`;

interface Remedy {
  words: string;
  cost: string;
  gesture: ShotGesture;
}
interface Props {
  desk: ShotDesk;
  label: string;
  why: string;
  offered: readonly Remedy[];
}

/** What would do where something cannot be had as it is: each with what it costs, one press away. */
export function Alternatives({ desk, label, why, offered }: Props) {
  const off = desk.row.locked;
  return (
    <Box aria-label={label}>
      <h3>{why}</h3>
      {offered.map(({ words, cost, gesture }) => (
        <Offer
          key={words}
          isDisabled={off}
          onPress={() => {
            desk.suppose(null);
            desk.commit(words, gesture);
          }}
          onHoverStart={() => desk.suppose(gesture)}
          onHoverEnd={() => desk.suppose(null)}
        >
          <b>{words}</b>
          <span>{cost}</span>
        </Offer>
      ))}
    </Box>
  );
}
