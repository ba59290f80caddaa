import { createContext, useContext, useEffect, useMemo, useRef, useState } from "react";
import { Collection, ListLayout, Tree, TreeItem, TreeItemContent, Virtualizer } from "react-aria-components";
import { Button as AriaButton, ToggleButton } from "../../kit/pressed";
import styled from "styled-components";
import type { Project } from "../../api/client";
import { Button, Find, Row as Controls, Toggle } from "../../kit/controls";
import { ink, line, ochre, paper, quiet, spruce, sprucePale } from "../../kit/tokens";
import { text } from "../../text";

const Side = styled.aside`
  background: ${paper};
  border-right: 1px solid ${line};
  display: flex;
  flex-direction: column;
  min-height: 0;
  > div:first-child {
    padding: 12px 14px 8px;
    display: grid;
    gap: 8px;
  }
  h2 {
    font-weight: 650;
    font-size: 15px;
  }
  p {
    color: ${quiet};
  }
  .react-aria-Tree {
    margin: 0 8px;
    overflow: auto;
    flex: 1;
    min-height: 0;
    outline: none;
  }
  .react-aria-TreeItem {
    height: 100%;
    box-sizing: border-box;
    padding-left: calc((var(--tree-item-level) - 1) * 14px);
    border-radius: 3px;
    cursor: pointer;
    outline: none;
    &[data-hovered],
    &[data-selected] {
      background: ${sprucePale};
    }
    &[data-focus-visible] {
      outline: 2px solid ${spruce};
      outline-offset: -2px;
    }
  }
`;
const Line = styled.div`
  display: flex;
  align-items: center;
  gap: 4px;
  height: 100%;
`;
const Name = styled.span<{ $off: boolean; $on: boolean }>`
  min-width: 0;
  flex: 1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: ${(p) => (p.$off ? quiet : ink)};
  text-decoration: ${(p) => (p.$off ? "line-through" : "none")};
  font-weight: ${(p) => (p.$on ? 650 : 400)};
`;
const Fold = styled(AriaButton)`
  border: 0;
  background: none;
  width: 18px;
  flex: none;
  padding: 0;
  cursor: pointer;
  color: ${quiet};
`;
const Lift = styled(ToggleButton)`
  border: 1px solid transparent;
  background: none;
  border-radius: 3px;
  cursor: pointer;
  font-size: 12px;
  padding: 0 6px;
  color: ${quiet};
  white-space: nowrap;
  &[data-hovered] {
    border-color: ${line};
    color: ${ink};
  }
  &[data-selected] {
    color: ${ochre};
    font-weight: 650;
  }
  &[data-disabled] {
    opacity: 0.5;
    cursor: default;
  }
`;
const ROW_PX = 26;

type Part = Project["set"]["parts"][number];
interface Branch {
  id: number;
  part: Part;
  under: Branch[];
}

/** The parts as a tree, each under its group. */
function branchesOf(parts: Part[]): Branch[] {
  const all = parts.map((part, id): Branch => ({ id, part, under: [] }));
  for (const one of all) if (one.part.parent !== null) all[one.part.parent]!.under.push(one);
  return all.filter(({ part }) => part.parent === null);
}

/** The groups a part is in, the innermost first. */
function groupsOver(parts: Part[], part: number | null): number[] {
  const found: number[] = [];
  // What was chosen may be of a set that is another one by now.
  const over = (n: number | null) => (n === null ? null : (parts[n]?.parent ?? null));
  for (let up = over(part); up !== null; up = over(up)) found.push(up);
  return found;
}

/** The numbers of the parts that have a row, from the top. */
const rowsOf = (branches: Branch[], folded: Set<number>): number[] =>
  branches.flatMap((one) => [one.id, ...(folded.has(one.id) ? [] : rowsOf(one.under, folded))]);

/** What a row looks up when it is drawn: another part lifted off draws the rows in sight anew, and builds no tree. */
interface Looks {
  lifted: (part: number) => boolean;
  byGroup: (part: number) => boolean;
  chosen: number | null;
  lift: (part: number, on: boolean) => void;
}
const Look = createContext<Looks | null>(null);

function Row({ id, name, folds, unfolded }: { id: number; name: string; folds: boolean; unfolded: boolean }) {
  const look = useContext(Look)!;
  const by = look.byGroup(id);
  const off = by || look.lifted(id);
  return (
    <Line data-part={id}>
      {folds ? (
        <Fold slot="chevron" aria-label={`${unfolded ? text.set.fold : text.set.unfold} ${name}`}>
          {unfolded ? "▾" : "▸"}
        </Fold>
      ) : (
        <i style={{ width: 18, flex: "none" }} />
      )}
      <Name $off={off} $on={look.chosen === id}>
        {name}
      </Name>
      <Lift
        aria-label={text.set.liftOffOne(name)}
        isSelected={off}
        isDisabled={by}
        onChange={(on) => look.lift(id, on)}
      >
        {off ? text.set.liftedOff : text.set.liftOffTip}
      </Lift>
    </Line>
  );
}

