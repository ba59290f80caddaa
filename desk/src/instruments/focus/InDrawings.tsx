import { Tag } from "../../drawings/ink";
import { useLength } from "../../kit/ruler";
import { spruce } from "../../kit/tokens";
import type { HandleProps } from "../described";
import { FocusLines } from "./FocusLines";
import { text } from "../../text";

export const FocusInPlan = ({ desk, eye, off }: HandleProps) => (
  <FocusLines desk={desk} drawing="plan" eye={eye} off={off} />
);

/** The focus line and the sharp zone in section, with their distances along the foot of the sheet. */
export function FocusInSection({ desk, eye, off }: HandleProps) {
  return (
    <>
      <Distances desk={desk} eye={eye} />
      <FocusLines desk={desk} drawing="section" eye={eye} off={off} cursor="ew-resize" />
    </>
  );
}

function Distances({ desk, eye }: Pick<HandleProps, "desk" | "eye">) {
  const length = useLength();
  const { focus, drawings } = desk.sheet;
  const base = eye.height - 9;
  const middle = (flat: readonly number[]) => eye.at((flat[0]! + flat[2]!) / 2, 0)[0];
  const line = middle(drawings.section.focus);
  // With room on both sides for the figures beside it, as long as its line is on the sheet.
  const focusAt = line >= 0 && line <= eye.width ? Math.min(Math.max(line, 70), eye.width - 70) : line;
  const label = (distance: number | null | undefined, flat: readonly number[] | null | undefined, side: -1 | 0 | 1) => {
    if (!flat || distance == null) return null;
    // Beside the focus figure where there is no room under their own line.
    const at = middle(flat);
    const beside = side === 0 ? focusAt : side < 0 ? Math.min(at, focusAt - 46) : Math.max(at, focusAt + 46);
    // Whole as long as its line is on the sheet.
    const tx = at >= -24 && at <= eye.width + 24 ? Math.min(Math.max(beside, 24), eye.width - 24) : beside;
    const bold = side === 0;
    return (
      <text
        x={tx}
        y={base}
        textAnchor="middle"
        fontSize={11}
        fontWeight={bold ? 700 : 400}
        fill={spruce}
        stroke="#FAFAF9"
        strokeWidth={3}
        paintOrder="stroke"
      >
        {length(distance)}
      </text>
    );
  };
  // To the left of the focus figure where that stands at the edge; above the figures where these leave no room.
  const farAt = Math.min(
    eye.width - 10,
    focusAt > eye.width - 130 && focusAt < eye.width + 20 ? focusAt - 32 : eye.width,
  );
  const farOver = drawings.section.near != null && middle(drawings.section.near) > farAt - 100;
  return (
    <g pointerEvents="none">
      {label(focus.sharp_from_m, drawings.section.near, -1)}
      {label(desk.shot.focus.distance_m, drawings.section.focus, 0)}
      {label(focus.sharp_to_m, drawings.section.far, 1)}
      {focus.sharp_to_m == null && (
        <Tag x={farAt} y={farOver ? base - 15 : base} anchor="end">
          {text.focus.sharpToInfinityArrow}
        </Tag>
      )}
    </g>
  );
}
