import { Dialog, DialogTrigger } from "react-aria-components";
import type { Expected } from "../../../api/lab";
import { Plain, Toggle } from "../../../kit/controls";
import { FIRST_SIZES, type Printable, type Size as OneSize } from "./draft";
import { Line, Paper, Size, What, Word } from "./page";
import { SizeChoice } from "./SizeChoice";
import { text } from "../../../text";

interface Props {
  one: Printable;
  /** It in each size it is to be made in. */
  now: Expected["pictures"];
  endings: string[];
  own: OneSize[] | undefined;
  setOwn: (sizes: OneSize[] | undefined) => void;
  single: boolean;
  setSingle: (on: boolean) => void;
  keep: () => void;
}

/** A picture that can be ordered: what it is of, how large it will be, and what speaks against making it now. */
export function OrderLine({ one, now, endings, own, setOwn, single, setSingle, keep }: Props) {
  const sizes = (now.length > 0 ? now.map(({ size_px }) => size_px) : [one.px]).map(([width, height]) =>
    text.order.pixels(width, height),
  );
  const chosen = now.length > 0,
    against = [...new Set(now.flatMap((each) => each.warnings))],
    holds = now.flatMap(({ already_printed: words }, n) =>
      words === null ? [] : now.length > 1 ? text.order.doesFor(words, sizes[n]!) : words,
    );
  return (
    <Line data-crop={one.crop ?? undefined} data-in={chosen ? true : undefined}>
      <What value={one.key} aria-label={`${one.number}, ${one.name}`}>
        <i>{one.thumbnail && <img src={one.thumbnail} alt="" loading="lazy" />}</i>
        <span>
          <b>{one.crop === null ? `${one.number}  ${one.name}` : one.name}</b>
          <small>{one.line}</small>
          {now.map(({ called }) => (
            <small key={called}>
              {called}.{endings.join(", .")}
            </small>
          ))}
        </span>
      </What>
      <div>
        <DialogTrigger>
          <Size aria-label={text.order.sizesOf(one.name, sizes, own !== undefined)}>
            {sizes.map((words, n) => (
              <i key={n}>
                {words}
                {own && n === 0 && <span> {text.order.itsOwn}</span>}
              </i>
            ))}
          </Size>
          <Paper>
            <Dialog aria-label={text.order.sizeOf(one.name)}>
              <SizeChoice
                label={text.order.thisPictureIs}
                own={text.order.asFramed}
                sizes={own ?? [FIRST_SIZES.own]}
                setSizes={setOwn}
              />
              {own && (
                <Plain style={{ justifySelf: "start" }} onPress={() => setOwn(undefined)}>
                  {text.order.asTheOrderSays}
                </Plain>
              )}
            </Dialog>
          </Paper>
        </DialogTrigger>
        {one.stack && (
          <Toggle style={{ marginTop: 6 }} isSelected={!single} onChange={(on) => setSingle(!on)}>
            {now[0]?.merged_of ? text.order.stackOfMerged(now[0].merged_of) : text.order.itsStackMerged}
          </Toggle>
        )}
      </div>
      <div className="words">
        {against.map((words) => (
          <span key={words} className="mind">
            ▲ {words}
          </span>
        ))}
        {now[0]?.unkept && <Word onPress={keep}>{text.order.keepThem}</Word>}
        {holds.map((words, n) => (
          <span key={n}>{words}</span>
        ))}
        {chosen && against.length === 0 && holds.length === 0 && (
          <span className="well">{text.order.framingKeptFocused}</span>
        )}
        {!chosen && <span>{one.made ?? text.order.notPrintedYet}</span>}
      </div>
    </Line>
  );
}
