import { type ShotGesture, useOffer } from "../../api/client";
import { Back } from "../../api/limits";
import { Choice } from "../../kit/choice";
import { Fields, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { ink, quiet, spruce } from "../../kit/tokens";
import { usePulled } from "../../kit/pulled";
import type { ShotDesk } from "../../shots/draft";
import { Own } from "../Own";
import { usePeg } from "../choices";
import type { BodyProps } from "../described";
import { text } from "../../text";

type Keep = Omit<Extract<ShotGesture, { kind: "focal_keep" }>, "kind" | "what">;
const NOTHING: Keep = { hold_ratio: false, turned: false };
const fits = [
  { id: "inside", name: text.back.inside },
  { id: "width", name: text.back.widthKept },
  { id: "height", name: text.back.heightKept },
];
/** Room for the formats in the drawing, in its own units. */
const WIDE = 172;
/** A format this much wider than the one in use is not drawn beside it: both could not be made out. */
const FAR_LARGER = 3.6;

/** Another back or size, with what the peg says stays. */
export function useKeep({ desk }: Pick<BodyProps, "desk">) {
  const [what] = usePeg();
  const gesture = (change: Partial<Keep>): ShotGesture => ({ ...NOTHING, ...change, kind: "focal_keep", what });
  return {
    gesture,
    put: (label: string, change: Partial<Keep>) => desk.commit(label, gesture(change)),
    over: (change: Partial<Keep> | null) => desk.suppose(change && gesture(change)),
  };
}

/** What stays when back or size changes. */
export function Peg() {
  const [what, setWhat] = usePeg();
  return (
    <Row role="group" aria-label={text.back.whatStaysWhenBack}>
      <span style={{ color: quiet, fontSize: 12 }}>{text.back.stays}</span>
      <Toggle isSelected={what === "lens"} onChange={() => setWhat("lens")}>
        {text.everywhere.theLens}
      </Toggle>
      <Toggle isSelected={what === "angle"} onChange={() => setWhat("angle")}>
        {text.back.theAngleOfView}
      </Toggle>
    </Row>
  );
}

/** The corner of the picture on the film, to be pulled: the smaller it is, the more it is enlarged. */
function EnlargeGrip({
  desk,
  half: [w, h],
  gesture,
}: {
  desk: ShotDesk;
  half: [number, number];
  gesture: (enlarge: number) => ShotGesture;
}) {
  const { enlarge } = desk.shot.back;
  const off = desk.row.locked;
  const to = ([x, y]: [number, number]) =>
    gesture(
      Math.min(Math.max(1 / Math.max(Math.abs(x) / w, Math.abs(y) / h, 1e-6), Back.enlarge.min), Back.enlarge.max),
    );
  const pulled = usePulled(
    off,
    (place) => desk.drag(to(place)),
    (place) => desk.commit(text.back.enlarge, to(place)),
    desk.drop,
  );
  const [x, y] = [w / enlarge, h / enlarge];
  return (
    <g
      role="slider"
      aria-label={text.back.enlargeByTheCorner}
      aria-valuenow={Number(enlarge.toFixed(2))}
      aria-disabled={off}
      tabIndex={off ? -1 : 0}
      style={{ cursor: off ? "default" : "nwse-resize", touchAction: "none" }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: 1.05, ArrowUp: 1.05, ArrowRight: 1 / 1.05, ArrowDown: 1 / 1.05 }[event.key];
        if (!by || off) return;
        event.preventDefault();
        event.stopPropagation();
        desk.commit(text.back.enlarge, to([x / by, y / by]));
      }}
      {...pulled}
    >
      <rect x={x - 3.5} y={y - 3.5} width={7} height={7} fill="#fff" stroke={spruce} strokeWidth={1.6} />
      <rect x={x - 11} y={y - 11} width={22} height={22} fill="transparent" />
    </g>
  );
}

