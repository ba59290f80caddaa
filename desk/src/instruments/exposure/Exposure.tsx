import { Dialog, DialogTrigger, Popover } from "react-aria-components";
import styled from "styled-components";
import { Exposure } from "../../api/limits";
import { Button, Fields, FilmButton, MenuPaper } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { ink, quiet } from "../../kit/tokens";
import type { ShotDesk } from "../../shots/draft";
import { text } from "../../text";

const Paper = styled(Popover)`
  ${MenuPaper} padding: 14px;
  width: 280px;
  color: ${ink};
  section {
    display: grid;
    gap: 12px;
    outline: none;
  }
  p {
    color: ${quiet};
  }
`;

/** What the shot is exposed for, on the edge strip: time and ISO by hand, or by the meter. */
export function ExposureReading({ desk }: { desk: ShotDesk }) {
  const { exposure } = desk.shot;
  const off = desk.row.locked;
  const words = text.exposure.value(desk.sheet.exposure.ev100.toFixed(1), desk.sheet.exposure.shutter);
  return (
    <DialogTrigger>
      <FilmButton aria-label={text.exposure.exposure(words)}>{words}</FilmButton>
      <Paper placement="top">
        <Dialog aria-label={text.exposure.exposureChange}>
          <Fields $columns={2}>
            <NumberField
              label={text.everywhere.time}
              unit="second"
              digits={6}
              step={0.005}
              of={Exposure.shutter_s}
              value={exposure.shutter_s}
              off={off}
              onCommit={(v) => desk.commit(text.exposure.shutterTime, { exposure: { shutter_s: v } })}
            />
            <NumberField
              label={text.exposure.iso}
              digits={0}
              step={50}
              of={Exposure.iso}
              value={exposure.iso}
              off={off}
              onCommit={(v) => desk.commit("ISO", { exposure: { iso: v } })}
            />
          </Fields>
          <Button isDisabled={off} onPress={() => desk.commit(text.exposure.meterTheFrame, { kind: "meter" })}>
            {text.exposure.meterTheFrame}
          </Button>
          <p>{text.exposure.theProofIsDeveloped}</p>
        </Dialog>
      </Paper>
    </DialogTrigger>
  );
}
