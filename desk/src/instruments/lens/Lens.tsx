import { type KeyboardEvent, useEffect, useRef } from "react";
import { AngleTo, BendTo, Falloff, Lens, ScaleTo } from "../../api/limits";
import { useOffer } from "../../api/client";
import { Choice } from "../../kit/choice";
import { Button, Fields, Plain, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { Fold } from "../../kit/fold";
import { useAhead } from "../../kit/ahead";
import { dialReading, onDial } from "../../kit/polar";
import { usePulled } from "../../kit/pulled";
import { useLatest } from "../../kit/remembered";
import { useLength } from "../../kit/ruler";
import { ink, quiet, spruce } from "../../kit/tokens";
import { degrees, percent } from "../../kit/words";
import type { ShotDesk } from "../../shots/draft";
import { Own } from "../Own";
import type { BodyProps } from "../described";
import { text } from "../../text";

type Prime = ShotDesk["sheet"]["lens"]["primes"][number];
const [STRAIGHT_R, ROUND_R] = [124, 66];

/**
 * Which primes have room for their name where their line ends: the one in use first, then the wider before the longer.
 */
function named(primes: Prime[], focal: number, R: number): Map<Prime, [number, number]> {
  const put = new Map<Prime, [number, number]>();
  const inUse = (prime: Prime) => Math.abs(prime.focal_length_mm - focal) < 1e-6;
  for (const prime of [...primes].sort(
    (a, b) => Number(inUse(b)) - Number(inUse(a)) || a.focal_length_mm - b.focal_length_mm,
  )) {
    const [tx, ty] = onDial(prime.angle_deg / 2, R + 13);
    if (![...put.values()].some(([x, y]) => Math.abs(x - tx) < 19 && Math.abs(y - ty) < 12)) put.set(prime, [tx, ty]);
  }
  return put;
}

/**
 * A fan of angles with a set of primes on it; the back stays, focal length and angle go together. Or a parallel
 * picture.
 */
export function LensBody(props: BodyProps) {
  const { desk } = props;
  const { lens: sheet } = desk.sheet;
  const { lens } = desk.shot;
  const off = desk.row.locked;
  return (
    <>
      {sheet.angle_deg ? <Fan desk={desk} angle={sheet.angle_deg.horizontal} /> : <Strip desk={desk} />}
      <Fields $columns={2} style={sheet.angle_deg ? { gridTemplateColumns: "1.4fr 1fr 1fr 1fr" } : undefined}>
        {lens.scale_m != null ? (
          <NumberField
            label={text.lens.wideInTheWorld}
            unit="meter"
            digits={3}
            step={0.05}
            of={Lens.scale_m}
            value={lens.scale_m}
            off={off}
            onCommit={(scale_m) => desk.commit(text.lens.widthOfThePicture, { lens: { scale_m } })}
          />
        ) : (
          <NumberField
            label={text.everywhere.focalLength}
            unit="millimeter"
            step={1}
            of={Lens.focal_length_mm}
            value={lens.focal_length_mm}
            off={off}
            onCommit={(mm) => desk.commit(text.everywhere.focalLength, { lens: { focal_length_mm: mm } })}
          />
        )}
        {sheet.angle_deg &&
          ANGLES.map(([label, side, key]) => (
            <NumberField
              key={side}
              label={label}
              unit="degree"
              digits={1}
              step={1}
              of={AngleTo.angle_deg}
              value={sheet.angle_deg![key]}
              off={off}
              onCommit={(v) => desk.commit(text.lens.angleOfView, { kind: "angle_to", side, angle_deg: v })}
            />
          ))}
      </Fields>
      <p>{sheet.words}</p>
      {sheet.angle_deg ? <Primes {...props} /> : <Scale desk={desk} />}
      {sheet.angle_deg && (
        <p style={{ color: quiet }}>
          {[
            sheet.equivalent_focal_length_mm != null &&
              text.lens.cornerToCornerItSees(Number(sheet.equivalent_focal_length_mm.toFixed(1))),
            sheet.from_stand && text.lens.distancesCountFromTheStand,
            sheet.shade && text.lens.theDarkestCornerGets(percent(sheet.corner_light)),
          ]
            .filter(Boolean)
            .join(" ")}
        </p>
      )}
      <div>
        <Fold
          name="projection"
          title={text.lens.projectionAndViews}
          first={false}
          value={
            lens.projection === "fisheye"
              ? text.lens.fisheye(lens.fisheye_law)
              : text.names.projections[lens.projection]
          }
        >
          <Drawn desk={desk} />
          <Views {...props} />
        </Fold>
        <Fold name="character" title={text.lens.character} first={false} value={character(desk)}>
          <Character desk={desk} />
        </Fold>
      </div>
    </>
  );
}

/** What of the lens is not ideal, in a few words. */
function character({ shot: { lens }, sheet }: ShotDesk): string {
  const { bent } = sheet.lens;
  const found = [
    bent && text.lens.distortion(percent(bent)),
    lens.falloff.mechanical > 0 && text.lens.vignetting,
    lens.falloff.natural && text.lens.falloff,
    lens.focus_breathing && text.lens.breathes,
  ].filter(Boolean);
  return found.length > 0 ? found.join(", ") : text.lens.ideal;
}

/** The set of primes one steps through, and the project's own sets. */
function Primes({ project, desk, putKept }: BodyProps) {
  const { prime_sets: offered } = useOffer();
  const off = desk.row.locked;
  const { kept } = project;
  const sets = [...offered, ...kept.prime_sets];
  const inUse = sets.find(({ name }) => name === kept.primes);
  const focal = Number(desk.shot.lens.focal_length_mm.toFixed(2));
  const mine = kept.prime_sets.find(({ name }) => name === kept.primes);
  const has = mine?.focal_lengths_mm.includes(focal);
  const step = (by: 1 | -1) =>
    desk.commit(by > 0 ? text.everywhere.nextLongerPrime : text.everywhere.nextShorterPrime, {
      kind: "prime_step",
      by,
    });
  return (
    <>
      <Fields $columns={2}>
        <Choice
          label={text.lens.setOfPrimes}
          value={kept.primes}
          options={sets.map(({ name }) => ({ id: name, name }))}
          onChoose={(name) => putKept(() => ({ primes: name }), text.lens.primes(name))}
        />
        <Row>
          <Button isDisabled={off} aria-label={text.everywhere.nextShorterPrime} onPress={() => step(-1)}>
            −
          </Button>
          <Button isDisabled={off} aria-label={text.everywhere.nextLongerPrime} onPress={() => step(1)}>
            +
          </Button>
        </Row>
      </Fields>
      <Row>
        {mine && (
          <Plain
            onPress={() =>
              putKept(
                ({ prime_sets: now }) => ({
                  prime_sets: now.map((set) =>
                    set.name === mine.name
                      ? {
                          ...set,
                          focal_lengths_mm:
                            has && set.focal_lengths_mm.length > 1
                              ? set.focal_lengths_mm.filter((f) => f !== focal)
                              : [...set.focal_lengths_mm, focal],
                        }
                      : set,
                  ),
                }),
                (has ? text.lens.primesWithout : text.lens.primesWithMm)(focal),
              )
            }
          >
            {has ? text.lens.takeMmOut(focal) : text.lens.putMmIn(focal)}
          </Plain>
        )}
        <Own
          what={text.lens.setOfPrimesOwn}
          names={kept.prime_sets.map(({ name }) => name)}
          onKeep={(name) =>
            putKept(
              ({ prime_sets: now }) => ({
                prime_sets: [...now, { name, focal_lengths_mm: inUse?.focal_lengths_mm ?? [focal] }],
                primes: name,
              }),
              text.lens.keepThePrimes(name),
            )
          }
          onAway={(name) =>
            putKept(
              (now) => ({
                prime_sets: now.prime_sets.filter((set) => set.name !== name),
                primes: now.primes === name ? offered[0]!.name : now.primes,
              }),
              text.lens.keepThePrimesNoLonger(name),
            )
          }
        />
      </Row>
    </>
  );
}

/** How large a parallel picture is on paper. */
function Scale({ desk }: { desk: ShotDesk }) {
  const { scales } = useOffer();
  const over = desk.sheet.lens.scale_on_paper ?? 1;
  const off = desk.row.locked;
  const to = (scale: number) => ({ kind: "scale_to", over: scale }) as const;
  const told = Number(over.toPrecision(4));
  return (
    <Fields $columns={2}>
      <Choice
        label={text.lens.scaleOnPaper}
        value={String(told)}
        shown={`1 : ${told}`}
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
function Views({ desk, picking, pick }: BodyProps) {
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
function Drawn({ desk }: { desk: ShotDesk }) {
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

/** What a lens does that a plain one does not: bent lines, darker corners. */
function Character({ desk }: { desk: ShotDesk }) {
  const { lens } = desk.shot;
  const { bent } = desk.sheet.lens;
  const off = desk.row.locked;
  const put = (label: string, falloff: Partial<typeof lens.falloff>) => desk.commit(label, { lens: { falloff } });
  const breathes = (on: boolean) => ({ kind: "breathing", on }) as const;
  const to = desk.sheet.lens.breathes_to_deg;
  return (
    <>
      <Fields>
        {lens.projection === "perspective" && (
          <NumberField
            label={text.lens.distortionTitle}
            unit="percent"
            digits={1}
            step={0.01}
            of={BendTo.corner}
            value={bent ?? 0}
            off={off}
            onCommit={(corner) =>
              desk.commit(
                corner === 0
                  ? text.lens.noDistortion
                  : corner < 0
                    ? text.lens.barrelDistortion
                    : text.lens.pincushionDistortion,
                {
                  kind: "bend_to",
                  corner,
                },
              )
            }
          />
        )}
        {lens.projection !== "parallel" && (
          <NumberField
            label={text.lens.mechanicalVignetting}
            unit="percent"
            digits={0}
            step={0.05}
            of={Falloff.mechanical}
            value={lens.falloff.mechanical}
            off={off}
            onCommit={(mechanical) => put(text.lens.mechanicalVignetting, { mechanical })}
          />
        )}
        {lens.falloff.mechanical > 0 && (
          <NumberField
            label={text.lens.maximumApertureF}
            digits={1}
            step={0.1}
            of={Falloff.open_f_number}
            value={lens.falloff.open_f_number}
            off={off}
            onCommit={(open_f_number) => put(text.lens.maximumAperture, { open_f_number })}
          />
        )}
      </Fields>
      {lens.projection !== "parallel" && (
        <Row>
          <span
            onPointerEnter={() => {
              if (!off) desk.suppose(breathes(!lens.focus_breathing));
            }}
            onPointerLeave={() => desk.suppose(null)}
          >
            <Toggle
              isSelected={lens.focus_breathing}
              isDisabled={off}
              onFocus={() => desk.suppose(breathes(!lens.focus_breathing))}
              onBlur={() => desk.suppose(null)}
              onChange={(on) => {
                desk.suppose(null);
                desk.commit(on ? text.lens.focusBreathing : text.lens.noFocusBreathing, breathes(on));
              }}
            >
              {to == null ? text.lens.focusBreathing : text.lens.focusBreathingTo(degrees(to), lens.focus_breathing)}
            </Toggle>
          </span>
          <Toggle
            isSelected={lens.falloff.natural}
            isDisabled={off}
            onChange={(natural) => put(natural ? text.lens.naturalFalloff : text.lens.noNaturalFalloff, { natural })}
          >
            {text.lens.naturalFalloff}
          </Toggle>
        </Row>
      )}
    </>
  );
}

const ANGLES = [
  [text.lens.across, "across", "horizontal"],
  [text.lens.upright, "upright", "vertical"],
  [text.lens.corners, "corner", "diagonal"],
] as const;

/** Past half a turn the fan needs room below its middle too. */
const HALF_TURN = 175;

function Fan({ desk, angle }: { desk: ShotDesk; angle: number }) {
  const off = desk.row.locked;
  const { primes } = desk.sheet.lens;
  const focal = desk.shot.lens.focal_length_mm;
  const put = (mm: number) => desk.commit(text.everywhere.focalLength, { lens: { focal_length_mm: mm } });
  const round = angle > HALF_TURN;
  const R = round ? ROUND_R : STRAIGHT_R;
  const names = named(primes, focal, R);
  const [lx, ly] = onDial(-angle / 2, R);
  const [rx, ry] = onDial(angle / 2, R);
  const arc = `A${R} ${R} 0 ${angle > 180 ? 1 : 0} 1 ${rx} ${ry}`;
  const wheel = useRef<SVGSVGElement>(null);
  const step = useLatest((by: 1 | -1) => {
    if (!off)
      desk.commit(by > 0 ? text.everywhere.nextLongerPrime : text.everywhere.nextShorterPrime, {
        kind: "prime_step",
        by,
      });
  });
  useEffect(() => {
    const node = wheel.current;
    const turned = (event: WheelEvent) => {
      event.preventDefault();
      if (event.deltaY !== 0) step.current(event.deltaY < 0 ? 1 : -1);
    };
    node?.addEventListener("wheel", turned, { passive: false });
    return () => node?.removeEventListener("wheel", turned);
  }, [step]);
  return (
    <svg ref={wheel} viewBox="0 0 272 178" role="group" aria-label={text.lens.fanOfAnglesOfView}>
      <g transform={round ? "translate(136 88)" : "translate(136 168)"}>
        <path d={`M0 0L${lx} ${ly}${arc}Z`} fill={spruce} fillOpacity={0.12} />
        {primes.map((prime) => {
          const on = Math.abs(prime.focal_length_mm - focal) < 1e-6;
          const [x0, y0] = onDial(-prime.angle_deg / 2, R);
          const [x1, y1] = onDial(prime.angle_deg / 2, R);
          const at = names.get(prime);
          return (
            <g
              key={prime.focal_length_mm}
              role="button"
              aria-label={`${prime.focal_length_mm} mm`}
              aria-disabled={off}
              tabIndex={off ? -1 : 0}
              style={{ cursor: off ? "default" : "pointer" }}
              onClick={() => {
                if (!off) put(prime.focal_length_mm);
              }}
              onKeyDown={(e) => {
                if (!off && (e.key === "Enter" || e.key === " ")) {
                  e.preventDefault();
                  e.stopPropagation();
                  put(prime.focal_length_mm);
                }
              }}
            >
              <path
                d={`M${x0} ${y0}L0 0L${x1} ${y1}`}
                fill="none"
                stroke={on ? spruce : "#a9adab"}
                strokeWidth={on ? 2 : 0.9}
              />
              <path d={`M0 0L${x1} ${y1}`} stroke="transparent" strokeWidth={9} fill="none" />
              {at && (
                <text
                  x={at[0]}
                  y={at[1] + 4}
                  fontSize={11}
                  fontWeight={on ? 700 : 400}
                  textAnchor="middle"
                  fill={on ? spruce : ink}
                  style={{ fontStretch: "80%" }}
                >
                  {prime.focal_length_mm}
                </text>
              )}
              {at && <rect x={at[0] - 12} y={at[1] - 12} width={24} height={24} fill="transparent" />}
            </g>
          );
        })}
        <path d={`M${lx} ${ly}L0 0L${rx} ${ry}`} fill="none" stroke={spruce} strokeWidth={2.2} />
        <path d={`M${lx} ${ly}${arc}`} fill="none" stroke={spruce} />
        <FanSide desk={desk} angle={angle} side="left" at={[lx, ly]} />
        <FanSide desk={desk} angle={angle} side="right" at={[rx, ry]} />
        <line x1={-24} x2={24} y1={2} y2={2} stroke={ink} strokeWidth={4} />
        <text
          y={-R / 2}
          fontSize={14}
          fontWeight={700}
          textAnchor="middle"
          fill={spruce}
          stroke="#fff"
          strokeWidth={4}
          paintOrder="stroke"
        >
          {degrees(angle)}
        </text>
      </g>
    </svg>
  );
}

/** A side of the fan, to be pulled to another angle. */
function FanSide({
  desk,
  angle,
  side,
  at: [x, y],
}: {
  desk: ShotDesk;
  angle: number;
  side: "left" | "right";
  at: [number, number];
}) {
  const off = desk.row.locked;
  const [reached, setAhead, forget] = useAhead(angle);
  const to = (deg: number) =>
    ({
      kind: "angle_to",
      side: "across",
      angle_deg: Math.min(Math.max(deg, AngleTo.angle_deg.min), AngleTo.angle_deg.max),
    }) as const;
  const read = ([px, py]: [number, number]) => {
    const half = dialReading(px, py);
    return 2 * (half > 180 ? 360 - half : half);
  };
  const pulled = usePulled(
    off,
    (place) => desk.drag(to(read(place))),
    (place) => {
      forget();
      desk.commit(text.lens.angleOfView, to(read(place)));
    },
    desk.drop,
  );
  const key = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (!by || off) return;
    event.preventDefault();
    event.stopPropagation();
    setAhead(reached + by);
    desk.commit(text.lens.angleOfView, to(reached + by));
  };
  return (
    <g
      role="slider"
      aria-label={text.lens.angleOfViewSide(side)}
      aria-valuenow={Number(angle.toFixed(1))}
      aria-disabled={off}
      tabIndex={off ? -1 : 0}
      style={{ cursor: off ? "default" : "ew-resize", touchAction: "none" }}
      onKeyDown={key}
      {...pulled}
    >
      <circle cx={x} cy={y} r={4} fill="#fff" stroke={spruce} strokeWidth={1.6} />
      <circle cx={x} cy={y} r={11} fill="transparent" />
    </g>
  );
}

/** What a parallel picture sees: as wide far away as near by. */
function Strip({ desk }: { desk: ShotDesk }) {
  const length = useLength();
  return (
    <svg viewBox="0 0 272 110" role="img" aria-label={text.lens.parallelWide(length(desk.shot.lens.scale_m))}>
      <g transform="translate(136 100)">
        <rect x={-58} y={-88} width={116} height={88} fill={spruce} fillOpacity={0.12} />
        {[-58, -29, 0, 29, 58].map((x) => (
          <line
            key={x}
            x1={x}
            x2={x}
            y1={0}
            y2={-88}
            stroke={Math.abs(x) === 58 ? spruce : "#a9adab"}
            strokeWidth={Math.abs(x) === 58 ? 2.2 : 0.9}
          />
        ))}
        <line x1={-58} x2={58} y1={2} y2={2} stroke={ink} strokeWidth={4} />
        <text
          y={-40}
          fontSize={14}
          fontWeight={700}
          textAnchor="middle"
          fill={spruce}
          stroke="#fff"
          strokeWidth={4}
          paintOrder="stroke"
        >
          {length(desk.shot.lens.scale_m)}
        </text>
      </g>
    </svg>
  );
}
