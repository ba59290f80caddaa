import styled from "styled-components";
import { Button } from "../../kit/pressed";
import { brick, card, ink, line, quiet, sprucePale } from "../../kit/tokens";
import { millimetres } from "../../kit/words";
import type { ShotDesk } from "../../shots/draft";

const Box = styled.section`border-left: 4px solid ${brick}; padding: 2px 0 2px 10px; display: grid; gap: 6px; h3 { font-weight: 650; }`;
const Way = styled(Button)`
  display: grid; text-align: left; border: 1px solid ${line}; border-radius: 3px; background: ${card}; padding: 5px 10px; cursor: pointer; color: ${ink};
  b { font-weight: 650; } span { color: ${quiet}; font-size: 12px; }
  &[data-hovered] { background: ${sprucePale}; } &[data-disabled] { cursor: default; opacity: 0.6; }
`;

/** What to do where the frame reaches beyond the image circle: each way with what it costs, one press away. */
export function WaysOut({ desk }: { desk: ShotDesk }) {
  const { movements } = desk.sheet;
  const off = desk.row.locked;
  if (movements.circle_ok) return null;
  return (
    <Box aria-label="Beyond the image circle">
      <h3>The frame reaches {millimetres(-(movements.circle_left_mm ?? 0))} beyond the circle; its corner stays dark.</h3>
      {movements.ways_out.map(({ words, cost, gesture }) => (
        <Way key={words} isDisabled={off} onPress={() => { desk.suppose(null); desk.commit(words, gesture); }} onHoverStart={() => desk.suppose(gesture)} onHoverEnd={() => desk.suppose(null)}>
          <b>{words}</b><span>{cost}</span>
        </Way>
      ))}
    </Box>
  );
}
