import styled from "styled-components";
import type { Leftover, Project } from "../../api/client";
import { useLeftovers } from "../../api/client";
import { Plain } from "../../kit/controls";
import { ochre, quiet, sprucePale } from "../../kit/tokens";
import { text } from "../../text";

const WHY: Record<Leftover["why"], string> = {
  far: text.set.farOff,
  floats: text.set.floating,
  hidden: text.set.nearlyHidden,
  outside: text.set.outsideEveryRoom,
};
const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 2px;
  li {
    display: grid;
    grid-template-columns: 1fr auto;
    align-items: center;
    border-radius: 3px;
    padding: 2px 0;
  }
  li[data-on="true"] {
    background: ${sprucePale};
  }
  b {
    color: ${ochre};
    font-weight: 650;
    font-size: 12px;
    display: block;
  }
  li > button:first-child {
    text-align: left;
  }
`;

/** What was perhaps forgotten in the model: listed, gone to, lifted off. Nothing is changed by itself. */
export function ThingsToLookAt({
  project,
  chosen,
  go,
  onLift,
}: {
  project: Project;
  chosen: number | null;
  go: (thing: Leftover) => void;
  onLift: (part: number) => void;
}) {
  const { data, error, isFetching } = useLeftovers(project, true);
  if (error) return <p role="alert">{error.message}</p>;
  if (!data)
    return (
      <p style={{ color: quiet }} role="status">
        {isFetching ? text.set.goingThroughTheSmall : ""}
      </p>
    );
  if (data.found.length === 0) return <p style={{ color: quiet }}>{text.set.nothingFloatsLiesFar}</p>;
  return (
    <List aria-label={text.set.thingsToLookAt}>
      {data.found.map((thing) => (
        <li key={thing.part} data-on={thing.part === chosen}>
          <Plain aria-label={text.set.goTo(WHY[thing.why], thing.words, thing.name)} onPress={() => go(thing)}>
            <b>{WHY[thing.why]}</b> {thing.words}
          </Plain>
          <Plain
            aria-label={text.set.liftOffOne(thing.name)}
            isDisabled={project.hidden.includes(thing.part)}
            onPress={() => onLift(thing.part)}
          >
            {project.hidden.includes(thing.part) ? text.set.liftedOff : text.set.liftOff}
          </Plain>
        </li>
      ))}
    </List>
  );
}
