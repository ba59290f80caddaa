import { useOffer } from "../../api/client";
import { Trim } from "../../api/limits";
import { Choice } from "../../kit/choice";
import { Button, Fields, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { quiet } from "../../kit/tokens";
import { useGives, useOneSide } from "../choices";
import type { BodyProps } from "../described";
import { text } from "../../text";

const GIVES = [
  { id: "no", name: text.back.stopsAtTheFilm },
  { id: "back", name: text.back.theBackGrows },
  { id: "lens", name: text.back.theLensGetsShorter },
];
const SIDES = [
  ["left", text.back.left],
  ["right", text.back.right],
  ["top", text.back.top],
  ["bottom", text.back.bottom],
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
            onCommit={(share) => desk.commit(text.back.trimOf(side), { back: { trim: { [side]: share } } })}
          />
        ))}
      </Fields>
      <Fields $columns={2}>
        <Choice
          label={text.back.trimToARatio}
          value={ratio}
          shown={ratio}
          off={off}
          options={crops.map(({ name }) => ({ id: name, name }))}
          onOver={(id) => desk.suppose(id ? gesture(id) : null)}
          onChoose={(id) => desk.commit(text.back.trimTo(id), gesture(id))}
        />
        <Choice
          label={text.back.pulledBeyondTheFrame}
          value={gives ?? "no"}
          options={GIVES}
          onChoose={(id) => setGives(id === "back" || id === "lens" ? id : null)}
        />
      </Fields>
      <Row>
        <Button isDisabled={off || !trimmed} onPress={() => desk.commit(text.back.wholeFrame, { kind: "whole_frame" })}>
          {text.back.wholeFrame}
        </Button>
        <Toggle isSelected={alone} onChange={setAlone}>
          {text.back.sidesOfTheWedge}
        </Toggle>
      </Row>
      <p style={{ color: quiet }}>{text.back.pullTheFramesEdges}</p>
    </>
  );
}
