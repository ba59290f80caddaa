import { Dialog, DialogTrigger, Popover } from "react-aria-components";
import { Button as AriaButton } from "../kit/pressed";
import styled from "styled-components";
import { type Project, type PutHabits, useOffer } from "../api/client";
import { Habits } from "../api/limits";
import { Button, Fields, Toggle } from "../kit/controls";
import { NumberField } from "../kit/fields";
import { useLength } from "../kit/ruler";
import { card, ink, line, quiet, spruce } from "../kit/tokens";
import { text } from "../text";

const Open = styled(AriaButton)`
  border: 0;
  border-bottom: 1px solid ${ink};
  background: none;
  cursor: pointer;
  font-size: 12px;
  padding: 1px 0;
  white-space: nowrap;
  color: ${ink};
`;
const Sheet = styled(Popover)`
  background: ${card};
  border: 1px solid ${ink};
  border-radius: 3px;
  padding: 14px 16px;
  outline: none;
  width: 330px;
  section {
    outline: none;
    display: grid;
    gap: 10px;
  }
  h2 {
    font-weight: 650;
  }
  p {
    color: ${quiet};
  }
`;
const Pair = styled(AriaButton)<{ $on: boolean }>`
  border: 1px solid ${(p) => (p.$on ? spruce : line)};
  background: #fff;
  border-radius: 3px;
  padding: 5px 9px;
  text-align: left;
  cursor: pointer;
  b {
    display: block;
    font-weight: 650;
    color: ${(p) => (p.$on ? spruce : ink)};
  }
  span {
    color: ${quiet};
    font-size: 12px;
  }
`;

/** At what heights new shots from plan are set up: both ends, remembered with the project. */
export function Heights({ project, put }: { project: Project; put: PutHabits }) {
  const { height_pairs: pairs, height_words: words } = useOffer();
  const { habits } = project;
  const length = useLength();
  const aim = habits.aim_m ?? null;
  const chosen = project.heights_by_size
    ? text.drawings.heightsByItsSize
    : text.drawings.lensAndAim(length(habits.lens_m), aim === null ? text.everywhere.level : length(aim));
  return (
    <DialogTrigger>
      <Open className="live" aria-label={text.drawings.heightsOfNewShots(chosen)}>
        {chosen}
      </Open>
      <Sheet placement="top">
        <Dialog aria-label={text.drawings.heightsOfNewShotsMenu}>
          <h2>{text.drawings.aNewShotFromPlan}</h2>
          {project.heights_by_size && <p>{text.drawings.withTheLensALittle}</p>}
          {pairs.map((pair, n) => (
            <Pair
              key={pair.name}
              $on={!project.heights_by_size && pair.lens_m === habits.lens_m && (pair.aim_m ?? null) === aim}
              onPress={() => put({ lens_m: pair.lens_m, aim_m: pair.aim_m })}
            >
              <b>{pair.name}</b>
              <span>{words[n]}</span>
            </Pair>
          ))}
          <Fields $columns={2}>
            <NumberField
              label={text.drawings.lensAboveFloor}
              unit="meter"
              digits={3}
              step={0.05}
              of={Habits.lens_m}
              value={habits.lens_m}
              onCommit={(lens_m) => put({ lens_m })}
            />
            {aim === null ? (
              <Button onPress={() => put(({ lens_m }) => ({ aim_m: lens_m }))}>{text.drawings.aimAtAHeight}</Button>
            ) : (
              <NumberField
                label={text.drawings.aimAboveItsFloor}
                unit="meter"
                digits={3}
                step={0.05}
                of={Habits.aim_m}
                value={aim}
                onCommit={(aim_m) => put({ aim_m })}
              />
            )}
          </Fields>
          <Toggle isSelected={aim === null} onChange={(on) => put(({ lens_m }) => ({ aim_m: on ? null : lens_m }))}>
            {text.drawings.aimLevelWithTheLens}
          </Toggle>
          <Toggle isSelected={habits.stays_above_floor} onChange={(stays_above_floor) => put({ stays_above_floor })}>
            {text.drawings.itStaysAboveTheFloor}
          </Toggle>
          <p>{text.drawings.feetAndInchesMayBeTyped}</p>
        </Dialog>
      </Sheet>
    </DialogTrigger>
  );
}
