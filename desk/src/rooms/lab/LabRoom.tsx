import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Dialog, Heading, Modal } from "react-aria-components";
import styled from "styled-components";
import { type PrintRow, printsKey, type Project, proofOf, usePrints, useWrite } from "../../api/client";
import { type DocumentsRow, type Lab, labKey, type Order, type OrderRow, useLab } from "../../api/lab";
import { Button, Empty, Primary } from "../../kit/controls";
import { useSay } from "../../kit/notice";
import { fromHere } from "../../kit/place";
import { Overlay } from "../../kit/sheet";
import { card, ink, mid, quiet, spruce } from "../../kit/tokens";
import { AskDocuments } from "./AskDocuments";
import { CamerasIn, CamerasOut } from "./Cameras";
import { Documents } from "./Documents";
import { Machines } from "./Machines";
import { begun, type Draft, draftOf, keepDraft } from "./order/draft";
import { Ordering } from "./order/Ordering";
import { Orders } from "./Orders";
import { called, download, framing } from "./PrintCard";
import { type Hanging, Sheets } from "./Sheets";
import { text } from "../../text";

const Room = styled.div`
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-height: 0;
  height: 100%;
`;
const Wall = styled.div`
  background: ${mid};
  overflow: auto;
  padding: 22px 26px 50px;
  min-height: 0;
`;
const Blank = styled.div`
  background: ${card};
  border-radius: 3px;
  padding: 60px 20px;
  display: grid;
`;
const Large = styled(Modal)`
  background: ${mid};
  width: 100vw;
  height: 100vh;
  outline: none;
  section {
    height: 100%;
    display: grid;
    grid-template-rows: auto minmax(0, 1fr);
    outline: none;
  }
  header {
    background: ${card};
    color: ${ink};
    display: flex;
    gap: 14px;
    align-items: center;
    padding: 8px 16px;
    h2 {
      font-weight: 650;
      font-size: 15px;
    }
    span {
      color: ${quiet};
    }
    .end {
      margin-left: auto;
      display: flex;
      gap: 8px;
      align-items: center;
    }
    a {
      color: ${spruce};
      font-weight: 600;
    }
  }
  div.picture {
    display: grid;
    grid-template: minmax(0, 1fr) / minmax(0, 1fr);
    place-items: center;
    overflow: auto;
    padding: 14px;
    min-height: 0;
    cursor: zoom-in;
  }
  div.picture.whole {
    cursor: zoom-out;
    grid-template: auto / auto;
    place-items: start;
  }
  img {
    max-width: 100%;
    max-height: 100%;
  }
  .whole img {
    max-width: none;
    max-height: none;
  }
`;

/** What stands in the address instead of a print while an order is put together. */
const ORDER = "order";

interface Props {
  project: Project;
  chosen: string | null;
  choose: (id: string | null) => void;
  toShot: (id: string) => void;
}

/** The lab: finals ordered from a list; prints developing, waiting, done and failed, each with what it is of. */
export function LabRoom({ project, chosen, choose, toShot }: Props) {
  const cache = useQueryClient();
  const { mutate } = useWrite(project.id, useSay());
  const write = (action: (now: Project) => Promise<unknown>) =>
    mutate(action, {
      onSettled: () =>
        [labKey, printsKey].forEach((key) => void cache.invalidateQueries({ queryKey: key(project.id) })),
    });
  const [lab, prints] = [useLab(project), usePrints(project.id)];
  const [asking, ask] = useState<{ first: DocumentsRow["documents"] | null } | null>(null);
  const [exchanging, exchange] = useState<"out" | "in" | null>(null);
  const [draft, setDraft] = useState(() => draftOf(project.id));
  const draw = (next: Draft | null) => {
    keepDraft(project.id, next);
    setDraft(next);
  };
  const begin = (again: Order | null) => {
    if (lab && prints && (again || !draft)) draw(begun(project, prints, lab, again));
    choose(ORDER);
  };
  const large = prints?.find((p) => p.id === chosen && p.picture) ?? null;
  const hanging = { write, open: choose, toShot };
  if (chosen === ORDER && lab && prints)
    return (
      <Room>
        <NewOrder
          project={project}
          prints={prints}
          lab={lab}
          draft={{ ...begun(project, prints, lab, null), ...draft }}
          draw={draw}
          mutate={mutate}
          write={write}
          leave={() => choose(null)}
        />
        <Machines lab={lab} />
      </Room>
    );
  return (
    <Room>
      <Wall>
        {lab && prints && (
          <Orders
            project={project}
            prints={prints}
            lab={lab}
            hanging={hanging}
            exchange={exchange}
            documents={() => ask({ first: null })}
            begin={begin}
            goingOn={draft !== null}
          />
        )}
        {lab && (
          <Documents
            documents={lab.documents}
            kinds={lab.document_kinds}
            write={write}
            again={(first) => ask({ first })}
          />
        )}
        {prints?.length === 0 && (
          <Blank>
            <Empty>
              <b>{text.lab.noProofsYet}</b>
              {text.lab.aProofIsASmall}
              {project.shots[0] && (
                <>
                  <br />
                  <br />
                  <Primary onPress={() => write(proofOf(project.shots[0]!.id))}>
                    {text.lab.proof(project.shots[0].shot.name)}
                  </Primary>
                </>
              )}
            </Empty>
          </Blank>
        )}
        {lab && prints && <Proofs prints={prints} orders={lab.orders} hanging={hanging} />}
      </Wall>
      {lab && <Machines lab={lab} />}
      <Overlay
        isOpen={large !== null}
        onOpenChange={(open) => {
          if (!open) choose(null);
        }}
        isDismissable
      >
        {large && <LargePrint print={large} close={() => choose(null)} />}
      </Overlay>
      {exchanging === "out" && <CamerasOut project={project} close={() => exchange(null)} />}
      {exchanging === "in" && <CamerasIn project={project} close={() => exchange(null)} take={write} />}
      {asking && lab && (
        <AskDocuments project={project} lab={lab} first={asking.first} close={() => ask(null)} ask={write} />
      )}
    </Room>
  );
}

