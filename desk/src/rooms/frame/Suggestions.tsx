import { useQuery } from "@tanstack/react-query";
import { Button } from "../../kit/pressed";
import styled from "styled-components";
import { http, type Project, standing, type Suggestion, answerOf } from "../../api/client";
import { Choice } from "../../kit/choice";
import { Plain } from "../../kit/controls";
import { letter } from "../../kit/words";
import { line, quiet, spruce } from "../../kit/tokens";
import { text } from "../../text";

const Panel = styled.section`
  padding: 14px;
  display: grid;
  gap: 12px;
  align-content: start;
  h2 {
    font-size: 15px;
    font-weight: 650;
  }
  p {
    color: ${quiet};
  }
`;
const Grid = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
`;
const Take = styled(Button)`
  border: 1px solid ${line};
  background: #fff;
  border-radius: 3px;
  padding: 4px;
  cursor: pointer;
  text-align: left;
  width: 100%;
  img {
    width: 100%;
    aspect-ratio: 16 / 9;
    display: block;
    background: #222;
    margin-bottom: 3px;
  }
  span {
    font-size: 12px;
  }
  &[data-hovered],
  &[data-focus-visible] {
    border-color: ${spruce};
    outline: 1px solid ${spruce};
  }
`;

export const useSuggestions = (project: Project, room: number | null) =>
  useQuery({
    queryKey: ["suggestions", project.id, room, standing(project), project.places, project.habits],
    queryFn: async () =>
      (await answerOf(
        http.GET("/api/projects/{key}/suggestions", {
          params: { path: { key: project.id }, query: { room: room ?? 0 } },
        }),
      )) as { found: Suggestion[] },
    enabled: room !== null,
    staleTime: Infinity,
  });

interface Props {
  project: Project;
  room: number;
  setRoom: (room: number) => void;
  over: number | null;
  setOver: (n: number | null) => void;
  onTake: (one: Suggestion) => void;
  onLevel: (level: string) => void;
  close: () => void;
}

/** Suggested stands of a room: each with a small picture, taken with one click. */
export function Suggestions({ project, room, setRoom, over, setOver, onTake, onLevel, close }: Props) {
  const { data, error } = useSuggestions(project, room);
  const level = project.places.rooms[room]?.level;
  return (
    <Panel aria-label={text.frame.suggestedStands}>
      <h2>{text.frame.suggestedStands}</h2>
      <Choice
        label={text.everywhere.room}
        value={String(room)}
        options={project.places.rooms.map((r, n) => ({ id: String(n), name: `${r.name}, ${r.level}` }))}
        onChoose={(id) => setRoom(Number(id))}
      />
      {level !== undefined && level !== project.plan_level && (
        <p>
          {text.frame.thePlanShows(project.plan_level ?? text.frame.anotherLevel)}{" "}
          <Plain onPress={() => onLevel(level)} style={{ color: spruce }}>
            {text.everywhere.show(level)}
          </Plain>
        </p>
      )}
      {!data && !error && <p role="status">{text.frame.lookingForFreeStands}</p>}
      {error && <p role="alert">{error.message}</p>}
      {data?.found.length === 0 && <p>{text.frame.noStandInThisRoom}</p>}
      <Grid>
        {data?.found.map((one, n) => (
          <li key={n} onMouseEnter={() => setOver(n)} onMouseLeave={() => setOver(null)}>
            <Take
              aria-label={text.frame.takeStand(letter(n), one.words)}
              onPress={() => onTake(one)}
              onFocus={() => setOver(n)}
              data-over={over === n || undefined}
            >
              <img src={one.picture} alt="" loading="lazy" />
              <span>
                <b>{letter(n)}</b> {one.words}
              </span>
            </Take>
          </li>
        ))}
      </Grid>
      <Plain onPress={close} style={{ justifySelf: "start" }}>
        {text.everywhere.close}
      </Plain>
    </Panel>
  );
}
