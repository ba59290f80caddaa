import styled from "styled-components";
import { useOffer } from "../../api/client";
import { Focus } from "../../api/limits";
import { Fields, Plain, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { Fold } from "../../kit/fold";
import { useRemembered } from "../../kit/remembered";
import { brick, ochre, quiet } from "../../kit/tokens";
import { many } from "../../kit/words";
import { partNames } from "../../shots/partNames";
import { useSoftness } from "../choices";
import type { BodyProps } from "../described";
import { Barrel } from "./Barrel";
import { Discs } from "./Discs";
import { Probes } from "./Probes";
import { Stacks } from "./Stacks";
import { Wanted } from "./Wanted";

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
  { id: "whole", name: "List whole stops" },
  { id: "half", name: "List half stops" },
  { id: "third", name: "List third stops" },
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
        <Fold name="wanted" title="Wanted sharp" first>
          <Wanted {...props} />
        </Fold>
        <Fold
          name="stack"
          title="Pair and stack"
          first={false}
          value={frames > 0 ? many(frames, "picture") : undefined}
        >
          <Stacks {...props} />
        </Fold>
        <Fold name="probes" title="Probes" first value={probes > 0 ? many(probes, "probe") : undefined}>
          <Probes {...props} />
        </Fold>
        <Fold
          name="shape"
          title="Shape of the blur"
          first={false}
          value={shape ? (own.blades >= 3 ? many(own.blades, "blade") : "round") : undefined}
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
          label="Focus distance"
          unit="meter"
          step={0.05}
          of={Focus.distance_m}
          digits={own.distance_m < 1 ? 3 : 2}
          value={own.distance_m}
          off={off}
          onCommit={(v) => desk.commit("Focus", { kind: "focus_to", distance_m: v })}
        />
        <NumberField
          label="Aperture"
          digits={2}
          step={0.5}
          of={Focus.f_number}
          value={own.f_number ?? 8}
          shown={focus.stop ?? "everything sharp"}
          off={off}
          onCommit={(f_number) => desk.commit("Aperture", { kind: "stop_to", f_number })}
          listed={{
            value: stops.find((stop) => stop.name === focus.stop)?.name ?? (own.f_number === null ? ALL : OWN),
            options: [
              ...stops.map(({ name }) => ({ id: name, name })),
              { id: ALL, name: "everything sharp" },
              ...STEPS.filter(({ id }) => id !== steps),
            ],
            onChoose: (id) => {
              if (STEPS.some((one) => one.id === id)) return setSteps(id as Steps);
              desk.commit("Aperture", {
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
  const put = (blur_limit: typeof own) => desk.commit("Circle of confusion", { focus: { blur_limit } });
  const all = {
    label: "Circle of confusion",
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
      shown={`${Number(sheet.blur_limit_px.toFixed(2))} px`}
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
        <Toggle {...pressing("focus")}>Pick in picture</Toggle>
        <Toggle {...pressing("focus_keep")}>Follow a point</Toggle>
        <Toggle {...pressing("focus_nearest")}>Follow a part</Toggle>
      </Row>
      {follows && (
        <Row>
          <span>
            Follow focus on <b>{follows.part ? partNames(project.set.parts, follows.part)[0] : "a point"}</b>:{" "}
            <span style={{ color: follows.status === "sharp" ? undefined : brick }}>
              {follows.status === "sharp" ? "" : "! "}
              {follows.words}
            </span>
          </span>
          {desk.shot.focus.follow?.part && desk.shot.focus.follow.where !== "point" && (
            <Plain
              isDisabled={off}
              onPress={() =>
                desk.commit("Follow focus", {
                  kind: "follow_focus",
                  part: desk.shot.focus.follow!.part!,
                  where: desk.shot.focus.follow!.where === "middle" ? "nearest" : "middle",
                })
              }
            >
              {desk.shot.focus.follow.where === "middle" ? "Its nearest place instead" : "Its middle instead"}
            </Plain>
          )}
          <Plain isDisabled={off} onPress={() => desk.commit("Let the focus go", { kind: "let_focus_go" })}>
            Let go
          </Plain>
        </Row>
      )}
    </>
  );
}

const SEEN = [
  ["none", "Plain"],
  ["drawn", "Blurred"],
  ["hatched", "Hatched"],
  ["lines", "Lines"],
] as const;

/** How the finder tells where the picture is soft. */
function InPicture() {
  const [how, show] = useSoftness();
  return (
    <Row role="group" aria-label="The blur in the finder">
      <span style={{ color: quiet, fontSize: 12 }}>In the finder:</span>
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
          Diffraction {Number(focus.diffraction_px.toFixed(2))} px; over the limit from {focus.diffraction_from} on.
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
          label="Blades"
          digits={0}
          step={1}
          of={Focus.blades}
          value={own.blades}
          off={off}
          onCommit={(v) => desk.commit("Aperture blades", { focus: { blades: Math.round(v) } })}
        />
        <NumberField
          label="Blades turned"
          unit="degree"
          digits={1}
          step={5}
          of={Focus.blade_rotation_deg}
          value={own.blade_rotation_deg}
          off={off || own.blades < 3}
          onCommit={(v) => desk.commit("Blades turned", { focus: { blade_rotation_deg: v } })}
        />
        <NumberField
          label="Rim weight"
          digits={2}
          step={0.1}
          of={Focus.rim_weight}
          value={own.rim_weight}
          off={off}
          onCommit={(v) => desk.commit("Rim weight", { focus: { rim_weight: v } })}
        />
        <NumberField
          label="Corner squeeze"
          unit="percent"
          digits={0}
          step={0.05}
          of={Focus.squeeze}
          value={own.squeeze}
          off={off}
          onCommit={(v) => desk.commit("Corner squeeze", { focus: { squeeze: v } })}
        />
      </Fields>
    </>
  );
}
