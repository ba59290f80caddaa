import { useState } from "react";
import { Dialog, Heading } from "react-aria-components";
import styled from "styled-components";
import { http, type ShotGesture, type ShotPatch, type ShotRow, answerOf, useOffer } from "../api/client";
import { Lens, TurnBy } from "../api/limits";
import { Choice } from "../kit/choice";
import { Fields, Plain, Primary, Row } from "../kit/controls";
import { NumberField } from "../kit/fields";
import { newId } from "../kit/ids";
import { Overlay, Sheet } from "../kit/sheet";
import { quiet } from "../kit/tokens";
import { text } from "../text";

const Body = styled.div`
  width: 420px;
  max-width: 80vw;
  display: grid;
  gap: 16px;
  margin-bottom: 18px;
  p {
    color: ${quiet};
  }
`;
type What = "lens" | "turn" | "height" | "ratio" | "stop";
const WHATS: { id: What; name: string }[] = [
  { id: "lens", name: text.everywhere.theLens },
  { id: "turn", name: text.shots.theDirection },
  { id: "height", name: text.shots.theLensHeight },
  { id: "ratio", name: text.shots.thePicturesSize },
  { id: "stop", name: text.shots.theStop },
];

/** A second shot that differs in one thing. */
export function Another({
  row,
  close,
  onMake,
}: {
  row: ShotRow;
  close: () => void;
  onMake: (make: () => Promise<{ id: string }>) => void;
}) {
  const { stops, picture_sizes: sizes } = useOffer();
  const [what, setWhat] = useState<What>("lens");
  const { shot } = row;
  const [focal, setFocal] = useState(shot.lens.focal_length_mm);
  const [turn, setTurn] = useState(90);
  const [height, setHeight] = useState(shot.stand.position[2]);
  const [size, setSize] = useState(shot.back.output_px.join(" × "));
  const [stop, setStop] = useState(stops.find((s) => s.f_number === shot.focus.f_number)?.name ?? "all");
  const changed = (): { patch?: ShotPatch; gesture?: ShotGesture } => {
    if (what === "lens") return { patch: { lens: { focal_length_mm: focal } } };
    if (what === "turn") return { gesture: { kind: "turn_by", pan_deg: turn, tilt_deg: 0, roll_deg: 0 } };
    if (what === "height") return { gesture: { kind: "height_to", z: height, above_floor: null } };
    if (what === "ratio") {
      const [w, h] = size.split(" × ").map(Number);
      return { patch: { back: { output_px: [w!, h!] } } };
    }
    return { gesture: { kind: "stop_to", f_number: stops.find((s) => s.name === stop)?.f_number ?? null } };
  };
  return (
    <Overlay
      isOpen
      onOpenChange={(open) => {
        if (!open) close();
      }}
      isDismissable
    >
      <Sheet>
        <Dialog>
          <Heading slot="title">{text.shots.anotherOf(row.shot.name)}</Heading>
          <Body>
            <p>{text.shots.aSecondShotBehind}</p>
            <Fields $columns={2}>
              <Choice label={text.shots.change} value={what} options={WHATS} onChoose={(id) => setWhat(id as What)} />
              {what === "lens" && (
                <NumberField
                  label={text.everywhere.focalLength}
                  unit="millimeter"
                  step={1}
                  of={Lens.focal_length_mm}
                  value={focal}
                  onCommit={setFocal}
                />
              )}
              {what === "turn" && (
                <NumberField
                  label={text.shots.turnedRightBy}
                  unit="degree"
                  digits={1}
                  step={15}
                  of={TurnBy.pan_deg}
                  value={turn}
                  onCommit={setTurn}
                />
              )}
              {what === "height" && (
                <NumberField
                  label={text.shots.lensAboveZero}
                  unit="meter"
                  step={0.05}
                  value={height}
                  onCommit={setHeight}
                />
              )}
              {what === "ratio" && (
                <Choice
                  label={text.everywhere.pixels}
                  value={size}
                  options={sizes.map(({ name, output_px: [w, h] }) => ({
                    id: `${w} × ${h}`,
                    name: `${name}, ${w} × ${h}`,
                  }))}
                  onChoose={setSize}
                />
              )}
              {what === "stop" && (
                <Choice
                  label={text.everywhere.aperture}
                  value={stop}
                  options={[
                    ...stops.map(({ name }) => ({ id: name, name })),
                    { id: "all", name: text.everywhere.everythingSharp },
                  ]}
                  onChoose={setStop}
                />
              )}
            </Fields>
          </Body>
          <Row>
            <Primary
              onPress={() => {
                const id = newId();
                onMake(() =>
                  answerOf(
                    http.POST("/api/shots/{key}/duplicate", {
                      params: { path: { key: row.id } },
                      body: { id, patch: null, gesture: null, ...changed() },
                    }),
                  ),
                );
                close();
              }}
            >
              {text.shots.makeIt}
            </Primary>
            <Plain onPress={close}>{text.everywhere.cancel}</Plain>
          </Row>
        </Dialog>
      </Sheet>
    </Overlay>
  );
}