const branch = ({ id, part, under }: Branch) => (
  <TreeItem id={id} textValue={part.name}>
    <TreeItemContent>
      {({ isExpanded }) => <Row id={id} name={part.name} folds={under.length > 0} unfolded={isExpanded} />}
    </TreeItemContent>
    <Collection items={under}>{branch}</Collection>
  </TreeItem>
);

interface Props {
  project: Project;
  chosen: number | null;
  choose: (part: number | null) => void;
  picking: boolean;
  setPicking: (on: boolean) => void;
  onLift: (change: (lifted: string[]) => string[]) => void;
  onLiftAbove: (on: boolean) => void;
  onAllBack: () => void;
}

/** The tree of the set's parts, and what of it is lifted off while working. */
export function PartsTree({ project, chosen, choose, picking, setPicking, onLift, onLiftAbove, onAllBack }: Props) {
  const { parts } = project.set;
  const [folded, setFolded] = useState<Set<number>>(() => new Set());
  const [wanted, setWanted] = useState("");
  const list = useRef<HTMLDivElement>(null);
  const lifted = useMemo(() => new Set(project.lifted), [project.lifted]);
  const branches = useMemo(() => branchesOf(parts), [parts]);
  const found = useMemo(() => {
    const sought = wanted.trim().toLowerCase();
    if (!sought) return branches;
    return parts.flatMap((part, id) => (part.name.toLowerCase().includes(sought) ? [{ id, part, under: [] }] : []));
  }, [branches, parts, wanted]);
  const unfolded = useMemo(() => parts.map((_, n) => n).filter((n) => !folded.has(n)), [parts, folded]);
  const look = useMemo((): Looks => {
    return {
      lifted: (n) => lifted.has(parts[n]!.id),
      byGroup: (n) => groupsOver(parts, n).some((m) => lifted.has(parts[m]!.id)),
      chosen,
      lift: (n, on) => onLift((now) => (on ? [...now, parts[n]!.id] : now.filter((one) => one !== parts[n]!.id))),
    };
  }, [parts, lifted, chosen, onLift]);
  // A part that is picked in a view is unfolded and scrolled to, once: folding it away after that is a hand's own will.
  const sought = useRef<number | null>(null);
  useEffect(() => {
    sought.current = chosen;
    const over = groupsOver(parts, chosen);
    setFolded((now) => (over.some((n) => now.has(n)) ? new Set([...now].filter((n) => !over.includes(n))) : now));
  }, [chosen, parts]);
  useEffect(() => {
    const sheet = list.current;
    if (sheet === null || sought.current === null || groupsOver(parts, sought.current).some((n) => folded.has(n)))
      return;
    const top = rowsOf(found, folded).indexOf(sought.current) * ROW_PX;
    sought.current = null;
    const inSight = top >= sheet.scrollTop && top + ROW_PX <= sheet.scrollTop + sheet.clientHeight;
    if (top >= 0 && !inSight) sheet.scrollTop = top - sheet.clientHeight / 2;
  }, [chosen, found, folded, parts]);
  const away = lifted.size > 0 || project.lifted_above;
  const words = [
    lifted.size ? text.counts.part(lifted.size) : null,
    project.lifted_above ? text.set.allAboveTheCut : null,
  ]
    .filter(Boolean)
    .join(" and ");
  const tree = (
    <Virtualizer layout={ListLayout} layoutOptions={{ rowHeight: ROW_PX }}>
      <Tree
        ref={list}
        aria-label={text.set.parts}
        items={found}
        expandedKeys={unfolded}
        onExpandedChange={(keys) => setFolded(new Set(foldedBut(parts.length, keys as Set<number>)))}
        selectionMode="single"
        selectionBehavior="toggle"
        selectedKeys={chosen === null ? [] : [chosen]}
        onSelectionChange={(keys) => choose(keys === "all" ? null : (([...keys][0] as number) ?? null))}
        renderEmptyState={() => <p style={{ padding: 12 }}>{text.everywhere.noPartIsCalled}</p>}
      >
        {branch}
      </Tree>
    </Virtualizer>
  );
  return (
    <Side aria-label={text.set.partsOfTheSet}>
      <div>
        <h2>{text.set.parts}</h2>
        <p>{away ? text.set.liftedOffWhileWorking(words) : text.set.liftOffWhatIsInTheWay}</p>
        <Controls>
          <Toggle isSelected={project.lifted_above} onChange={onLiftAbove}>
            {text.set.liftOffAllAbove}
          </Toggle>
          {away && <Button onPress={onAllBack}>{text.everywhere.putAllBack}</Button>}
          <Toggle isSelected={picking} onChange={setPicking}>
            {text.set.pickInTheView}
          </Toggle>
        </Controls>
        <Find
          aria-label={text.set.findAPart}
          placeholder={text.everywhere.findAmong(text.counts.part(parts.length))}
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
        />
      </div>
      <Look.Provider value={look}>{tree}</Look.Provider>
    </Side>
  );
}

/** Which of so many parts are folded, where these are not. */
function foldedBut(count: number, unfolded: Set<number>): number[] {
  return Array.from({ length: count }, (_, n) => n).filter((n) => !unfolded.has(n));
}
