import { AngleTo, Lens } from "../../api/limits";
import { Fields } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { Fold } from "../../kit/fold";
import { quiet } from "../../kit/tokens";
import { percent } from "../../kit/words";
import type { BodyProps } from "../described";
import { text } from "../../text";
import { Character, character } from "./Character";
import { Fan, Strip } from "./Fan";
import { Primes } from "./Primes";
import { Drawn, Scale, Views } from "./Projection";

const ANGLES = [
  [text.lens.across, "across", "horizontal"],
  [text.lens.upright, "upright", "vertical"],
  [text.lens.corners, "corner", "diagonal"],
] as const;

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
