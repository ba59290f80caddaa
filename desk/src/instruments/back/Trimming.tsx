import { useOffer } from "../../api/client";
import { Trim } from "../../api/limits";
import { Choice } from "../../kit/choice";
import { Button, Fields, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { quiet } from "../../kit/tokens";
import { useGives, useOneSide } from "../choices";
import type { BodyProps } from "../described";

const GIVES = [
  { id: "no", name: "stops at the film" },
  { id: "back", name: "the back grows" },
  { id: "lens", name: "the lens gets shorter" },
];
const SIDES = [
  ["left", "Left"],
  ["right", "Right"],
  ["top", "Top"],
  ["bottom", "Bottom"],
] as const;

/** What is taken off the frame: by numbers here, by its edges in the finder. */
export function Trimming({ desk }: BodyProps) {
  const { trim } = desk.shot.back;
  const { ratio, trimmed } = desk.sheet.back;
  const off = desk.row.locked;
  const [gives, setGives] = useGives();
  const [alone, setAlone] = useOneSide();
  const { crops } = useOffer();
  const gesture = (id: string) => {
    const [wide, high] = id.split(":").map(Number);
    return { kind: "trim_ratio", wide: wide!, high: high! } as const;
  };
  return (
    <>
      <Fields $columns={4}>
        {SIDES.map(([side, name]) => (
          <NumberField
            key={side}
            label={name}
            unit="percent"
            digits={1}
            step={0.01}
            of={Trim[side]}
            value={trim[side]}
            off={off}
            onCommit={(share) => desk.commit(`Trim ${side}`, { back: { trim: { [side]: share } } })}
          />
        ))}
      </Fields>
      <Fields $columns={2}>
        <Choice
          label="Trim to a ratio"
          value={ratio}
          shown={ratio}
          off={off}
          options={crops.map(({ name }) => ({ id: name, name }))}
          onOver={(id) => desk.suppose(id ? gesture(id) : null)}
          onChoose={(id) => desk.commit(`Trim to ${id}`, gesture(id))}
        />
        <Choice
          label="Pulled beyond the frame"
          value={gives ?? "no"}
          options={GIVES}
          onChoose={(id) => setGives(id === "back" || id === "lens" ? id : null)}
        />
      </Fields>
      <Row>
        <Button isDisabled={off || !trimmed} onPress={() => desk.commit("Whole frame", { kind: "whole_frame" })}>
          Whole frame
        </Button>
        <Toggle isSelected={alone} onChange={setAlone}>
          Sides of the wedge alone
        </Toggle>
      </Row>
      <p style={{ color: quiet }}>
        Pull the frame’s edges and corners in the finder; with Alt the opposite side goes too, with Shift the ratio is
        held.
      </p>
    </>
  );
}
