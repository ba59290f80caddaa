import { BendTo, Falloff } from "../../api/limits";
import { Fields, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { degrees, percent } from "../../kit/words";
import type { ShotDesk } from "../../shots/draft";
import { text } from "../../text";

/** What of the lens is not ideal, in a few words. */
export function character({ shot: { lens }, sheet }: ShotDesk): string {
  const { bent } = sheet.lens;
  const found = [
    bent && text.lens.distortion(percent(bent)),
    lens.falloff.mechanical > 0 && text.lens.vignetting,
    lens.falloff.natural && text.lens.falloff,
    lens.focus_breathing && text.lens.breathes,
  ].filter(Boolean);
  return found.length > 0 ? found.join(", ") : text.lens.ideal;
}

/** What a lens does that a plain one does not: bent lines, darker corners. */
export function Character({ desk }: { desk: ShotDesk }) {
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
