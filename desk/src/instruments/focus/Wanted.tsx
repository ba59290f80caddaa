import { EverythingSharp, SharpTo, SoftWhileSharp } from "../../api/limits";
import { Button, Fields, Reading, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { useLength } from "../../kit/ruler";
import { remembered, useRemembered } from "../../kit/remembered";
import type { BodyProps } from "../described";
import { Alternatives } from "../Alternatives";

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
          label="Sharp from"
          unit="meter"
          step={0.05}
          of={SharpTo.distance_m}
          value={focus.sharp_from_m}
          off={off}
          onCommit={(distance_m) => desk.commit("Sharp from", { kind: "sharp_to", end: "near", distance_m })}
        />
        {focus.sharp_to_m == null ? (
          <NumberField
            label="to infinity, from"
            unit="meter"
            step={0.05}
            of={EverythingSharp.from_m}
            value={focus.sharp_from_m}
            off={off}
            onCommit={(from_m) => desk.commit("Sharp to infinity", { kind: "everything_sharp", from_m })}
          />
        ) : (
          <NumberField
            label="to"
            unit="meter"
            step={0.05}
            of={SharpTo.distance_m}
            value={focus.sharp_to_m}
            off={off}
            onCommit={(distance_m) => desk.commit("Sharp to", { kind: "sharp_to", end: "far", distance_m })}
          />
        )}
        <Reading>
          <span>hyperfocal</span>
          <b>{focus.hyperfocal_m == null ? "none" : length(focus.hyperfocal_m)}</b>
        </Reading>
      </Fields>
      <Row>
        <Toggle {...pressing("sharp_two")}>These two sharp</Toggle>
        <Toggle {...pressing("sharp_part")}>All of a part</Toggle>
        <Button
          isDisabled={off}
          onHoverStart={() => {
            if (!off) desk.suppose(everything);
          }}
          onHoverEnd={() => desk.suppose(null)}
          onPress={() => {
            desk.suppose(null);
            desk.commit("Sharp to infinity", everything);
          }}
        >
          To infinity
        </Button>
      </Row>
      <Row>
        <Toggle {...pressing("soft_while")}>One sharp, one soft by</Toggle>
        <NumberField
          label="px"
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
        <Alternatives desk={desk} label="No stop does it" why={desk.short.words} offered={desk.short.alternatives} />
      )}
    </>
  );
}
