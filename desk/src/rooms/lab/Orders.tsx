import { useState } from "react";
import styled from "styled-components";
import { http, type PrintRow, type Project, answerOf } from "../../api/client";
import type { Lab, Order, OrderRow } from "../../api/lab";
import { Plain, Primary } from "../../kit/controls";
import { card, quiet, spruce } from "../../kit/tokens";
import { type Hanging, Sheets } from "./Sheets";
import { text } from "../../text";

const Bar = styled.section`
  background: ${card};
  border-radius: 3px;
  padding: 10px 16px;
  margin-bottom: 14px;
  display: flex;
  gap: 14px;
  align-items: baseline;
  flex-wrap: wrap;
  h2 {
    font-weight: 650;
    font-size: 15px;
  }
  span {
    color: ${quiet};
  }
`;
const Placed = styled.section`
  margin-bottom: 14px;
  > header {
    background: ${card};
    border-radius: 3px;
    padding: 6px 16px 6px 10px;
    display: grid;
    grid-template-columns: 98px minmax(160px, 1fr) minmax(100px, 200px) auto;
    gap: 14px;
    align-items: center;
  }
  header > span {
    color: ${quiet};
  }
  progress {
    width: 100%;
    height: 6px;
    accent-color: ${spruce};
  }
  .acts {
    display: flex;
    gap: 2px;
    justify-content: flex-end;
    align-items: baseline;
  }
  a {
    color: ${spruce};
    font-weight: 600;
    padding: 0 8px;
  }
  .open {
    font-weight: 650;
    text-align: left;
    i {
      font-style: normal;
      color: ${quiet};
      margin-right: 5px;
    }
  }
`;
const Before = styled.div`
  margin: 0 0 14px;
  background: ${card};
  border-radius: 3px;
  padding: 3px 10px;
`;

const LONG_AGO = 4;

interface Props {
  project: Project;
  prints: PrintRow[];
  lab: Lab;
  hanging: Hanging;
  exchange: (direction: "out" | "in") => void;
  documents: () => void;
  begin: (again: Order | null) => void;
  /** Whether an order is being put together. */
  goingOn: boolean;
}

/** What was ordered and how far it is, each order with its prints. */
export function Orders({ project, prints, lab, hanging, exchange, documents, begin, goingOn }: Props) {
  const [all, showAll] = useState(false);
  const before = lab.orders.length - LONG_AGO;
  return (
    <>
      <Bar aria-label={text.lab.finals}>
        <h2>{text.lab.finals}</h2>
        {lab.orders.length === 0 && <span>{text.lab.nothingWasOrderedYet}</span>}
        <Plain style={{ marginLeft: "auto" }} isDisabled={project.shots.length === 0} onPress={() => exchange("out")}>
          {text.lab.camerasToAnotherProgramAsk}
        </Plain>
        <Plain onPress={() => exchange("in")}>{text.lab.camerasFromAFileAsk}</Plain>
        <Plain isDisabled={project.shots.length === 0} onPress={documents}>
          {text.lab.documentsAsk}
        </Plain>
        <Primary isDisabled={project.shots.length === 0} onPress={() => begin(null)}>
          {goingOn ? text.lab.goOnWithTheOrder : text.lab.orderFinals}
        </Primary>
      </Bar>
      {lab.orders.slice(0, all ? undefined : LONG_AGO).map((order, n) => (
        <One key={order.id} order={order} newest={n === 0} prints={prints} hanging={hanging} begin={begin} />
      ))}
      {before > 0 && (
        <Before>
          <Plain onPress={() => showAll(!all)}>
            {all ? text.lab.theNewestOnly : text.lab.andBefore(text.counts.order(before))}
          </Plain>
        </Before>
      )}
    </>
  );
}

interface OneProps {
  order: OrderRow;
  newest: boolean;
  prints: PrintRow[];
  hanging: Hanging;
  begin: Props["begin"];
}

function One({ order, newest, prints, hanging, begin }: OneProps) {
  const rank = new Map(order.prints.map((id, n) => [id, n]));
  const own = prints.filter(({ id }) => rank.has(id)).sort((a, b) => rank.get(a.id)! - rank.get(b.id)!);
  const count = (...states: PrintRow["state"][]) => own.filter(({ state }) => states.includes(state)).length;
  const [done, going, paused, stopped] = [
    count("done"),
    count("waiting", "developing"),
    count("paused"),
    count("failed", "cancelled"),
  ];
  // As it is when one comes: nothing folds away while it is looked at.
  const [open, setOpen] = useState(newest || going + paused > 0);
  const words =
    [
      done && text.lab.doneCount(done),
      going && text.lab.toComeCount(going),
      paused && text.lab.pausedCount(paused),
      stopped && text.lab.stoppedCount(stopped),
    ]
      .filter(Boolean)
      .join(", ") || text.lab.itsPicturesWereThrown;
  const path = { params: { path: { key: order.id } } };
  const { write } = hanging;
  return (
    <Placed data-order={order.number} aria-label={text.everywhere.order(order.number)}>
      <header>
        <Plain className="open" aria-expanded={open} onPress={() => setOpen(!open)}>
          <i aria-hidden>{open ? "▾" : "▸"}</i>
          {text.everywhere.orderButton} {order.number}
        </Plain>
        <span>
          {[
            text.counts.picture(order.order.pictures.length),
            sizeWords(order.order),
            text.names.qualities[order.order.quality],
          ]
            .filter(Boolean)
            .join(", ")}
          : {words}
        </span>
        <progress
          aria-label={text.lab.howFarOrderIs(order.number)}
          max={Math.max(1, own.length)}
          value={own.reduce((sum, one) => sum + one.progress, 0)}
        />
        <span className="acts">
          {order.folder && (
            <a href={order.folder} download>
              {done === own.length ? text.lab.allInAFolder : text.lab.whatIsDoneZip}
            </a>
          )}
          {going > 0 && (
            <Plain onPress={() => write(() => answerOf(http.POST("/api/orders/{key}/pause", path)))}>
              {text.lab.pause}
            </Plain>
          )}
          {paused + stopped > 0 && (
            <Plain onPress={() => write(() => answerOf(http.POST("/api/orders/{key}/retry", path)))}>
              {text.lab.goOn}
            </Plain>
          )}
          {going + paused > 0 && (
            <Plain onPress={() => write(() => answerOf(http.POST("/api/orders/{key}/cancel", path)))}>
              {text.everywhere.cancel}
            </Plain>
          )}
          <Plain onPress={() => begin(order.order)}>{text.lab.orderAgain}</Plain>
          {going + paused === 0 && (
            <Plain onPress={() => write(() => answerOf(http.DELETE("/api/orders/{key}", path)))}>
              {text.lab.offTheList}
            </Plain>
          )}
        </span>
      </header>
      {open && own.length > 0 && <Sheets label={text.lab.printsOfOrder(order.number)} prints={own} {...hanging} />}
    </Placed>
  );
}

function sizeWords({ pictures, size }: Order): string {
  const sizes = new Set(pictures.map((one) => JSON.stringify(one.size ?? size)));
  if (sizes.size > 1) return text.lab.inSizes(text.counts.size(sizes.size));
  const all = pictures[0]?.size ?? size;
  switch (all?.kind) {
    case "longest":
      return text.lab.longestSidePx(all.px);
    case "inside":
      return text.lab.insidePx(all.output_px[0], all.output_px[1]);
    case "scaled":
      return text.lab.timesTheirSize(all.times);
    default:
      return "";
  }
}
