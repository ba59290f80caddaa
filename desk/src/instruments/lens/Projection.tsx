import { ScaleTo } from "../../api/limits";
import { useOffer } from "../../api/client";
import { Choice } from "../../kit/choice";
import { Fields, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import type { ShotDesk } from "../../shots/draft";
import type { BodyProps } from "../described";
import { text } from "../../text";

/** How large a parallel picture is on paper. */
export function Scale({ desk }: { desk: ShotDesk }) {
  const { scales } = useOffer();
  const over = desk.sheet.lens.scale_on_paper ?? 1;
  const off = desk.row.locked;
  const to = (scale: number) => ({ kind: "scale_to", over: scale }) as const;
  const ratio = Number(over.toPrecision(4));
  return (
    <Fields $columns={2}>
      <Choice
        label={text.lens.scaleOnPaper}
        value={String(ratio)}
        shown={`1 : ${ratio}`}
        off={off}
        options={scales.map((scale) => ({ id: String(scale), name: `1 : ${scale}` }))}
        onOver={(id) => desk.suppose(id ? to(Number(id)) : null)}
        onChoose={(id) => desk.commit(text.lens.scaleOf(id), to(Number(id)))}
      />
      <NumberField
        label={text.lens.oneTo}
        digits={2}
        step={1}
        of={ScaleTo.over}
        value={over}
        off={off}
        onCommit={(scale) => desk.commit(text.lens.scaleOnPaper, to(scale))}
      />
    </Fields>
  );
}

/** Elevations, plan and views from a corner, each in one action; and square before a face. */
export function Views({ desk, picking, pick }: BodyProps) {
  const { views } = useOffer();
  const off = desk.row.locked;
  return (
    <Fields $columns={2}>
      <Choice
        label={text.lens.parallelView}
        value=""
        shown={text.everywhere.choose}
        off={off}
        options={views.map(({ view, words }) => ({ id: view, name: words }))}
        onChoose={(id) => {
          const chosen = views.find(({ view }) => view === id);
          if (chosen) desk.commit(chosen.words, { kind: "view_from", view: chosen.view });
        }}
      />
      <Toggle isSelected={picking === "face"} isDisabled={off} onChange={(on) => pick(on ? "face" : null)}>
        {text.lens.squareToAFace}
      </Toggle>
    </Fields>
  );
}

const idOf = (projection: string, law: string | null | undefined) => (law ? `${projection}/${law}` : projection);

/** How the picture is drawn: the projections there are to choose from. */
export function Drawn({ desk }: { desk: ShotDesk }) {
  const { lens } = desk.shot;
  const options = useOffer().projections.map((offer) => ({
    ...offer,
    id: idOf(offer.projection, offer.fisheye_law),
    name: offer.words,
  }));
  return (
    <Choice
      label={text.lens.projection}
      off={desk.row.locked}
      options={options}
      value={idOf(lens.projection, lens.projection === "fisheye" ? lens.fisheye_law : null)}
      onChoose={(id) => {
        const chosen = options.find((option) => option.id === id);
        if (chosen)
          desk.commit(text.lens.projectionOf(chosen.words), {
            kind: "projection_to",
            projection: chosen.projection,
            fisheye_law: chosen.fisheye_law,
          });
      }}
    />
  );
}
