import { proofOf } from "../../api/client";
import { StackBetween } from "../../api/limits";
import { Button, Fields, Plain, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { remembered, useRemembered } from "../../kit/remembered";
import { quiet } from "../../kit/tokens";
import type { BodyProps } from "../described";

/** How much of each picture's sharp zone lies within that of the one before, in a stack that is planned. */
const OVERLAP: [string, number] = ["zevlo-overlap", 0.2];
export const overlap = () => remembered(...OVERLAP);

/** Two shots that differ in focus alone, and a stack of pictures that are merged to one. */
export function Stacks({ desk, picking, pick, write }: BodyProps) {
  const [share, setShare] = useRemembered(...OVERLAP);
  const { stack } = desk.shot.focus;
  const { stack_m: frames, stack_words: words, hyperfocal_m } = desk.sheet.focus;
  const off = desk.row.locked;
  const pressing = (what: string, needs = off || hyperfocal_m == null) => ({
    isSelected: picking === what,
    isDisabled: needs,
    onChange: (on: boolean) => pick(on ? what : null),
  });
  const between = (near_m: number, far_m: number, own: number) =>
    ({ kind: "stack_between", near_m, far_m, overlap: own }) as const;
  return (
    <>
      <Row>
        <Toggle {...pressing("pair_two", hyperfocal_m == null)}>A pair of two things</Toggle>
        <Toggle {...pressing("pair_part", hyperfocal_m == null)}>Of a part</Toggle>
      </Row>
      <p style={{ color: quiet }}>A pair is two shots more: one sharp in front, one at the back, else the same.</p>
      <Row>
        <Toggle {...pressing("stack_two")}>A stack from here to there</Toggle>
        <Toggle {...pressing("stack_part")}>Over a part</Toggle>
      </Row>
      {words && <p data-stack={frames.length}>{words}</p>}
      {stack ? (
        <>
          <Fields>
            <NumberField
              label="Stack from"
              unit="meter"
              step={0.01}
              digits={3}
              of={StackBetween.near_m}
              value={stack.from_m}
              off={off}
              onCommit={(v) => desk.commit("Stack", between(v, Math.max(stack.to_m, v * 1.001), stack.overlap))}
            />
            <NumberField
              label="Stack to"
              unit="meter"
              step={0.01}
              digits={3}
              of={StackBetween.far_m}
              value={stack.to_m}
              off={off}
              onCommit={(v) => desk.commit("Stack", between(stack.from_m, v, stack.overlap))}
            />
            <NumberField
              label="Overlap"
              unit="percent"
              digits={0}
              step={0.05}
              of={StackBetween.overlap}
              value={stack.overlap}
              off={off}
              onCommit={(v) => {
                setShare(v);
                desk.commit("Stack", between(stack.from_m, stack.to_m, v));
              }}
            />
          </Fields>
          <Row>
            <Button isDisabled={frames.length === 0} onPress={() => write(proofOf(desk.row.id, null, true))}>
              Print the stack
            </Button>
            <Plain isDisabled={off} onPress={() => desk.commit("Take the stack away", { kind: "stack_away" })}>
              Take it away
            </Plain>
          </Row>
        </>
      ) : (
        <Row>
          <NumberField
            label="Overlap"
            inline
            unit="percent"
            digits={0}
            step={0.05}
            of={StackBetween.overlap}
            value={share}
            off={off}
            onCommit={setShare}
          />
        </Row>
      )}
    </>
  );
}
