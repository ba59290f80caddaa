import { useMemo, useState } from "react";
import styled from "styled-components";
import type { Project } from "../../api/client";
import { Button, Find, Plain, Row, Toggle } from "../../kit/controls";
import { quiet } from "../../kit/tokens";
import { many } from "../../kit/words";
import { partNames } from "../../shots/partNames";
import type { ShotDesk } from "../../shots/draft";
import type { BodyProps } from "../described";

const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  li {
    display: grid;
    grid-template-columns: 1fr auto;
    align-items: center;
  }
  small {
    color: ${quiet};
    display: block;
    font-size: 11px;
  }
`;

const MOST_SHOWN = 30;

/** What this shot does not show. Nothing is deleted; each comes back alone or all at once. */
export function LeftOutBody({ project, desk, picking, pick }: BodyProps) {
  const off = desk.row.locked;
  const out = desk.shot.left_out;
  return (
    <>
      <p style={{ color: quiet }}>
        {out.length
          ? "Not in this shot, its proofs and its finals. Other shots still show it."
          : "Parts in the way of this shot alone: pick them in the picture or find them by name. They stay in the set and in every other shot."}
        {project.hidden.length > 0 && " Parts lifted off while working are another thing: pictures show those."}
      </p>
      <Row>
        <Toggle isSelected={picking === "leave_out"} isDisabled={off} onChange={(on) => pick(on ? "leave_out" : null)}>
          Pick in picture
        </Toggle>
        <Button
          isDisabled={off || out.length === 0}
          onPress={() => desk.commit("Put all back into the shot", { kind: "put_back_all" })}
        >
          Put all back
        </Button>
      </Row>
      <List aria-label="Left out of this shot">
        {out.map((part) => {
          const [name, ...above] = partNames(project.set.parts, part);
          return (
            <li key={part}>
              <span>
                {name}
                <small>{above.reverse().join(", ")}</small>
              </span>
              <Plain
                isDisabled={off}
                aria-label={`Put ${name} back`}
                onPress={() => desk.commit(`Put “${name}” back`, { kind: "leave_out", part, out: false })}
              >
                Put back
              </Plain>
            </li>
          );
        })}
      </List>
      <Parts project={project} desk={desk} off={off} />
    </>
  );
}

/** Parts found by name, to be left out from a list: what is hidden in the picture cannot be pressed there. */
function Parts({ project, desk, off }: { project: Project; desk: ShotDesk; off: boolean }) {
  const [wanted, setWanted] = useState("");
  const { parts } = project.set;
  const gone = useMemo(() => new Set(desk.row.left_out), [desk.row.left_out]);
  const words = wanted.trim().toLowerCase();
  const found = words
    ? parts.map((part, n) => ({ part, n })).filter(({ part }) => part.name.toLowerCase().includes(words))
    : [];
  return (
    <>
      <Find
        aria-label="Find a part to leave out"
        placeholder={`Find among ${many(parts.length, "part")}`}
        value={wanted}
        disabled={off}
        onChange={(e) => setWanted(e.target.value)}
      />
      {words && (
        <List aria-label="Parts found">
          {found.slice(0, MOST_SHOWN).map(({ part, n }) => (
            <li key={n}>
              <span>
                {part.name}
                {part.parent !== null && <small>{parts[part.parent]?.name}</small>}
              </span>
              {gone.has(n) ? (
                <small>left out</small>
              ) : (
                <Plain
                  isDisabled={off}
                  aria-label={`Leave ${part.name} out`}
                  onPress={() =>
                    desk.commit(`Leave “${part.name}” out`, { kind: "leave_out", part: part.id, out: true })
                  }
                >
                  Leave out
                </Plain>
              )}
            </li>
          ))}
        </List>
      )}
      {words && found.length === 0 && <p style={{ color: quiet }}>No part is called that.</p>}
      {found.length > MOST_SHOWN && (
        <p style={{ color: quiet }}>{many(found.length - MOST_SHOWN, "more part")}: write more of its name.</p>
      )}
    </>
  );
}
