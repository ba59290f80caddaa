import styled from "styled-components";
import { useOffer } from "../../api/client";
import { Focus } from "../../api/limits";
import { Fields, Plain, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { Fold } from "../../kit/fold";
import { useRemembered } from "../../kit/remembered";
import { brick, ochre, quiet } from "../../kit/tokens";
import { partNames } from "../../shots/partNames";
import { useSoftness } from "../choices";
import type { BodyProps } from "../described";
import { Barrel } from "./Barrel";
import { Discs } from "./Discs";
import { Probes } from "./Probes";
import { Stacks } from "./Stacks";
import { Wanted } from "./Wanted";
import { text } from "../../text";

const Part = styled.section`
  display: grid;
  gap: 12px;
  > svg {
    display: block;
    width: 100%;
    height: auto;
  }
`;

type Steps = "whole" | "half" | "third";
const STEPS = [
  { id: "whole", name: text.focus.listWholeStops },
  { id: "half", name: text.focus.listHalfStops },
  { id: "third", name: text.focus.listThirdStops },
];
const [ALL, OWN] = ["all", "own"];
/** Thirds of a stop in one: every so many of those offered is a whole one. */
const THIRDS = 3;

/** Distance and stop on the barrel, what is to be sharp asked for from either end, and what shapes the blur. */
export function FocusBody(props: BodyProps) {
  const { desk } = props;
  const off = desk.row.locked;
  const own = desk.shot.focus;
  const {
    stack_m: { length: frames },
    probes: { length: probes },
    blur: { shape },
  } = desk.sheet.focus;
  return (
    <>
      <Part>
        <Barrel desk={desk} off={off} />
        <Setting {...props} />
        <On {...props} />
        <InPicture />
        <Told desk={desk} />
      </Part>
      <div>
        <Fold name="wanted" title={text.focus.wantedSharp} first>
          <Wanted {...props} />
        </Fold>
        <Fold
          name="stack"
          title={text.focus.pairAndStack}
          first={false}
          value={frames > 0 ? text.counts.picture(frames) : undefined}
        >
          <Stacks {...props} />
        </Fold>
        <Fold name="probes" title={text.focus.probes} first value={probes > 0 ? text.counts.probe(probes) : undefined}>
          <Probes {...props} />
        </Fold>
        <Fold
          name="shape"
          title={text.focus.shapeOfTheBlur}
          first={false}
          value={shape ? (own.blades >= 3 ? text.counts.blade(own.blades) : text.focus.round) : undefined}
        >
          <Shape desk={desk} />
        </Fold>
      </div>
    </>
  );
}

/** The distance, the stop, and what counts as sharp. */
function Setting({ desk }: Pick<BodyProps, "desk">) {
  const { focus } = desk.sheet;
  const own = desk.shot.focus;
  const off = desk.row.locked;
  const { stops: thirds, half_stops: halves } = useOffer();
  const [steps, setSteps] = useRemembered<Steps>("zevlo-stops", "third");
  const stops = steps === "third" ? thirds : steps === "half" ? halves : thirds.filter((_, n) => n % THIRDS === 0);
  return (
    <>
      <Fields>
        <NumberField
          label={text.focus.focusDistance}
          unit="meter"
          step={0.05}
          of={Focus.distance_m}
          digits={own.distance_m < 1 ? 3 : 2}
          value={own.distance_m}
          off={off}
          onCommit={(v) => desk.commit(text.focus.focus, { kind: "focus_to", distance_m: v })}
        />
        <NumberField
          label={text.everywhere.aperture}
          digits={2}
          step={0.5}
          of={Focus.f_number}
          value={own.f_number ?? 8}
          shown={focus.stop ?? text.everywhere.everythingSharp}
          off={off}
          onCommit={(f_number) => desk.commit(text.everywhere.aperture, { kind: "stop_to", f_number })}
          listed={{
            value: stops.find((stop) => stop.name === focus.stop)?.name ?? (own.f_number === null ? ALL : OWN),
            options: [
              ...stops.map(({ name }) => ({ id: name, name })),
              { id: ALL, name: text.everywhere.everythingSharp },
              ...STEPS.filter(({ id }) => id !== steps),
            ],
            onChoose: (id) => {
              if (STEPS.some((one) => one.id === id)) return setSteps(id as Steps);
              desk.commit(text.everywhere.aperture, {
                kind: "stop_to",
                f_number: stops.find((stop) => stop.name === id)?.f_number ?? null,
              });
            },
          }}
        />
        <Circle desk={desk} />
      </Fields>
    </>
  );
}

/** How much blur still counts as sharp, in pixels of the picture or in mm of film. */
function Circle({ desk }: Pick<BodyProps, "desk">) {
  const { blur_limits: limits } = useOffer();
  const { focus: sheet } = desk.sheet;
  const { blur_limit: own } = desk.shot.focus;
  const put = (blur_limit: typeof own) => desk.commit(text.focus.circleOfConfusion, { focus: { blur_limit } });
  const all = {
    label: text.focus.circleOfConfusion,
    off: desk.row.locked,
    listed: {
      value: limits.find((offered) => JSON.stringify(offered.limit) === JSON.stringify(own))?.words ?? OWN,
      options: limits.map(({ words }) => ({ id: words, name: words })),
      onChoose: (id: string) => {
        const chosen = limits.find(({ words }) => words === id);
        if (chosen) put(chosen.limit);
      },
    },
  };
  return own.px != null ? (
    <NumberField
      {...all}
      digits={2}
      step={0.5}
      value={own.px}
      shown={text.everywhere.pixelCount(Number(sheet.blur_limit_px.toFixed(2)))}
      of={{ min: 0.0001, max: 1000 }}
      onCommit={(px) => put({ px })}
    />
  ) : (
    <NumberField
      {...all}
      unit="millimeter"
      digits={4}
      step={0.005}
      value={sheet.blur_limit_mm}
      of={{ min: 0.000001, max: 10 }}
      onCommit={(mm) => put({ mm })}
    />
  );
}

/** What the focus is on: pressed once, or kept there. */
function On({ project, desk, picking, pick }: BodyProps) {
  const off = desk.row.locked;
  const { follows } = desk.sheet.focus;
  const pressing = (what: string) => ({
    isSelected: picking === what,
    isDisabled: off,
    onChange: (on: boolean) => pick(on ? what : null),
  });
  return (
    <>
      <Row>
        <Toggle {...pressing("focus")}>{text.everywhere.pickInPicture}</Toggle>
        <Toggle {...pressing("focus_keep")}>{text.focus.followAPoint}</Toggle>
        <Toggle {...pressing("focus_nearest")}>{text.focus.followAPart}</Toggle>
      </Row>
      {follows && (
        <Row>
          <span>
            {text.focus.followFocusOn}{" "}
            <b>{follows.part ? partNames(project.set.parts, follows.part)[0] : text.everywhere.aPoint}</b>:{" "}
            <span style={{ color: follows.status === "sharp" ? undefined : brick }}>
              {follows.status === "sharp" ? "" : "! "}
              {follows.words}
            </span>
          </span>
          {desk.shot.focus.follow?.part && desk.shot.focus.follow.where !== "point" && (
            <Plain
              isDisabled={off}
              onPress={() =>
                desk.commit(text.focus.followFocus, {
                  kind: "follow_focus",
                  part: desk.shot.focus.follow!.part!,
                  where: desk.shot.focus.follow!.where === "middle" ? "nearest" : "middle",
                })
              }
            >
              {desk.shot.focus.follow.where === "middle"
                ? text.focus.itsNearestPlaceInstead
                : text.focus.itsMiddleInstead}
            </Plain>
          )}
          <Plain isDisabled={off} onPress={() => desk.commit(text.focus.letTheFocusGo, { kind: "let_focus_go" })}>
            {text.everywhere.letGo}
          </Plain>
        </Row>
      )}
    </>
  );
}

const SEEN = [
  ["none", text.focus.plain],
  ["drawn", text.focus.blurred],
  ["hatched", text.focus.hatched],
  ["lines", text.focus.lines],
] as const;

/** How the finder tells where the picture is soft. */
function InPicture() {
  const [how, show] = useSoftness();
  return (
    <Row role="group" aria-label={text.focus.theBlurInTheFinder}>
      <span style={{ color: quiet, fontSize: 12 }}>{text.focus.inTheFinder}</span>
      {SEEN.map(([id, words]) => (
        <Toggle key={id} isSelected={how === id} onChange={() => show(id)}>
          {words}
        </Toggle>
      ))}
    </Row>
  );
}

/** What bites. */
function Told({ desk }: Pick<BodyProps, "desk">) {
  const { focus } = desk.sheet;
  return (
    <>
      {focus.notes.map((sentence) => (
        <p key={sentence} style={{ color: quiet }}>
          {sentence}
        </p>
      ))}
      {focus.diffraction_px != null && (
        <p style={{ color: focus.diffraction_rules ? ochre : quiet }}>
          {text.focus.diffraction(Number(focus.diffraction_px.toFixed(2)), focus.diffraction_from!)}
        </p>
      )}
    </>
  );
}

/** What the disc of the blur looks like: drawn, and set. */
function Shape({ desk }: Pick<BodyProps, "desk">) {
  const own = desk.shot.focus;
  const off = desk.row.locked;
  return (
    <>
      <Discs desk={desk} />
      <Fields>
        <NumberField
          label={text.focus.blades}
          digits={0}
          step={1}
          of={Focus.blades}
          value={own.blades}
          off={off}
          onCommit={(v) => desk.commit(text.focus.apertureBlades, { focus: { blades: Math.round(v) } })}
        />
        <NumberField
          label={text.focus.bladesTurned}
          unit="degree"
          digits={1}
          step={5}
          of={Focus.blade_rotation_deg}
          value={own.blade_rotation_deg}
          off={off || own.blades < 3}
          onCommit={(v) => desk.commit(text.focus.bladesTurned, { focus: { blade_rotation_deg: v } })}
        />
        <NumberField
          label={text.focus.rimWeight}
          digits={2}
          step={0.1}
          of={Focus.rim_weight}
          value={own.rim_weight}
          off={off}
          onCommit={(v) => desk.commit(text.focus.rimWeight, { focus: { rim_weight: v } })}
        />
        <NumberField
          label={text.focus.cornerSqueeze}
          unit="percent"
          digits={0}
          step={0.05}
          of={Focus.squeeze}
          value={own.squeeze}
          off={off}
          onCommit={(v) => desk.commit(text.focus.cornerSqueeze, { focus: { squeeze: v } })}
        />
      </Fields>
    </>
  );
}
