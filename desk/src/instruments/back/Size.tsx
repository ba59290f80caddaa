import { useOffer } from "../../api/client";
import { Back } from "../../api/limits";
import { Choice } from "../../kit/choice";
import { Button, Fields, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { Own } from "../Own";
import { useRatioHeld } from "../choices";
import type { BodyProps } from "../described";
import { useKeep } from "./Film";
import { text } from "../../text";

export const sized = ([w, h]: readonly [number, number]) => `${w} × ${h}`;
const whole = (mm: number) => Number(mm.toFixed(1));

/** The size of the picture: by use, by paper, by a side of it. */
export function Size({ project, desk, putKept }: BodyProps) {
  const { back } = desk.shot;
  const [wide_mm, high_mm] = desk.sheet.back.print_mm;
  const off = desk.row.locked;
  const { put, over } = useKeep({ desk });
  const [held, setHeld] = useRatioHeld();
  const { picture_sizes: offered, papers } = useOffer();
  const sizes = [...offered, ...project.kept.sizes];
  const size = sized(back.output_px);
  const named = sizes.find(({ output_px: px }) => sized(px) === size);
  const upright = back.output_px[1] > back.output_px[0];
  const sheets = papers.flatMap(({ name, size_mm: [w, h] }) => [
    { id: text.back.paperLying(name), mm: [w, h] as [number, number] },
    { id: text.back.paperUpright(name), mm: [h, w] as [number, number] },
  ]);
  const paper = (id: string | null) => {
    const found = sheets.find((one) => one.id === id);
    return found ? { paper_mm: found.mm } : null;
  };
  return (
    <>
      <Fields $columns={2}>
        <Choice
          label={text.back.pictureSize}
          value={named?.name ?? size}
          shown={named?.name ?? text.back.own}
          off={off}
          options={sizes.map(({ name, output_px: px }) => ({ id: name, name: `${name}, ${sized(px)}` }))}
          onOver={(id) => {
            const chosen = sizes.find(({ name }) => name === id);
            over(chosen ? { output_px: chosen.output_px } : null);
          }}
          onChoose={(id) => {
            const chosen = sizes.find(({ name }) => name === id);
            if (chosen) put(text.back.pictureSize, { output_px: chosen.output_px });
          }}
        />
        <Choice
          label={text.back.onPaper}
          value={text.back.asItIs}
          shown={text.back.paperSize(whole(wide_mm), whole(high_mm))}
          off={off}
          options={sheets.map(({ id }) => ({ id, name: id }))}
          onOver={(id) => over(paper(id))}
          onChoose={(id) => {
            const change = paper(id);
            if (change) put(text.everywhere.paper, change);
          }}
        />
        <NumberField
          label={text.back.widePx}
          digits={0}
          step={1}
          dpi={back.dpi}
          of={Back.output_px}
          value={back.output_px[0]}
          off={off}
          onCommit={(v) => put(text.back.pictureSize, { wide_px: Math.round(v), hold_ratio: held })}
        />
        <NumberField
          label={text.back.highPx}
          digits={0}
          step={1}
          dpi={back.dpi}
          of={Back.output_px}
          value={back.output_px[1]}
          off={off}
          onCommit={(v) => put(text.back.pictureSize, { high_px: Math.round(v), hold_ratio: held })}
        />
        <NumberField
          label={text.back.pixelsAnInch}
          digits={0}
          step={10}
          of={Back.dpi}
          value={back.dpi}
          off={off}
          onCommit={(dpi) => desk.commit(text.back.pixelsAnInch, { back: { dpi } })}
        />
        <NumberField
          label={text.back.bleed}
          unit="millimeter"
          digits={1}
          step={1}
          of={Back.bleed_mm}
          value={back.bleed_mm}
          off={off}
          onCommit={(bleed_mm) => desk.commit(text.back.bleed, { back: { bleed_mm } })}
        />
      </Fields>
      <Row>
        <Toggle isSelected={held} onChange={setHeld}>
          {held ? text.back.ratioHeld(desk.sheet.back.ratio) : text.back.ratioFree}
        </Toggle>
        <Button
          isDisabled={off}
          onPress={() => put(upright ? text.back.turnItToLie : text.back.turnItUpright, { turned: true })}
        >
          {upright ? text.back.turnItToLie : text.back.turnItUpright}
        </Button>
      </Row>
      <Own
        what={text.back.size}
        names={project.kept.sizes.map(({ name }) => name)}
        onKeep={(name) =>
          putKept(
            ({ sizes: kept }) => ({ sizes: [...kept, { name, output_px: back.output_px }] }),
            text.back.keepTheSize(name),
          )
        }
        onAway={(name) =>
          putKept(
            ({ sizes: kept }) => ({ sizes: kept.filter((one) => one.name !== name) }),
            text.back.keepTheSizeNoLonger(name),
          )
        }
      />
    </>
  );
}
