import { useEffect, useMemo, useRef, useState } from "react";
import { Button as AriaButton, ToggleButton } from "../../kit/pressed";
import styled from "styled-components";
import type { Project } from "../../api/client";
import { Button, Find, Row, Toggle } from "../../kit/controls";
import { ink, line, ochre, paper, quiet, sprucePale } from "../../kit/tokens";
import { many } from "../../kit/words";

const Tree = styled.aside`
  background: ${paper};
  border-right: 1px solid ${line};
  display: flex;
  flex-direction: column;
  min-height: 0;
  > div {
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
  ul {
    list-style: none;
    margin: 0;
    padding: 0 8px 24px;
    overflow: auto;
    flex: 1;
  }
`;
const Line = styled.li<{ $depth: number; $off: boolean; $on: boolean }>`
  display: flex;
  align-items: center;
  gap: 4px;
  padding-left: ${(p) => p.$depth * 14}px;
  border-radius: 3px;
  min-height: 26px;
  background: ${(p) => (p.$on ? sprucePale : "none")};
  &:hover {
    background: ${sprucePale};
  }
`;
const Name = styled(AriaButton)<{ $off: boolean; $on: boolean }>`
  border: 0;
  background: none;
  padding: 0;
  cursor: pointer;
  text-align: left;
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
const MOST_SHOWN = 400;

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
  const [folded, setFolded] = useState<Set<number>>(() => new Set());
  const [wanted, setWanted] = useState("");
  const list = useRef<HTMLUListElement>(null);
  const { parts } = project.set;
  const lifted = useMemo(() => new Set(project.lifted), [project.lifted]);
  const depth = useMemo(
    () => parts.reduce<number[]>((all, p) => [...all, p.parent === null ? 0 : (all[p.parent] ?? 0) + 1], []),
    [parts],
  );
  const parents = useMemo(() => new Set(parts.map((p) => p.parent).filter((n): n is number => n !== null)), [parts]);
  const above = (n: number, test: (m: number) => boolean): boolean => {
    for (let up = parts[n]?.parent ?? null; up !== null; up = parts[up]?.parent ?? null) if (test(up)) return true;
    return false;
  };
  useEffect(() => {
    if (chosen !== null) list.current?.querySelector(`[data-part="${chosen}"]`)?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  const found = parts
    .map((part, n) => ({ part, n }))
    .filter(({ part, n }) =>
      wanted ? part.name.toLowerCase().includes(wanted.toLowerCase()) : n === chosen || !above(n, (m) => folded.has(m)),
    );
  // A tree of thousands is walked by finding and folding; drawing it whole would only make it slow.
  const from = Math.max(0, Math.min(found.findIndex(({ n }) => n === chosen) - 200, found.length - MOST_SHOWN));
  const shown = found.slice(from, from + MOST_SHOWN);
  const away = lifted.size > 0 || project.lifted_above;
  const words = [lifted.size ? many(lifted.size, "part") : null, project.lifted_above ? "all above the cut" : null]
    .filter(Boolean)
    .join(" and ");
  return (
    <Tree aria-label="Parts of the set">
      <div>
        <h2>Parts</h2>
        <p>
          {away
            ? `Lifted off while working: ${words}. Pictures still show it.`
            : "Lift off what is in the way while you work. Pictures still show it."}
        </p>
        <Row>
          <Toggle isSelected={project.lifted_above} onChange={onLiftAbove}>
            Lift off all above the cut
          </Toggle>
          {away && <Button onPress={onAllBack}>Put all back</Button>}
          <Toggle isSelected={picking} onChange={setPicking}>
            Pick in the view
          </Toggle>
        </Row>
        <Find
          aria-label="Find a part"
          placeholder={`Find among ${many(parts.length, "part")}`}
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
        />
      </div>
      <ul ref={list}>
        {shown.map(({ part, n }) => {
          const by = above(n, (m) => lifted.has(parts[m]!.id));
          const off = lifted.has(part.id) || by;
          return (
            <Line key={n} $depth={wanted ? 0 : (depth[n] ?? 0)} $off={off} $on={n === chosen} data-part={n}>
              {parents.has(n) && !wanted ? (
                <Fold
                  aria-label={`${folded.has(n) ? "Unfold" : "Fold"} ${part.name}`}
                  onPress={() =>
                    setFolded((f) => {
                      const next = new Set(f);
                      if (!next.delete(n)) next.add(n);
                      return next;
                    })
                  }
                >
                  {folded.has(n) ? "▸" : "▾"}
                </Fold>
              ) : (
                <i style={{ width: 18, flex: "none" }} />
              )}
              <Name
                $off={off}
                $on={n === chosen}
                aria-label={`Choose ${part.name}`}
                aria-current={n === chosen || undefined}
                onPress={() => choose(n === chosen ? null : n)}
              >
                {part.name}
              </Name>
              <Lift
                aria-label={`Lift off ${part.name}`}
                isSelected={off}
                isDisabled={by}
                onChange={(on) => onLift((now) => (on ? [...now, part.id] : now.filter((one) => one !== part.id)))}
              >
                {off ? "lifted off" : "lift off"}
              </Lift>
            </Line>
          );
        })}
        {shown.length === 0 && <p style={{ padding: 12 }}>No part is called that.</p>}
        {found.length > shown.length && (
          <p style={{ padding: 12 }}>
            {many(found.length - shown.length, "more part")}: find one by its name, or fold what you do not need.
          </p>
        )}
      </ul>
    </Tree>
  );
}