/** The formats nested to scale, and the back with what of it is used. */
export function Film({ project, desk, putKept }: BodyProps) {
  const { back } = desk.shot;
  const sheet = desk.sheet.back;
  const off = desk.row.locked;
  const { gesture, put, over } = useKeep({ desk });
  const { formats: offered } = useOffer();
  const formats = [...offered, ...project.kept.formats];
  const upright = back.height_mm > back.width_mm;
  const turned = ({ width_mm: w, height_mm: h }: { width_mm: number; height_mm: number }) =>
    upright ? { width_mm: h, height_mm: w } : { width_mm: w, height_mm: h };
  const same = (one: { width_mm: number; height_mm: number }) => {
    const { width_mm: w, height_mm: h } = turned(one);
    return w === back.width_mm && h === back.height_mm;
  };
  const named = formats.find(same);
  const most = FAR_LARGER * Math.max(back.width_mm, back.height_mm);
  const drawn = formats.filter((f) => f.width_mm <= most);
  const scale = Math.min(
    WIDE / Math.max(...drawn.map((f) => f.width_mm)),
    134 / Math.max(...drawn.map((f) => f.height_mm)),
  );
  const [cw, ch] = sheet.fitted_mm;
  const k = 84 / Math.max(back.width_mm, back.height_mm, cw, ch);
  // The larger formats below, so that the smaller are met first.
  const nested = [...drawn].sort((a, b) => b.width_mm * b.height_mm - a.width_mm * a.height_mm);
  const unit = (name: string) => (/\d$/.test(name) ? `${name} mm` : name);
  return (
    <>
      <svg viewBox="0 0 272 146" role="group" aria-label={text.back.formatsToScaleAndTheFitted}>
        <g transform="translate(2 142)">
          {nested.map((format) => {
            const [w, h, on] = [format.width_mm * scale, format.height_mm * scale, format === named];
            const choose = () => {
              if (!off) put(text.back.format, turned(format));
            };
            return (
              <g
                key={format.name}
                role="button"
                aria-label={text.back.back(format.name)}
                tabIndex={off ? -1 : 0}
                style={{ cursor: off ? "default" : "pointer" }}
                onClick={choose}
                onPointerEnter={() => {
                  if (!off && !on) over(turned(format));
                }}
                onPointerLeave={() => over(null)}
                onFocus={() => {
                  if (!off && !on) over(turned(format));
                }}
                onBlur={() => over(null)}
                onKeyDown={(e) => {
                  if (e.key === "Enter" || e.key === " ") {
                    e.preventDefault();
                    e.stopPropagation();
                    choose();
                  }
                }}
              >
                <title>{unit(format.name)}</title>
                <rect
                  y={-h}
                  width={w}
                  height={h}
                  fill={on ? spruce : "#fff"}
                  fillOpacity={on ? 0.12 : 1}
                  stroke={on ? spruce : "#8b8f8d"}
                  strokeWidth={on ? 2 : 0.9}
                />
              </g>
            );
          })}
          {nested.slice(0, 2).map((format) => (
            <text
              key={format.name}
              x={format.width_mm * scale - 4}
              y={-format.height_mm * scale + 12}
              fontSize={11}
              textAnchor="end"
              fill={quiet}
              pointerEvents="none"
            >
              {format.name}
            </text>
          ))}
        </g>
        <g transform="translate(224 62)">
          <rect
            x={(-back.width_mm * k) / 2}
            y={(-back.height_mm * k) / 2}
            width={back.width_mm * k}
            height={back.height_mm * k}
            fill="#fff"
            stroke={ink}
          />
          {back.enlarge > 1 && (
            <rect
              x={(-cw * back.enlarge * k) / 2}
              y={(-ch * back.enlarge * k) / 2}
              width={cw * back.enlarge * k}
              height={ch * back.enlarge * k}
              fill="none"
              stroke={spruce}
              strokeDasharray="3 3"
            />
          )}
          <rect
            x={(-cw * k) / 2}
            y={(-ch * k) / 2}
            width={cw * k}
            height={ch * k}
            fill={spruce}
            fillOpacity={0.12}
            stroke={spruce}
            strokeWidth={2}
          />
          <EnlargeGrip
            desk={desk}
            half={[(cw * back.enlarge * k) / 2, (ch * back.enlarge * k) / 2]}
            gesture={(enlarge) => gesture({ enlarge })}
          />
          <text y={4} fontSize={12} fontWeight={700} textAnchor="middle" fill={spruce}>
            {sheet.ratio}
          </text>
          <text y={62} fontSize={11} textAnchor="middle" fill={quiet}>
            {Number(cw.toFixed(2))} × {Number(ch.toFixed(2))}
          </text>
        </g>
      </svg>
      <Peg />
      <Fields $columns={2}>
        <Choice
          label={text.back.format}
          value={named?.name ?? "own"}
          shown={named ? unit(named.name) : `${sheet.format} mm`}
          off={off}
          options={formats.map(({ name }) => ({ id: name, name: unit(name) }))}
          onOver={(id) => {
            const f = formats.find(({ name }) => name === id);
            over(f ? turned(f) : null);
          }}
          onChoose={(id) => {
            const f = formats.find(({ name }) => name === id);
            if (f) put(text.back.format, turned(f));
          }}
        />
        <Choice
          label={text.everywhere.fit}
          value={back.fit}
          options={fits}
          off={off}
          onOver={(id) => over(id ? { fit: id as typeof back.fit } : null)}
          onChoose={(id) => put(text.everywhere.fit, { fit: id as typeof back.fit })}
        />
        <NumberField
          label={text.back.backWidth}
          unit="millimeter"
          step={0.5}
          of={Back.width_mm}
          value={back.width_mm}
          off={off}
          onCommit={(width_mm) => put(text.back.backWidth, { width_mm })}
        />
        <NumberField
          label={text.everywhere.backHeight}
          unit="millimeter"
          step={0.5}
          of={Back.height_mm}
          value={back.height_mm}
          off={off}
          onCommit={(height_mm) => put(text.everywhere.backHeight, { height_mm })}
        />
        <NumberField
          label={text.back.enlarge}
          digits={2}
          step={0.1}
          of={Back.enlarge}
          value={back.enlarge}
          off={off}
          onCommit={(enlarge) => put(text.back.enlarge, { enlarge })}
        />
      </Fields>
      {back.enlarge > 1 && (
        <p style={{ color: quiet }}>
          {text.back.enlargedPixelsOfFilm(
            Math.round(sheet.film_px[0]),
            Math.round(sheet.film_px[1]),
            sheet.output_px[0],
            sheet.output_px[1],
            Number(sheet.blur_px.toFixed(2)),
          )}
        </p>
      )}
      <Own
        what={text.back.formatOwn}
        names={project.kept.formats.map(({ name }) => name)}
        onKeep={(name) =>
          putKept(
            ({ formats: kept }) => ({
              formats: [
                ...kept,
                {
                  name,
                  width_mm: Math.max(back.width_mm, back.height_mm),
                  height_mm: Math.min(back.width_mm, back.height_mm),
                },
              ],
            }),
            text.back.keepTheFormat(name),
          )
        }
        onAway={(name) =>
          putKept(
            ({ formats: kept }) => ({ formats: kept.filter((one) => one.name !== name) }),
            text.back.keepTheFormatNoLonger(name),
          )
        }
      />
    </>
  );
}
