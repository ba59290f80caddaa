import { EverythingSharp, SharpTo, SoftWhileSharp } from "../../api/limits";
import { Button, Fields, Reading, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { useLength } from "../../kit/ruler";
import { remembered, useRemembered } from "../../kit/remembered";
import type { BodyProps } from "../described";
import { Alternatives } from "../Alternatives";
import { text } from "../../text";

/** How soft what is pressed second is to be, in pixels of the picture. */
const SOFT: [string, number] = ["zevlo-soft-px", 12];
export const soft = () => remembered(...SOFT);

/** Sharpness asked for from the other end: by both ends of the zone, by things that are pressed, or to infinity. */
export function Wanted({ desk, picking, pick }: BodyProps) {
  const length = useLength();
  const { focus } = desk.sheet;
  const [softBy, setSoft] = useRemembered(...SOFT);
  const off = desk.row.locked || focus.hyperfocal_m == null;
  const pressing = (what: string) => ({
    isSelected: picking === what,
    isDisabled: off,
    onChange: (on: boolean) => pick(on ? what : null),
  });
  const everything = { kind: "everything_sharp" } as const;
  return (
    <>
      <Fields>
        <NumberField
          label={text.focus.sharpFrom}
          unit="meter"
          step={0.05}
          of={SharpTo.distance_m}
          value={focus.sharp_from_m}
          off={off}
          onCommit={(distance_m) => desk.commit(text.focus.sharpFrom, { kind: "sharp_to", end: "near", distance_m })}
        />
        {focus.sharp_to_m == null ? (
          <NumberField
            label={text.focus.toInfinityFrom}
            unit="meter"
            step={0.05}
            of={EverythingSharp.from_m}
            value={focus.sharp_from_m}
            off={off}
            onCommit={(from_m) => desk.commit(text.focus.sharpToInfinity, { kind: "everything_sharp", from_m })}
          />
        ) : (
          <NumberField
            label={text.focus.to}
            unit="meter"
            step={0.05}
            of={SharpTo.distance_m}
            value={focus.sharp_to_m}
            off={off}
            onCommit={(distance_m) => desk.commit(text.focus.sharpTo, { kind: "sharp_to", end: "far", distance_m })}
          />
        )}
        <Reading>
          <span>{text.focus.hyperfocal}</span>
          <b>{focus.hyperfocal_m == null ? text.everywhere.none : length(focus.hyperfocal_m)}</b>
        </Reading>
      </Fields>
      <Row>
        <Toggle {...pressing("sharp_two")}>{text.focus.theseTwoSharp}</Toggle>
        <Toggle {...pressing("sharp_part")}>{text.focus.allOfAPart}</Toggle>
        <Button
          isDisabled={off}
          onHoverStart={() => {
            if (!off) desk.suppose(everything);
          }}
          onHoverEnd={() => desk.suppose(null)}
          onPress={() => {
            desk.suppose(null);
            desk.commit(text.focus.sharpToInfinity, everything);
          }}
        >
          {text.focus.toInfinity}
        </Button>
      </Row>
      <Row>
        <Toggle {...pressing("soft_while")}>{text.focus.oneSharpOneSoft}</Toggle>
        <NumberField
          label={text.focus.px}
          inline
          digits={1}
          step={1}
          of={SoftWhileSharp.px}
          value={softBy}
          off={off}
          onCommit={setSoft}
        />
      </Row>
      {/* The answer comes below what asked for it: no button moves from under the hand. */}
      {desk.short && desk.short.alternatives.length > 0 && (
        <Alternatives
          desk={desk}
          label={text.focus.noStopDoesIt}
          why={desk.short.words}
          offered={desk.short.alternatives}
        />
      )}
    </>
  );
}
