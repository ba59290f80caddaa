import styled from "styled-components";
import type { Lab } from "../../api/lab";
import { edgePrint, film, filmText } from "../../kit/tokens";
import { text } from "../../text";

const Strip = styled.footer`
  background: ${film};
  color: ${filmText};
  display: flex;
  gap: 22px;
  align-items: baseline;
  padding: 12px 24px;
  min-height: 44px;
  overflow-x: auto;
  white-space: nowrap;
  outline-offset: -3px;
  b {
    color: ${edgePrint};
    font-weight: 650;
  }
  i {
    font-style: normal;
    color: #b9bcba;
  }
  .waits {
    margin-left: auto;
    color: ${edgePrint};
  }
`;

/** The machines of the lab: what each is and does, how fast; those that could not join; and what waits. */
export function Machines({ lab }: { lab: Lab }) {
  return (
    <Strip aria-label={text.lab.machines} tabIndex={0}>
      <b>{text.lab.machines}</b>
      {lab.machines.length === 0 && <span>{text.lab.noneIsTherePrints}</span>}
      {lab.machines.map(({ name, about, doing, rays_per_s }, n) => (
        <span key={n}>
          “{name}” · {text.counts.core(about.cores as number)} · {doing || text.lab.waits}
          {rays_per_s > 0 && ` · ${text.lab.millionRaysASecond((rays_per_s / 1e6).toFixed(rays_per_s < 1e6 ? 2 : 1))}`}
        </span>
      ))}
      {lab.turned_away.map(({ name, why }) => (
        <i key={name}>{text.lab.couldNotJoin(name, why)}</i>
      ))}
      <span className="waits">
        {lab.waiting === 0 ? text.lab.nothingWaits : text.lab.toMake(text.counts.print(lab.waiting))}
      </span>
    </Strip>
  );
}
