import { Lens } from "../../api/limits";
import { Fields, Plain, Row } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import type { ShotDesk } from "../../shots/draft";
import type { BodyProps } from "../described";
import { Cutting } from "./Cutting";
import { text } from "../../text";

/** What of the set the shot draws: between its clips, and beyond a plane that opens the set. */
export function OpeningBody(props: BodyProps) {
  return (
    <>
      <Clips desk={props.desk} />
      <Cutting {...props} />
    </>
  );
}

/** Nothing nearer, nothing farther is drawn. */
function Clips({ desk }: { desk: ShotDesk }) {
  const { lens } = desk.shot;
  const off = desk.row.locked;
  return (
    <Fields $columns={2}>
      <NumberField
        label={text.opening.nearClip}
        unit="meter"
        step={0.05}
        of={Lens.near_m}
        value={lens.near_m}
        off={off}
        onCommit={(v) => desk.commit(text.opening.nearClip, { lens: { near_m: v } })}
      />
      {lens.far_m == null ? (
        <Row>
          <Plain
            isDisabled={off}
            onPress={() =>
              desk.commit(text.opening.farClip, (now) => ({
                lens: { far_m: 2 * now.focus.distance_m + now.lens.near_m },
              }))
            }
          >
            {text.opening.addAFarClip}
          </Plain>
        </Row>
      ) : (
        <Row style={{ flexWrap: "nowrap", alignItems: "end" }}>
          <NumberField
            label={text.opening.farClip}
            unit="meter"
            step={0.05}
            of={Lens.far_m}
            value={lens.far_m}
            off={off}
            onCommit={(v) => desk.commit(text.opening.farClip, { lens: { far_m: v } })}
          />
          <Plain
            isDisabled={off}
            aria-label={text.opening.noFarClip}
            onPress={() => desk.commit(text.opening.noFarClip, { lens: { far_m: null } })}
          >
            ×
          </Plain>
        </Row>
      )}
    </Fields>
  );
}
