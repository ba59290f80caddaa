import {
  Component,
  createRef,
  type KeyboardEvent,
  type ReactNode,
  type RefObject,
  useEffect,
  useRef,
  useState,
} from "react";
import { flushSync } from "react-dom";
import { FieldError, Input, Label, TextField as AriaTextField } from "react-aria-components";
import styled, { css } from "styled-components";
import { http, answerOf } from "../api/client";
import { useAhead } from "./ahead";
import { ListAtEnd, type Listed } from "./choice";
import { read } from "./reading";
import { useRuler } from "./ruler";
import { brick, ink, line, quiet, spruce } from "./tokens";
import { text } from "../text";

const Field = styled(AriaTextField)<{ $inline?: boolean }>`
  display: flex;
  flex-direction: column;
  gap: 3px;
  min-width: 0;
  position: relative;
  label {
    color: ${quiet};
    font-size: 12px;
    line-height: 1.25;
  }
  input {
    width: 100%;
    min-width: 0;
    border: 0;
    border-bottom: 1px solid ${ink};
    background: none;
    padding: 2px 0 4px;
    font-size: 14px;
    font-weight: 500;
    border-radius: 0;
  }
  input[data-focused] {
    outline: none;
    border-bottom: 2px solid ${spruce};
    padding-bottom: 3px;
  }
  input[data-invalid] {
    border-bottom: 2px solid ${brick};
    padding-bottom: 3px;
  }
  &[data-disabled] input {
    color: ${quiet};
    border-bottom-color: ${line};
  }
  ${(p) =>
    p.$inline &&
    css`
      flex: none;
      flex-direction: row;
      align-items: center;
      gap: 4px;
      white-space: nowrap;
      min-height: 24px;
      input {
        width: 52px;
        font-size: 12px;
        font-weight: 400;
        text-align: right;
        padding: 1px 0 2px;
      }
    `}
`;
const Why = styled(FieldError)`
  position: absolute;
  top: 100%;
  left: 0;
  z-index: 20;
  min-width: 190px;
  max-width: 270px;
  background: #fff;
  color: ${ink};
  border: 1px solid ${brick};
  border-left-width: 5px;
  border-radius: 3px;
  padding: 5px 8px;
  font-size: 12px;
  margin-top: 2px;
`;

const KINDS = { meter: "length", millimeter: "film", degree: "angle", second: "time", percent: "number" } as const;
const HUNDREDTH = 0.01;

const RULER_UNITS = { m: "meter", cm: "centimeter", mm: "millimeter" } as const;
/** What one step is in a set told in metres; in a smaller one it is as much less as the ruler's. */
const METRE_STEP = 0.05;

/** What a number may be: from least to most, or more or less than something. */
export interface Limit {
  min?: number;
  max?: number;
  above?: number;
  below?: number;
  words?: string;
}

interface NumberProps {
  label: string;
  value: number;
  unit?: keyof typeof KINDS;
  digits?: number;
  step?: number;
  /** What it may be, and what it is, as the core has it: from api/limits. */
  of?: Limit;
  off?: boolean;
  /** A size of a picture in pixels, so many to an inch: lengths on paper are understood too. */
  dpi?: number;
  /** In a line of words, its label before it. */
  inline?: boolean;
  /** What stands in it while nothing is typed, where that is another way to write its number. */
  shown?: string;
  /** Values to choose from, beside what may be typed. */
  listed?: Listed;
  onCommit: (value: number) => void;
}

/**
 * A number with its unit. Typed as people write it (the server reads units and arithmetic), stepped with the arrow
 * keys or the wheel. Committed on Enter or on leaving; Esc puts the old value back.
 */
