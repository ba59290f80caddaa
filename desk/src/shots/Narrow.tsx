import { Dialog, DialogTrigger, Popover } from "react-aria-components";
import { Button as AriaButton, ToggleButton } from "../kit/pressed";
import styled from "styled-components";
import type { ShotRow } from "../api/client";
import { Plain } from "../kit/controls";
import { card, edgePrint, film, filmText, ink, line, quiet, spruce } from "../kit/tokens";
import { choices, everything, isNarrowed, type Wanted } from "./find";
import { text } from "../text";

const Bar = styled.div`
  display: flex;
  gap: 4px;
  padding: 0 10px 8px 14px;
  align-items: center;
  input {
    min-width: 0;
    flex: 1;
    background: #343837;
    border: 1px solid #4a4f4d;
    border-radius: 3px;
    color: #fff;
    padding: 4px 7px;
    font-size: 12px;
    &::placeholder {
      color: #b9bcba;
    }
    &:focus {
      outline: 2px solid ${edgePrint};
    }
  }
`;
const Open = styled(AriaButton)<{ $on: boolean }>`
  border: 1px solid ${(p) => (p.$on ? edgePrint : "#4a4f4d")};
  background: ${(p) => (p.$on ? edgePrint : "none")};
  color: ${(p) => (p.$on ? film : filmText)};
  border-radius: 3px;
  padding: 3px 8px;
  font-size: 12px;
  cursor: pointer;
  &[data-focus-visible] {
    outline-color: ${edgePrint};
  }
`;
const Sheet = styled(Popover)`
  background: ${card};
  border: 1px solid ${ink};
  border-radius: 3px;
  padding: 12px 14px;
  width: 300px;
  color: ${ink};
  max-height: 70vh;
  overflow: auto;
  section {
    outline: none;
    display: grid;
    gap: 10px;
  }
  h2 {
    font-size: 12px;
    color: ${quiet};
    margin-bottom: 4px;
  }
  div {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
  }
`;
const Chip = styled(ToggleButton)`
  border: 1px solid ${line};
  background: #fff;
  border-radius: 3px;
  padding: 2px 8px;
  cursor: pointer;
  color: ${ink};
  &[data-selected] {
    background: ${spruce};
    border-color: ${spruce};
    color: #fff;
  }
`;

const KINDS = [
  ["rooms", text.everywhere.room],
  ["levels", text.everywhere.levelField],
  ["ratios", text.shots.ratio],
  ["labels", text.shots.label],
] as const;

/** Finding in a long list: words, and what the shots have in common. */
export function Narrow({ rows, wanted, want }: { rows: ShotRow[]; wanted: Wanted; want: (wanted: Wanted) => void }) {
  const all = choices(rows);
  const flip = (kind: "rooms" | "levels" | "ratios" | "labels", value: string) =>
    want({
      ...wanted,
      [kind]: wanted[kind].includes(value) ? wanted[kind].filter((v) => v !== value) : [...wanted[kind], value],
    });
  const narrowed = isNarrowed({ ...wanted, text: "" });
  return (
    <Bar>
      <input
        aria-label={text.everywhere.findAShot}
        placeholder={text.everywhere.findAShot}
        value={wanted.text}
        onChange={(e) => want({ ...wanted, text: e.target.value })}
        onKeyDown={(e) => {
          if (e.key === "Escape") want({ ...wanted, text: "" });
        }}
      />
      <DialogTrigger>
        <Open $on={narrowed} aria-label={narrowed ? text.shots.filterOn : text.shots.filter}>
          {text.shots.filter}
        </Open>
        <Sheet placement="right top">
          <Dialog aria-label={text.shots.filterTheShots}>
            {KINDS.map(
              ([kind, name]) =>
                all[kind].length > 0 && (
                  <section key={kind}>
                    <div>
                      <h2 style={{ width: "100%" }}>{name}</h2>
                      {all[kind].map((value) => (
                        <Chip key={value} isSelected={wanted[kind].includes(value)} onChange={() => flip(kind, value)}>
                          {value}
                        </Chip>
                      ))}
                    </div>
                  </section>
                ),
            )}
            <section>
              <div>
                <Chip
                  isSelected={wanted.locked === true}
                  onChange={(on) => want({ ...wanted, locked: on ? true : null })}
                >
                  {text.shots.locked}
                </Chip>
                <Chip
                  isSelected={wanted.locked === false}
                  onChange={(on) => want({ ...wanted, locked: on ? false : null })}
                >
                  {text.shots.notLocked}
                </Chip>
                <Chip
                  isSelected={wanted.kept === false}
                  onChange={(on) => want({ ...wanted, kept: on ? false : null })}
                >
                  {text.shots.notKept}
                </Chip>
              </div>
            </section>
            <Plain slot="close" onPress={() => want(everything)}>
              {text.everywhere.showAll}
            </Plain>
          </Dialog>
        </Sheet>
      </DialogTrigger>
    </Bar>
  );
}
