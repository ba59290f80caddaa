import type { PlacingChange, Project } from "../../api/client";
import { PlacingChange as Placing } from "../../api/limits";
import { Button, Fields, Reading, Row } from "../../kit/controls";
import { Choice } from "../../kit/choice";
import { NumberField } from "../../kit/fields";
import { useLength } from "../../kit/ruler";
import { ink, ochre, quiet } from "../../kit/tokens";
import { SizeAgainstFigure } from "./SizeAgainstFigure";
import { text } from "../../text";

const UNITS = [
  ["m", 1, text.everywhere.metres],
  ["cm", 0.01, text.everywhere.centimetres],
  ["mm", 0.001, text.everywhere.millimetres],
  ["in", 0.0254, text.everywhere.inches],
  ["ft", 0.3048, text.everywhere.feet],
] as const;

/** Units, up axis and turn of the set, beside a standing figure: one step to correct each. */
export function SizeAndAxes({
  project,
  width,
  place,
  brief = false,
}: {
  project: Project;
  width: number;
  place: (change: PlacingChange) => void;
  brief?: boolean;
}) {
  const length = useLength();
  const { set } = project;
  const { placing } = set;
  const [low, high] = set.bounds;
  const guessed = set.guessed.map((what) => (what === "unit" ? text.set.theUnit : text.set.theUpAxis)).join(" and ");
  return (
    <>
      <SizeAgainstFigure project={project} width={width} height={150} />
      <p style={{ color: guessed ? ochre : quiet }}>
        {set.said}{" "}
        {guessed && (
          <>
            {text.set.soHadToBeGuessed(
              guessed,
              set.ruler.beside === "hand" ? text.set.aCupIsAbout : text.set.aDoorShouldReach,
            )}
          </>
        )}
      </p>
      <Fields $columns={2}>
        <Choice
          label={text.set.oneUnitOfTheFile}
          value={set.unit ?? "own"}
          shown={set.unit ? UNITS.find(([u]) => u === set.unit)?.[2] : `${placing.metres_per_unit} m`}
          options={UNITS.map(([u, , name]) => ({ id: u, name }))}
          onChoose={(u) => place({ metres_per_unit: UNITS.find(([name]) => name === u)![1] })}
        />
        <Choice
          label={text.set.upIs}
          value={placing.up}
          options={[
            { id: "z", name: "Z" },
            { id: "y", name: "Y" },
          ]}
          onChoose={(up) => place({ up: up as "y" | "z" })}
        />
        <NumberField
          label={text.set.turnedClockwise}
          unit="degree"
          digits={2}
          step={1}
          of={Placing.turn_deg}
          value={placing.turn_deg}
          onCommit={(turn_deg) => place({ turn_deg })}
        />
        <Reading>
          <span>{text.set.lowestPoint}</span>
          <b>{length(low[2])}</b>
        </Reading>
      </Fields>
      <Row>
        <Button onPress={() => place({ turn_deg: (placing.turn_deg + 90) % 360 })}>{text.everywhere.turnBy90}</Button>
        <Button isDisabled={Math.abs(low[2]) < 1e-6} onPress={() => place({ drop: true })}>
          {text.set.dropToGround}
        </Button>
        <Button onPress={() => place({ again: true })}>{text.set.asItCame}</Button>
      </Row>
      {!brief && <p style={{ color: quiet }}>{text.set.shotsLevelsAndRooms}</p>}
      {!brief && (
        <Fields $columns={2}>
          <Reading style={{ gridColumn: "1 / -1" }}>
            <span>{text.set.wideDeepHigh}</span>
            <b>
              {[0, 1, 2].map((axis) => (
                <span key={axis} style={{ display: "inline", color: ink, fontSize: 16, whiteSpace: "nowrap" }}>
                  {axis > 0 && " · "}
                  {length(high[axis]! - low[axis]!)}
                </span>
              ))}
            </b>
          </Reading>
          <Reading>
            <span>{text.set.triangles}</span>
            <b>{set.triangles.toLocaleString("en").replaceAll(",", " ")}</b>
          </Reading>
          <Reading>
            <span>{text.everywhere.file}</span>
            <b style={{ fontSize: 13, overflowWrap: "anywhere" }}>{set.file_name}</b>
          </Reading>
          <Reading>
            <span>{text.set.materialsTextures}</span>
            <b>
              {set.materials} · {set.textures}
            </b>
          </Reading>
        </Fields>
      )}
      {set.drawn < set.triangles && (
        <p style={{ color: quiet }}>{text.set.drawnWithSoThatLooking(text.counts.triangle(set.drawn))}</p>
      )}
      {set.remarks.length > 0 && (
        <div>
          <b>{text.set.fromTheFile}</b>
          {set.remarks.map((remark) => (
            <p key={remark} style={{ color: quiet }}>
              {remark}
            </p>
          ))}
        </div>
      )}
    </>
  );
}