export function NumberField({
  label,
  value,
  unit,
  digits = 2,
  step = 0.01,
  of = {},
  off,
  dpi,
  inline,
  shown: toldAs,
  listed,
  onCommit,
}: NumberProps) {
  const { min = -Infinity, max = Infinity, above = -Infinity, below = Infinity } = of;
  const ruler = useRuler();
  // A length is told and typed in the ruler's unit; everything else in its own.
  const isLength = unit === "meter";
  const one = isLength ? ruler.metres : unit === "percent" ? HUNDREDTH : 1;
  const places = isLength ? Math.max(ruler.digits, digits + Math.round(Math.log10(one))) : digits;
  const by = isLength ? (step * ruler.step_m) / METRE_STEP : step;
  const group = useRef<HTMLDivElement>(null);
  const [typed, setTyped] = useState<string | null>(null);
  const [why, setWhy] = useState<string | null>(null);
  const format = new Intl.NumberFormat("en", {
    minimumFractionDigits: isLength ? Math.min(ruler.digits, places) : 0,
    maximumFractionDigits: places,
    useGrouping: false,
    ...(unit
      ? {
          style: "unit",
          unit: isLength ? RULER_UNITS[ruler.unit] : unit,
          unitDisplay: unit === "degree" ? "narrow" : "short",
        }
      : {}),
  });
  const [reached, setAhead] = useAhead(value);
  const shown = Number((reached / one).toFixed(places)) + 0;
  const resting = reached === value && toldAs !== undefined ? toldAs : format.format(shown);
  const words = (size: number) => format.format(size / one);
  const put = (next: number) => {
    const held = Math.min(max, Math.max(min, next));
    if (
      !Number.isFinite(held) ||
      held <= above ||
      held >= below ||
      Math.abs(held / one - shown) < 1e-9 ||
      held === reached
    )
      return false;
    onCommit(held);
    return true;
  };
  const stepTo = (next: number) => {
    if (put(next)) setAhead(Math.min(max, Math.max(min, next)));
  };
  const asked = useRef<string | null>(null);
  const [asking, setAsking] = useState(false);
  const done = () => {
    if (typed === null) return;
    const written = typed.trim();
    if (written === asked.current) return;
    if (written === "" || written === resting) {
      setTyped(null);
      setWhy(null);
      return;
    }
    const from = min > -Infinity ? words(min) : above > -Infinity ? text.kit.over(words(above)) : text.kit.anything;
    const to = max < Infinity ? words(max) : below < Infinity ? text.kit.under(words(below)) : text.kit.anything;
    const within = ({ value: next }: { value: number }) => {
      if (next < min || next > max || next <= above || next >= below) throw new Error(text.kit.itMayBeFromTo(from, to));
      return next;
    };
    asked.current = written;
    setAsking(true);
    read(
      answerOf(
        http.GET("/api/measure", {
          params: {
            query: {
              kind: dpi ? "pixels" : unit ? KINDS[unit] : "number",
              dpi,
              text: written,
              unit: isLength ? ruler.unit : unit === "percent" ? "%" : undefined,
            },
          },
        }),
      ).then(within),
      (next) => {
        asked.current = null;
        setAsking(false);
        // At once, so that what waits for this number sees it.
        flushSync(() => {
          setTyped((now) => (now?.trim() === written ? null : now));
          setWhy(null);
          put(next);
        });
      },
      (error) => {
        asked.current = null;
        setAsking(false);
        setWhy(error.message);
      },
    );
  };
  const stepBy = (count: number) => stepTo(Number((shown * one + count * by).toFixed(9)));
  const latest = useRef(stepBy);
  latest.current = stepBy;
  useEffect(() => {
    const node = group.current;
    if (!node || off) return;
    const turned = (event: WheelEvent) => {
      if (!node.contains(document.activeElement)) return;
      event.preventDefault();
      latest.current(-Math.sign(event.deltaY));
    };
    node.addEventListener("wheel", turned, { passive: false });
    return () => node.removeEventListener("wheel", turned);
  }, [off]);
  const key = (event: KeyboardEvent) => {
    if (event.key === "Enter") done();
    if (event.key === "Escape" && typed !== null) {
      event.stopPropagation();
      setTyped(null);
      setWhy(null);
    }
    const steps = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[event.key];
    if (!steps || off || event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    setTyped(null);
    setWhy(null);
    stepBy(steps * (event.shiftKey ? 10 : 1));
  };
  const written = typed ?? resting;
  return (
    <Field
      $inline={inline}
      className={inline ? "live" : undefined}
      data-at-rest={typed === null || asking || undefined}
      value={written}
      onChange={setTyped}
      isDisabled={off}
      isInvalid={why !== null}
      validationBehavior="aria"
    >
      <Label>
        <span title={of.words}>{label}</span>
      </Label>
      <div ref={group} onKeyDownCapture={key}>
        <WholeStaysWhole>
          {(input) => <Input ref={input} inputMode="text" onFocus={(e) => e.currentTarget.select()} onBlur={done} />}
        </WholeStaysWhole>
      </div>
      {listed && <ListAtEnd label={label} off={off} {...listed} />}
      <Why>{why}</Why>
    </Field>
  );
}

/**
 * A box whose whole text is selected has it selected still when other text comes: what is typed then takes its place.
 * Looked at right before the text changes; the browser tells of a selection only later.
 */
class WholeStaysWhole extends Component<{ children: (input: RefObject<HTMLInputElement | null>) => ReactNode }> {
  readonly input = createRef<HTMLInputElement>();
  getSnapshotBeforeUpdate() {
    const box = this.input.current;
    return (
      box !== null &&
      box === document.activeElement &&
      box.selectionStart === 0 &&
      box.selectionEnd === box.value.length
    );
  }
  componentDidUpdate(_: unknown, __: unknown, whole: boolean) {
    if (whole) this.input.current?.select();
  }
  render() {
    return this.props.children(this.input);
  }
}

interface TextProps {
  label: string;
  value: string;
  off?: boolean;
  most?: number;
  hidden?: boolean;
  placeholder?: string;
  onCommit: (value: string) => void;
}

/** A name: committed on Enter or on leaving, never empty. */
export function TextField({ label, value, off, most = 120, hidden, placeholder, onCommit }: TextProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const done = () => {
    const text = typed?.trim();
    setTyped(null);
    if (text && text !== value) onCommit(text);
  };
  return (
    <Field value={typed ?? value} onChange={setTyped} isDisabled={off} aria-label={hidden ? label : undefined}>
      {!hidden && <Label>{label}</Label>}
      <WholeStaysWhole>
        {(input) => (
          <Input
            ref={input}
            maxLength={most}
            placeholder={placeholder}
            onBlur={done}
            onKeyDown={(e) => {
              if (e.key === "Enter") e.currentTarget.blur();
              if (e.key === "Escape") {
                e.stopPropagation();
                setTyped(null);
              }
            }}
          />
        )}
      </WholeStaysWhole>
    </Field>
  );
}
