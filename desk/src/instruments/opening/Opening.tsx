import { Lens } from "../../api/limits";
import { Fields, Plain, Row } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import type { ShotDesk } from "../../shots/draft";
import type { BodyProps } from "../described";
import { Cutting } from "./Cutting";

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
        label="Near clip"
        unit="meter"
        step={0.05}
        of={Lens.near_m}
        value={lens.near_m}
        off={off}
        onCommit={(v) => desk.commit("Near clip", { lens: { near_m: v } })}
      />
      {lens.far_m == null ? (
        <Row>
          <Plain
            isDisabled={off}
            onPress={() =>
              desk.commit("Far clip", (now) => ({ lens: { far_m: 2 * now.focus.distance_m + now.lens.near_m } }))
            }
          >
            Add a far clip
          </Plain>
        </Row>
      ) : (
        <Row style={{ flexWrap: "nowrap", alignItems: "end" }}>
          <NumberField
            label="Far clip"
            unit="meter"
            step={0.05}
            of={Lens.far_m}
            value={lens.far_m}
            off={off}
            onCommit={(v) => desk.commit("Far clip", { lens: { far_m: v } })}
          />
          <Plain
            isDisabled={off}
            aria-label="No far clip"
            onPress={() => desk.commit("No far clip", { lens: { far_m: null } })}
          >
            ×
          </Plain>
        </Row>
      )}
    </Fields>
  );
}
