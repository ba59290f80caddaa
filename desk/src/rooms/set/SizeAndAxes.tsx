import type { PlacingChange, Project } from "../../api/client";
import { PlacingChange as Placing } from "../../api/limits";
import { Button, Fields, Reading, Row } from "../../kit/controls";
import { Choice } from "../../kit/choice";
import { NumberField } from "../../kit/fields";
import { useLength } from "../../kit/ruler";
import { ink, ochre, quiet } from "../../kit/tokens";
import { many } from "../../kit/words";
import { SizeAgainstFigure } from "./SizeAgainstFigure";

const UNITS = [
  ["m", 1, "metres"],
  ["cm", 0.01, "centimetres"],
  ["mm", 0.001, "millimetres"],
  ["in", 0.0254, "inches"],
  ["ft", 0.3048, "feet"],
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
  const guessed = set.guessed.map((what) => (what === "unit" ? "the unit" : "the up axis")).join(" and ");
  return (
    <>
      <SizeAgainstFigure project={project} width={width} height={150} />
      <p style={{ color: guessed ? ochre : quiet }}>
        {set.said}{" "}
        {guessed && (
          <>
            So {guessed} had to be guessed:{" "}
            {set.ruler.beside === "hand"
              ? "a cup is about half as high as the hand."
              : "a door should reach a little over the figure."}
          </>
        )}
      </p>
      <Fields $columns={2}>
        <Choice
          label="One unit of the file is"
          value={set.unit ?? "own"}
          shown={set.unit ? UNITS.find(([u]) => u === set.unit)?.[2] : `${placing.metres_per_unit} m`}
          options={UNITS.map(([u, , name]) => ({ id: u, name }))}
          onChoose={(u) => place({ metres_per_unit: UNITS.find(([name]) => name === u)![1] })}
        />
        <Choice
          label="Up is"
          value={placing.up}
          options={[
            { id: "z", name: "Z" },
            { id: "y", name: "Y" },
          ]}
          onChoose={(up) => place({ up: up as "y" | "z" })}
        />
        <NumberField
          label="Turned clockwise"
          unit="degree"
          digits={2}
          step={1}
          of={Placing.turn_deg}
          value={placing.turn_deg}
          onCommit={(turn_deg) => place({ turn_deg })}
        />
        <Reading>
          <span>Lowest point</span>
          <b>{length(low[2])}</b>
        </Reading>
      </Fields>
      <Row>
        <Button onPress={() => place({ turn_deg: (placing.turn_deg + 90) % 360 })}>Turn by 90°</Button>
        <Button isDisabled={Math.abs(low[2]) < 1e-6} onPress={() => place({ drop: true })}>
          Drop to ground
        </Button>
        <Button onPress={() => place({ again: true })}>As it came</Button>
      </Row>
      {!brief && <p style={{ color: quiet }}>Shots, levels and rooms go with the set: no framing changes.</p>}
      {!brief && (
        <Fields $columns={2}>
          <Reading style={{ gridColumn: "1 / -1" }}>
            <span>Wide · deep · high</span>
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
            <span>Triangles</span>
            <b>{set.triangles.toLocaleString("en").replaceAll(",", " ")}</b>
          </Reading>
          <Reading>
            <span>File</span>
            <b style={{ fontSize: 13, overflowWrap: "anywhere" }}>{set.file_name}</b>
          </Reading>
          <Reading>
            <span>Materials · textures</span>
            <b>
              {set.materials} · {set.textures}
            </b>
          </Reading>
        </Fields>
      )}
      {set.drawn < set.triangles && (
        <p style={{ color: quiet }}>
          Drawn with {many(set.drawn, "triangle")}, so that looking around stays smooth. Cuts, picks and prints use all
          of them.
        </p>
      )}
      {set.remarks.length > 0 && (
        <div>
          <b>From the file</b>
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
