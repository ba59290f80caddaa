import styled from "styled-components";
import { proofOf, useOffer } from "../../api/client";
import { Crop } from "../../api/limits";
import { Choice } from "../../kit/choice";
import { Fields, Plain, Row } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { Button } from "../../kit/pressed";
import { line, quiet, spruce, sprucePale } from "../../kit/tokens";
import { Own } from "../Own";
import { useCropInHand } from "../choices";
import type { BodyProps } from "../described";
import { sized } from "./Size";
import { text } from "../../text";

const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  border-top: 1px solid ${line};
  li {
    border-bottom: 1px solid ${line};
    padding: 2px 0;
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 4px;
  }
  li[data-on] {
    background: ${sprucePale};
  }
  span {
    color: ${quiet};
    margin-right: auto;
  }
`;
const Name = styled(Button)`
  border: 0;
  background: none;
  padding: 4px 6px;
  cursor: pointer;
  font-weight: 650;
  color: ${spruce};
  text-align: left;
`;

/** Pictures of their own out of the frame: put there, looked at alone, printed; moved and sized in the finder. */
export function Crops({ project, desk, alone, lookAlone, putKept, write }: BodyProps) {
  const { crops } = desk.sheet.back;
  const own = desk.shot.back.crops;
  const off = desk.row.locked;
  const [inHand, take] = useCropInHand();
  const { crops: offered, crop_sets: sets } = useOffer();
  const every = [...sets, ...project.kept.crop_sets];
  const size = own.find(({ name }) => name === inHand);
  return (
    <>
      {crops.length > 0 && (
        <List aria-label={text.back.cropsOfThisShot}>
          {crops.map(({ name, output_px, film_px }) => (
            <li key={name} data-on={name === inHand || undefined}>
              <Name aria-pressed={name === inHand} onPress={() => take(name === inHand ? null : name)}>
                {name}
              </Name>
              <span title={text.back.pixelsOfTheShots(Math.round(film_px[0]), Math.round(film_px[1]))}>
                {sized(output_px)}
              </span>
              <Plain
                aria-pressed={alone === name}
                aria-label={alone === name ? text.back.lookAtTheWhole(name) : text.back.lookAtAlone(name)}
                onPress={() => lookAlone(alone === name ? null : name)}
              >
                {alone === name ? text.back.whole : text.back.alone}
              </Plain>
              <Plain aria-label={text.back.makeAProofOf(name)} onPress={() => write(proofOf(desk.row.id, name))}>
                {text.back.proof}
              </Plain>
              <Plain
                isDisabled={off}
                aria-label={text.back.takeTheCropOut(name)}
                onPress={() => {
                  if (alone === name) lookAlone(null);
                  desk.commit(text.back.takeOutTheCrop(name), { kind: "crop_away", name });
                }}
              >
                ×
              </Plain>
            </li>
          ))}
        </List>
      )}
      {size && (
        <Fields $columns={2}>
          {([0, 1] as const).map((side) => (
            <NumberField
              key={side}
              label={text.back.cropSize(size.name, side === 0 ? text.back.wide : text.back.high)}
              digits={0}
              step={1}
              dpi={desk.shot.back.dpi}
              of={Crop.output_px}
              value={size.output_px[side]}
              off={off}
              onCommit={(v) =>
                desk.commit(text.back.sizeOfACrop, {
                  kind: "crop_size",
                  name: size.name,
                  output_px: side === 0 ? [Math.round(v), size.output_px[1]] : [size.output_px[0], Math.round(v)],
                })
              }
            />
          ))}
        </Fields>
      )}
      <Fields $columns={2}>
        <Choice
          label={text.back.addACrop}
          value=""
          shown={text.everywhere.choose}
          off={off}
          options={offered.map(({ name, output_px }) => ({ id: name, name: `${name}, ${sized(output_px)}` }))}
          onChoose={(id) => {
            const crop = offered.find(({ name }) => name === id);
            if (crop) {
              take(crop.name);
              desk.commit(text.back.crop(id), { kind: "crops_add", crops: [crop] });
            }
          }}
        />
        <Choice
          label={text.back.addASetOfCrops}
          value=""
          shown={text.everywhere.choose}
          off={off}
          options={every.map(({ name, crops: some }) => ({
            id: name,
            name: `${name}: ${some.map((one) => one.name).join(", ")}`,
          }))}
          onChoose={(id) => {
            const set = every.find(({ name }) => name === id);
            if (set) desk.commit(text.back.cropsOf(id), { kind: "crops_add", crops: set.crops });
          }}
        />
      </Fields>
      <Row>
        <Own
          what={text.back.setOfCrops}
          off={own.length === 0}
          names={project.kept.crop_sets.map(({ name }) => name)}
          onKeep={(name) =>
            putKept(
              ({ crop_sets: kept }) => ({ crop_sets: [...kept, { name, crops: own }] }),
              text.back.keepTheCrops(name),
            )
          }
          onAway={(name) =>
            putKept(
              ({ crop_sets: kept }) => ({ crop_sets: kept.filter((one) => one.name !== name) }),
              text.back.keepTheCropsNoLonger(name),
            )
          }
        />
      </Row>
    </>
  );
}
