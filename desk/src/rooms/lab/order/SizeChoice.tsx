import { Inside, Longest, Scaled } from "../../../api/limits";
import { Choice } from "../../../kit/choice";
import { Fields, Plain } from "../../../kit/controls";
import { NumberField } from "../../../kit/fields";
import { another, FIRST_SIZES, type Size } from "./draft";
import { text } from "../../../text";

const SIZES = [
  { id: "own", name: text.order.eachItsOwn },
  { id: "longest", name: text.order.longestSide },
  { id: "inside", name: text.order.insideASize },
  { id: "scaled", name: text.order.scaled },
];

interface Props {
  label: string;
  own?: string;
  sizes: Size[];
  setSizes: (sizes: Size[]) => void;
}

/** How large pictures are made: in one size, or each in several. */
export function SizeChoice({ label, own, sizes, setSizes }: Props) {
  return (
    <div>
      {sizes.map((size, n) => (
        <One
          key={n}
          label={n === 0 ? label : text.order.and}
          own={own}
          size={size}
          setSize={(to) => setSizes(sizes.map((old, at) => (at === n ? to : old)))}
          drop={n === 0 ? null : () => setSizes(sizes.filter((_, at) => at !== n))}
        />
      ))}
      <Plain onPress={() => setSizes([...sizes, another(sizes)])}>{text.order.andInAnotherSize}</Plain>
    </div>
  );
}

function One({
  label,
  own = SIZES[0]!.name,
  size,
  setSize,
  drop,
}: {
  label: string;
  own?: string;
  size: Size;
  setSize: (size: Size) => void;
  drop: (() => void) | null;
}) {
  return (
    <Fields style={{ marginBottom: 6 }}>
      <Choice
        label={label}
        value={size.kind ?? "own"}
        options={[{ id: "own", name: own }, ...SIZES.slice(1)]}
        onChoose={(id) => setSize(FIRST_SIZES[id as Size["kind"]])}
      />
      {size.kind === "longest" && (
        <NumberField
          label={text.everywhere.pixels}
          digits={0}
          step={10}
          of={Longest.px}
          value={size.px}
          onCommit={(px) => setSize({ ...size, px: Math.round(px) })}
        />
      )}
      {size.kind === "scaled" && (
        <NumberField
          label={text.order.times}
          digits={2}
          step={0.05}
          of={Scaled.times}
          value={size.times}
          onCommit={(times) => setSize({ ...size, times })}
        />
      )}
      {size.kind === "inside" &&
        [text.everywhere.width, text.everywhere.height].map((side, n) => (
          <NumberField
            key={side}
            label={side}
            digits={0}
            step={10}
            of={Inside.output_px}
            value={size.output_px[n]!}
            onCommit={(px) =>
              setSize({
                ...size,
                output_px: size.output_px.map((old, at) => (at === n ? Math.round(px) : old)) as [number, number],
              })
            }
          />
        ))}
      {drop && (
        <Plain style={{ justifySelf: "start" }} onPress={drop}>
          {text.order.notThisOne}
        </Plain>
      )}
    </Fields>
  );
}
