import { useState } from "react";
import styled from "styled-components";
import { http, type PrintRow, type Project, told } from "../../api/client";
import type { Lab, Machine, OrderRow } from "../../api/lab";
import { Plain, Primary } from "../../kit/controls";
import { card, line, quiet, spruce } from "../../kit/tokens";
import { many } from "../../kit/words";

const Bar = styled.section`background: ${card}; border-radius: 3px; padding: 12px 16px; margin-bottom: 20px; display: grid; gap: 8px;
  > div { display: flex; gap: 14px; align-items: baseline; flex-wrap: wrap; } h2 { font-weight: 650; font-size: 15px; } span { color: ${quiet}; } ul { list-style: none; margin: 0; padding: 0; display: grid; gap: 2px; }
  li { display: grid; grid-template-columns: 84px minmax(160px, 1fr) minmax(100px, 200px) 360px; gap: 14px; align-items: center; border-top: 1px solid ${line}; padding-top: 4px; }
  progress { width: 100%; height: 6px; accent-color: ${spruce}; } .acts { display: flex; gap: 2px; justify-content: flex-end; align-items: baseline; } a { color: ${spruce}; font-weight: 600; padding: 0 8px; }`;

const LONG_AGO = 4;

interface Props {
  project: Project;
  lab: Lab;
  write: (action: () => Promise<unknown>) => void;
  exchange: (way: "out" | "in") => void;
  documents: () => void;
  begin: (again: OrderRow["order"] | null) => void;
}

/** What was ordered and how far it is, and the machines that make it. */
export function Orders({ project, lab, write, exchange, documents, begin }: Props) {
  const [all, showAll] = useState(false);
  const before = lab.orders.length - LONG_AGO;
  return (
    <Bar aria-label="Orders">
      <div>
        <h2>Finals</h2>
        <span>{machineWords(lab.machines)}</span>
        <Plain style={{ marginLeft: "auto" }} isDisabled={project.shots.length === 0} onPress={() => exchange("out")}>Cameras to another program…</Plain>
        <Plain onPress={() => exchange("in")}>Cameras from a file…</Plain>
        <Plain isDisabled={project.shots.length === 0} onPress={documents}>Documents…</Plain>
        <Primary isDisabled={project.shots.length === 0} onPress={() => begin(null)}>Order finals…</Primary>
      </div>
      {lab.orders.length > 0 && (
        <ul>{lab.orders.slice(0, all ? undefined : LONG_AGO).map((order) => <One key={order.id} order={order} prints={project.prints} write={write} begin={begin} />)}</ul>
      )}
      {before > 0 && <div><Plain onPress={() => showAll(!all)}>{all ? "The newest only" : `And ${many(before, "order")} before`}</Plain></div>}
    </Bar>
  );
}

function One({ order, prints, write, begin }: { order: OrderRow; prints: PrintRow[] } & Pick<Props, "write" | "begin">) {
  const own = prints.filter(({ id }) => order.prints.includes(id));
  const count = (...states: PrintRow["state"][]) => own.filter(({ state }) => states.includes(state)).length;
  const [done, going, paused, stopped] = [count("done"), count("waiting", "developing"), count("paused"), count("failed", "cancelled")];
  const words = [done && `${done} done`, going && `${going} to come`, paused && `${paused} paused`, stopped && `${stopped} stopped`].filter(Boolean).join(", ") || "its pictures were thrown away";
  const path = { params: { path: { key: order.id } } };
  return (
    <li data-order={order.number}>
      <b>Order {order.number}</b>
      <span>{[many(order.order.pictures.length, "picture"), sizeWords(order.order.size), order.order.quality].filter(Boolean).join(", ")}: {words}</span>
      <progress aria-label={`How far order ${order.number} is`} max={Math.max(1, own.length)} value={own.reduce((sum, one) => sum + one.progress, 0)} />
      <span className="acts">
        {order.folder && <a href={order.folder} download>{done === own.length ? "All in a folder, ZIP" : "What is done, ZIP"}</a>}
        {going > 0 && <Plain onPress={() => write(() => told(http.POST("/api/orders/{key}/pause", path)))}>Pause</Plain>}
        {paused + stopped > 0 && <Plain onPress={() => write(() => told(http.POST("/api/orders/{key}/retry", path)))}>Go on</Plain>}
        {going + paused > 0 && <Plain onPress={() => write(() => told(http.POST("/api/orders/{key}/cancel", path)))}>Cancel</Plain>}
        <Plain onPress={() => begin(order.order)}>Order again…</Plain>
        {going + paused === 0 && <Plain onPress={() => write(() => told(http.DELETE("/api/orders/{key}", path)))}>Off the list</Plain>}
      </span>
    </li>
  );
}

function sizeWords(size: OrderRow["order"]["size"]): string {
  switch (size?.kind) {
    case "longest": return `longest side ${size.px} px`;
    case "inside": return `inside ${size.output_px[0]} × ${size.output_px[1]} px`;
    case "scaled": return `${size.times} times their size`;
    default: return "";
  }
}

function machineWords(machines: Machine[]): string {
  if (machines.length === 0) return "No machine is there: prints wait until one is.";
  const speed = machines.reduce((sum, one) => sum + one.rays_per_s, 0);
  const told = machines.map(({ name, doing, about }) => `${name} (${about.cores as number} cores)${doing ? `, ${doing}` : " waits"}`).join("; ");
  return `${many(machines.length, "machine")}${speed > 0 ? `, ${(speed / 1e6).toFixed(1)} million rays a second` : ""}: ${told}`;
}
