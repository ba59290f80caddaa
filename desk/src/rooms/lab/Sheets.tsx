import styled from "styled-components";
import type { PrintRow, Project } from "../../api/client";
import { card } from "../../kit/tokens";
import { PrintCard } from "./PrintCard";

const Part = styled.section`
  margin-bottom: 22px;
  > h2 {
    background: ${card};
    border-radius: 3px;
    padding: 8px 16px;
    font-weight: 650;
    font-size: 15px;
  }
`;
/* Prints hang from a cord, each by a peg. */
const Lines = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 0 18px;
  grid-template-columns: repeat(auto-fill, minmax(262px, 1fr));
  align-items: start;
  overflow: hidden;
  > li {
    position: relative;
    margin: 16px 0 6px;
    &::before {
      content: "";
      position: absolute;
      top: -6px;
      left: -20px;
      right: -20px;
      height: 1px;
      background: #3d3f3e;
    }
    &::after {
      content: "";
      position: absolute;
      top: -11px;
      left: calc(50% - 4px);
      width: 8px;
      height: 16px;
      border-radius: 2px;
      background: ${card};
      border: 1px solid #3d3f3e;
    }
  }
`;

/** What hanging prints can do. */
export interface Hanging {
  write: (action: (now: Project) => Promise<unknown>) => void;
  open: (id: string) => void;
  toShot: (id: string) => void;
}

/** Prints hung up to dry. */
export function Sheets({
  label,
  titled = false,
  prints,
  write,
  open,
  toShot,
}: Hanging & { label: string; titled?: boolean; prints: PrintRow[] }) {
  return (
    <Part>
      {titled && <h2>{label}</h2>}
      <Lines aria-label={label}>
        {prints.map((print) => (
          <PrintCard
            key={print.id}
            print={print}
            listed={!titled}
            open={() => open(print.id)}
            toShot={toShot}
            write={write}
          />
        ))}
      </Lines>
    </Part>
  );
}
