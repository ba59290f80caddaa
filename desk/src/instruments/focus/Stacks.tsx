import { proofOf } from "../../api/client";
import { StackBetween } from "../../api/limits";
import { Button, Fields, Plain, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { remembered, useRemembered } from "../../kit/remembered";
import { quiet } from "../../kit/tokens";
import type { BodyProps } from "../described";
import { text } from "../../text";

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
        <Toggle {...pressing("pair_two", hyperfocal_m == null)}>{text.focus.aPairOfTwo}</Toggle>
        <Toggle {...pressing("pair_part", hyperfocal_m == null)}>{text.focus.ofAPart}</Toggle>
      </Row>
      <p style={{ color: quiet }}>{text.focus.aPairIsTwo}</p>
      <Row>
        <Toggle {...pressing("stack_two")}>{text.focus.aStackFromHere}</Toggle>
        <Toggle {...pressing("stack_part")}>{text.focus.overAPart}</Toggle>
      </Row>
      {words && <p data-stack={frames.length}>{words}</p>}
      {stack ? (
        <>
          <Fields>
            <NumberField
              label={text.focus.stackFrom}
              unit="meter"
              step={0.01}
              digits={3}
              of={StackBetween.near_m}
              value={stack.from_m}
              off={off}
              onCommit={(v) =>
                desk.commit(text.focus.stack, between(v, Math.max(stack.to_m, v * 1.001), stack.overlap))
              }
            />
            <NumberField
              label={text.focus.stackTo}
              unit="meter"
              step={0.01}
              digits={3}
              of={StackBetween.far_m}
              value={stack.to_m}
              off={off}
              onCommit={(v) => desk.commit(text.focus.stack, between(stack.from_m, v, stack.overlap))}
            />
            <NumberField
              label={text.focus.overlap}
              unit="percent"
              digits={0}
              step={0.05}
              of={StackBetween.overlap}
              value={stack.overlap}
              off={off}
              onCommit={(v) => {
                setShare(v);
                desk.commit(text.focus.stack, between(stack.from_m, stack.to_m, v));
              }}
            />
          </Fields>
          <Row>
            <Button isDisabled={frames.length === 0} onPress={() => write(proofOf(desk.row.id, null, true))}>
              {text.focus.printTheStack}
            </Button>
            <Plain isDisabled={off} onPress={() => desk.commit(text.focus.takeTheStackAway, { kind: "stack_away" })}>
              {text.focus.takeItAway}
            </Plain>
          </Row>
        </>
      ) : (
        <Row>
          <NumberField
            label={text.focus.overlap}
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
