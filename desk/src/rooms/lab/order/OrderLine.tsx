import { Dialog, DialogTrigger } from "react-aria-components";
import type { Expected, Wanted } from "../../../api/lab";
import { Plain, Toggle } from "../../../kit/controls";
import { FIRST_SIZES, type Printable } from "./draft";
import { Line, Paper, Size, What, Word } from "./page";
import { SizeChoice } from "./SizeChoice";

interface Props {
  one: Printable;
  now: Expected["pictures"][number] | undefined;
  endings: string[];
  own: Wanted["size"];
  setOwn: (size: Wanted["size"]) => void;
  single: boolean;
  setSingle: (on: boolean) => void;
  keep: () => void;
}

/** A picture that can be ordered: what it is of, how large it will be, and what speaks against making it now. */
export function OrderLine({ one, now, endings, own, setOwn, single, setSingle, keep }: Props) {
  const [width, height] = now?.size_px ?? one.px;
  return (
    <Line data-cut={one.cut ?? undefined} data-in={now ? true : undefined}>
      <What value={one.key} aria-label={`${one.number}, ${one.name}`}>
        <i>{one.thumbnail && <img src={one.thumbnail} alt="" loading="lazy" />}</i>
        <span>
          <b>{one.cut === null ? `${one.number}  ${one.name}` : one.name}</b>
          <small>{one.line}</small>
          {now && <small>{now.called}.{endings.join(", .")}</small>}
        </span>
      </What>
      <div>
        <DialogTrigger>
          <Size aria-label={`Size of ${one.name}: ${width} × ${height} px${own ? ", its own" : ""}`}>{width} × {height} px{own && <span> its own</span>}</Size>
          <Paper>
            <Dialog aria-label={`Size of ${one.name}`}>
              <SizeChoice label="This picture is" own="as it is framed" size={own ?? FIRST_SIZES.own} setSize={setOwn} />
              {own && <Plain onPress={() => setOwn(null)}>As the order says</Plain>}
            </Dialog>
          </Paper>
        </DialogTrigger>
        {one.stack && <Toggle style={{ marginTop: 6 }} isSelected={!single} onChange={(on) => setSingle(!on)}>{now?.merged_of ? `Stack of ${now.merged_of}, merged` : "Its stack, merged"}</Toggle>}
      </div>
      <div className="told">
        {now?.against.map((words) => <span key={words} className="mind">▲ {words}</span>)}
        {now?.unkept && <Word onPress={keep}>Keep them</Word>}
        {now?.holds && <span>{now.holds}</span>}
        {now && now.against.length === 0 && !now.holds && <span className="well">✓ nothing found</span>}
        {!now && <span>{one.made ?? "not printed yet"}</span>}
      </div>
    </Line>
  );
}
