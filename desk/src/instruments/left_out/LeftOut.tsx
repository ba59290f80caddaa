import { useMemo, useState } from "react";
import styled from "styled-components";
import type { Project } from "../../api/client";
import { Button, Find, Plain, Row, Toggle } from "../../kit/controls";
import { quiet } from "../../kit/tokens";
import { partNames } from "../../shots/partNames";
import type { ShotDesk } from "../../shots/draft";
import type { BodyProps } from "../described";
import { text } from "../../text";

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
        {out.length ? text.leftOut.notInThisShot : text.leftOut.partsInTheWay}
        {project.hidden.length > 0 && ` ${text.leftOut.partsLiftedOffWhile}`}
      </p>
      <Row>
        <Toggle isSelected={picking === "leave_out"} isDisabled={off} onChange={(on) => pick(on ? "leave_out" : null)}>
          {text.everywhere.pickInPicture}
        </Toggle>
        <Button
          isDisabled={off || out.length === 0}
          onPress={() => desk.commit(text.leftOut.putAllBackIntoTheShot, { kind: "put_back_all" })}
        >
          {text.everywhere.putAllBack}
        </Button>
      </Row>
      <List aria-label={text.leftOut.leftOutOfThisShot}>
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
                aria-label={text.leftOut.putBack(name)}
                onPress={() => desk.commit(text.leftOut.putBackQuoted(name), { kind: "leave_out", part, out: false })}
              >
                {text.everywhere.putBack}
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
        aria-label={text.leftOut.findAPartToLeave}
        placeholder={text.everywhere.findAmong(text.counts.part(parts.length))}
        value={wanted}
        disabled={off}
        onChange={(e) => setWanted(e.target.value)}
      />
      {words && (
        <List aria-label={text.leftOut.partsFound}>
          {found.slice(0, MOST_SHOWN).map(({ part, n }) => (
            <li key={n}>
              <span>
                {part.name}
                {part.parent !== null && <small>{parts[part.parent]?.name}</small>}
              </span>
              {gone.has(n) ? (
                <small>{text.leftOut.leftOut}</small>
              ) : (
                <Plain
                  isDisabled={off}
                  aria-label={text.leftOut.leaveOut(part.name)}
                  onPress={() =>
                    desk.commit(text.leftOut.leaveOutQuoted(part.name), { kind: "leave_out", part: part.id, out: true })
                  }
                >
                  {text.leftOut.leaveOutIt}
                </Plain>
              )}
            </li>
          ))}
        </List>
      )}
      {words && found.length === 0 && <p style={{ color: quiet }}>{text.everywhere.noPartIsCalled}</p>}
      {found.length > MOST_SHOWN && (
        <p style={{ color: quiet }}>
          {text.leftOut.writeMoreOfItsName(text.counts.morePart(found.length - MOST_SHOWN))}
        </p>
      )}
    </>
  );
}
