import { memo } from "react";
import styled from "styled-components";
import {
  http,
  type Project,
  proofOf,
  type PutHabits,
  type PutKept,
  shotIn,
  answerOf,
  useOffer,
  usePrints,
  type Write,
} from "../../api/client";
import { PANELS } from "../../instruments";
import { Instrument } from "../../instruments/Instrument";
import type { BodyProps, DeskInstrument } from "../../instruments/described";
import { Plain, Primary } from "../../kit/controls";
import { line, quiet } from "../../kit/tokens";
import { headed } from "../../kit/words";
import { useCalmDesk } from "../../shots/calmly";
import type { ShotDesk, ShotDraft } from "../../shots/draft";
import { text } from "../../text";

const Acts = styled.div`
  padding: 12px 14px;
  display: flex;
  gap: 8px;
  flex-wrap: wrap;
  border-bottom: 1px solid ${line};
`;

interface Props {
  project: Project;
  desk: ShotDesk;
  open: string;
  setOpen: (name: string) => void;
  picking: string | null;
  pick: (what: string | null) => void;
  putHabits: PutHabits;
  putKept: PutKept;
  alone: string | null;
  lookAlone: (crop: string | null) => void;
  keep: () => void;
  toLab: () => void;
  write: Write;
}

/** The same, following a hand in a drawing a few times a second. */
export function CalmSide({ draft, atOnce, ...side }: Omit<Props, "desk"> & { draft: ShotDraft; atOnce: boolean }) {
  const desk = useCalmDesk(draft, atOnce);
  return desk && <FrameSide desk={desk} {...side} />;
}

/** What is done with a shot, and its instruments. */
const FrameSide = memo(function FrameSide({
  project,
  desk,
  open,
  setOpen,
  picking,
  pick,
  putHabits,
  putKept,
  alone,
  lookAlone,
  keep,
  toLab,
  write,
}: Props) {
  const { instruments } = useOffer();
  const { row } = desk;
  return (
    <>
      <Acts>
        <Primary onPress={() => write(proofOf(row.id))}>{text.frame.makeAProof}</Primary>
        {row.kept ? (
          <span style={{ color: quiet, padding: "4px 6px" }}>{text.frame.keptAsTake(row.take?.number ?? 1)}</span>
        ) : (
          <Plain onPress={keep}>{text.frame.keep}</Plain>
        )}
        {!row.kept && row.take && !row.locked && (
          <Plain
            onPress={() =>
              write((now) =>
                answerOf(
                  http.POST("/api/shots/{key}/back-to-kept", {
                    params: { path: { key: row.id } },
                    body: { version: shotIn(now, row.id).version },
                  }),
                ),
              )
            }
          >
            {text.everywhere.backToTake(row.take.number)}
          </Plain>
        )}
        <Latest project={project} shot={row.id} toLab={toLab} />
      </Acts>
      {instruments.map(({ key, name }) => {
        const panel = PANELS.find((p) => p.key === key);
        return (
          panel && (
            <Panel
              key={key}
              panel={panel}
              name={name}
              open={open === key}
              onOpen={(is) => setOpen(is ? key : "")}
              project={project}
              desk={desk}
              picking={picking}
              pick={pick}
              putHabits={putHabits}
              putKept={putKept}
              alone={alone}
              lookAlone={lookAlone}
              write={write}
            />
          )
        );
      })}
    </>
  );
});

interface PanelProps extends BodyProps {
  panel: DeskInstrument;
  name: string;
  open: boolean;
  onOpen: (open: boolean) => void;
}

function Panel({ panel: { useLine, Body }, name, open, onOpen, ...body }: PanelProps) {
  return (
    <Instrument name={name} value={useLine(body.desk)} open={open} onOpen={onOpen}>
      <Body {...body} />
    </Instrument>
  );
}

function Latest({ project, shot, toLab }: { project: Project; shot: string; toLab: () => void }) {
  const last = usePrints(project.id)?.find((p) => p.shot_id === shot);
  if (!last) return null;
  const words = {
    waiting: text.frame.waiting,
    developing: `${Math.round(last.progress * 100)} %`,
    paused: text.frame.paused,
    done: last.stale ? text.frame.olderThanTheShot : text.frame.done,
    failed: text.frame.failed,
    cancelled: text.frame.cancelled,
  }[last.state];
  return (
    <Plain onPress={toLab}>
      {headed(text.names.prints[last.kind])}: {words}
    </Plain>
  );
}
