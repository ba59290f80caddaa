import styled from "styled-components";
import { Row, Toggle } from "../../kit/controls";
import { Button } from "../../kit/pressed";
import { useLength } from "../../kit/ruler";
import { brick, ink, quiet, spruce } from "../../kit/tokens";
import type { BodyProps, FinderProps } from "../described";
import { text } from "../../text";

const List = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 2px;
  li {
    display: grid;
    grid-template-columns: 20px 1fr auto;
    gap: 6px;
    align-items: baseline;
  }
  b {
    font-weight: 650;
  }
  button {
    border: 0;
    background: none;
    cursor: pointer;
    color: ${quiet};
    min-width: 24px;
    min-height: 24px;
  }
`;
/** More are told by the sheet alone: what pinned them was no hand. */
const MOST_LISTED = 40;

/** What is pinned: how far away it is, how soft, in the zone or how far out of it. */
export function Probes({ desk, picking, pick }: BodyProps) {
  const length = useLength();
  const off = desk.row.locked;
  const { probes } = desk.sheet.focus;
  return (
    <>
      <Row>
        <Toggle isSelected={picking === "probe"} isDisabled={off} onChange={(on) => pick(on ? "probe" : null)}>
          {text.focus.pinProbes}
        </Toggle>
      </Row>
      {probes.length > 0 && (
        <List aria-label={text.focus.probes}>
          {probes.slice(0, MOST_LISTED).map((probe, n) => (
            <li key={n}>
              <b>{n + 1}</b>
              <span>
                {length(probe.depth_m)}
                {probe.blur_px != null && ` · ${text.everywhere.pixelCount(Number(probe.blur_px.toFixed(1)))}`} ·{" "}
                <span style={{ color: probe.words === "sharp" ? spruce : ink }}>{probe.words}</span>
              </span>
              <Button
                aria-label={text.focus.takeProbeAway(n + 1)}
                isDisabled={off}
                onPress={() => desk.commit(text.focus.takeAProbeAway, { kind: "probe_away", n })}
              >
                ×
              </Button>
            </li>
          ))}
        </List>
      )}
    </>
  );
}

/** The probes, and what the focus is kept on, where they lie in the finder. */
export function FocusInFinder({ desk, frame, open, alone }: FinderProps) {
  const { probes, follows } = desk.sheet.focus;
  if (!open || alone) return null;
  const place = ([u, v]: readonly [number, number]) =>
    [frame.left + u * frame.width, frame.top + (1 - v) * frame.height] as const;
  return (
    <g data-focus-marks>
      {probes.slice(0, MOST_LISTED).map((probe, n) => {
        if (!probe.at || !probe.in_frame) return null;
        const [x, y] = place(probe.at);
        const words = `${n + 1} · ${probe.blur_px == null ? "" : text.everywhere.pixelCount(Number(probe.blur_px.toFixed(1)))}`;
        return (
          <g key={n} data-probe={n + 1}>
            <circle cx={x} cy={y} r={5} fill="none" stroke="rgba(0,0,0,0.65)" strokeWidth={4} />
            {probe.sharp ? (
              <circle cx={x} cy={y} r={5} fill="#fff" stroke={spruce} strokeWidth={2} />
            ) : (
              <circle cx={x} cy={y} r={5} fill="none" stroke="#fff" strokeWidth={2} strokeDasharray="3 2" />
            )}
            <text
              x={x + 10}
              y={y + 4}
              fontSize={12}
              fontWeight={650}
              fill="#fff"
              stroke="rgba(0,0,0,0.7)"
              strokeWidth={3}
              paintOrder="stroke"
            >
              {words}
            </text>
          </g>
        );
      })}
      {follows?.at &&
        (() => {
          const [x, y] = place(follows.at);
          const d = `M${x - 8} ${y - 3}v-5h5M${x + 8} ${y - 3}v-5h-5M${x - 8} ${y + 3}v5h5M${x + 8} ${y + 3}v5h-5`;
          return (
            <g data-follows>
              <path d={d} fill="none" stroke="rgba(0,0,0,0.65)" strokeWidth={4} />
              <path d={d} fill="none" stroke={follows.status === "sharp" ? "#fff" : brick} strokeWidth={1.8} />
            </g>
          );
        })()}
    </g>
  );
}