interface NewOrderProps {
  project: Project;
  prints: PrintRow[];
  lab: Lab;
  draft: Draft;
  draw: (draft: Draft | null) => void;
  mutate: ReturnType<typeof useWrite>["mutate"];
  write: Hanging["write"];
  leave: () => void;
}

/**
 * An order that is put together. Once it is placed its page is left, but for one that only tries; one that is refused
 * stays as it is.
 */
function NewOrder({ project, prints, lab, draft, draw, mutate, write, leave }: NewOrderProps) {
  const cache = useQueryClient();
  const say = useSay();
  const [placing, setPlacing] = useState(false);
  const place = (order: () => Promise<OrderRow>, tried: boolean) => {
    const here = fromHere();
    setPlacing(true);
    const placed = async () => {
      const { number } = await order();
      if (tried) say(text.lab.orderTriesOnePicture(number), "done");
      else keepDraft(project.id, null);
    };
    const after = async (done: boolean) => {
      // The Lab is gone to when it knows of the order: its prints hang under it at once.
      await Promise.all([labKey, printsKey].map((key) => cache.invalidateQueries({ queryKey: key(project.id) })));
      setPlacing(false);
      if (!done || tried) return;
      draw(null);
      here(leave);
    };
    mutate(placed, { onSettled: (_, refused) => void after(!refused) });
  };
  return (
    <Ordering
      project={project}
      prints={prints}
      lab={lab}
      draft={draft}
      draw={(change) => draw({ ...draft, ...change })}
      write={write}
      placing={placing}
      place={place}
      leave={() => {
        draw(null);
        leave();
      }}
    />
  );
}

/** The prints that belong to no order on the list. */
function Proofs({ prints, orders, hanging }: { prints: PrintRow[]; orders: OrderRow[]; hanging: Hanging }) {
  const ordered = new Set(orders.flatMap((order) => order.prints));
  const others = prints.filter(({ id }) => !ordered.has(id));
  return (
    others.length > 0 && (
      <Sheets
        label={others.every(({ kind }) => kind !== "final") ? text.lab.proofs : text.lab.proofsAndOtherPrints}
        titled
        prints={others}
        {...hanging}
      />
    )
  );
}

function LargePrint({ print, close }: { print: PrintRow; close: () => void }) {
  const [whole, setWhole] = useState(false);
  return (
    <Large>
      <Dialog>
        <header>
          <Heading slot="title">{called(print)}</Heading>
          <span>
            {framing(print)}
            {print.stale ? ` · ${print.stale}` : ""}
            {print.state === "developing" ? ` · ${text.lab.developingTo(Math.round(print.progress * 100))}` : ""}
          </span>
          <span className="end">
            {print.files.map(({ name, address }) => (
              <a key={name} href={download(address)} download>
                {name}
              </a>
            ))}
            {print.kind !== "final" && print.picture && (
              <a href={download(print.picture)} download>
                {text.everywhere.png}
              </a>
            )}
            {print.film && (
              <a href={download(print.film)} download>
                {text.everywhere.openEXR}
              </a>
            )}
            <Button onPress={close}>{text.everywhere.close}</Button>
          </span>
        </header>
        <div className={whole ? "picture whole" : "picture"} onClick={() => setWhole(!whole)}>
          <img src={print.picture ?? ""} alt={text.lab.theOfLarge(text.names.prints[print.kind], print.name)} />
        </div>
      </Dialog>
    </Large>
  );
}
