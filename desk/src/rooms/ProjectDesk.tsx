import { useEffect, useLayoutEffect } from "react";
import { Button } from "../kit/pressed";
import styled from "styled-components";
import {
  http,
  standing,
  surroundings,
  answerOf,
  type PrintRow,
  useOffered,
  usePrints,
  useProject,
  useWrite,
} from "../api/client";
import { useLive } from "../api/socket";
import { Empty, Plain, Told } from "../kit/controls";
import { useSay } from "../kit/notice";
import type { Place, Room } from "../kit/place";
import { RulerContext } from "../kit/ruler";
import { Shortcuts } from "../kit/shortcuts";
import { card, ink, line, quiet, spruce } from "../kit/tokens";
import { FrameRoom } from "./frame/FrameRoom";
import { useDropped } from "./dropped";
import { LabRoom } from "./lab/LabRoom";
import { SetRoom } from "./set/SetRoom";
import { text } from "../text";

const Page = styled.div`
  display: grid;
  grid-template-rows: 42px minmax(0, 1fr);
  height: 100%;
  &[data-over] {
    outline: 3px solid ${spruce};
    outline-offset: -3px;
  }
`;
const Top = styled.header`
  display: grid;
  grid-template-columns: 1fr auto 1fr;
  align-items: center;
  background: ${card};
  border-bottom: 1px solid ${line};
  padding: 0 16px;
  nav {
    display: flex;
    gap: 4px;
  }
`;
export const Brand = styled(Button)`
  border: 0;
  background: none;
  padding: 0;
  cursor: pointer;
  font-size: 18px;
  font-weight: 800;
  font-stretch: 125%;
  letter-spacing: -0.01em;
  color: ${ink};
`;
const Title = styled.div`
  display: flex;
  align-items: center;
  gap: 12px;
  min-width: 0;
  h1 {
    font: inherit;
    margin: 0;
    border-left: 1px solid ${line};
    padding-left: 12px;
    color: ${quiet};
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
`;
const Tab = styled(Button)`
  border: 0;
  background: none;
  padding: 6px 16px;
  border-radius: 3px;
  cursor: pointer;
  font-size: 14px;
  &[aria-current="page"] {
    background: ${ink};
    color: #fff;
    font-weight: 600;
  }
  &[data-hovered]:not([aria-current]) {
    background: ${line};
  }
`;
const Right = styled.div`
  display: flex;
  justify-content: flex-end;
  align-items: center;
  gap: 6px;
  color: ${quiet};
`;
const Middle = styled.main`
  min-height: 0;
  display: grid;
`;
const Alone = styled.main`
  height: 100%;
  display: grid;
`;

const rooms: [Room, string][] = [
  ["set", text.project.set],
  ["frame", text.project.frame],
  ["lab", text.project.lab],
];

function labLine(prints: PrintRow[] | undefined): string | null {
  const busy = (prints ?? []).filter((p) => p.state === "developing" || p.state === "waiting");
  const first = busy.find((p) => p.state === "developing");
  if (first) return text.project.labUnderWay(busy.length, Math.round(first.progress * 100));
  return busy.length ? text.project.labWaiting(busy.length) : null;
}

export function ProjectDesk({
  id,
  place,
  go,
}: {
  id: string;
  place: Place;
  go: (place: Place, replace?: boolean) => void;
}) {
  const { data: project, error: lost } = useProject(id);
  const { data: offer, error: silent } = useOffered();
  const error = lost ?? silent;
  const prints = usePrints(id);
  const live = useLive();
  const dropped = useDropped(go);
  const write = useWrite(id, useSay());
  const state = project ? `${standing(project)}|${surroundings(project)}` : null;
  // Before the effects of the rooms: what they ask is asked of the set as it now is.
  useLayoutEffect(() => {
    if (state) live.open(id);
  }, [live, id, state]);
  useEffect(() => {
    document.title = project ? `${project.name} · Zevlo` : text.everywhere.zevlo;
  }, [project]);

  // Which change is meant is seen once, when its turn comes: asked again after a lost answer, it is not the next one.
  const step = (what: "undo" | "redo") => {
    let change: number | null | undefined;
    write.mutate((now) => {
      if (change === undefined) change = what === "undo" ? now.undo_at : now.redo_at;
      return answerOf(http.POST(`/api/projects/{key}/${what}`, { params: { path: { key: id } }, body: { change } }));
    });
  };
  const undo = () => step("undo");
  const redo = () => step("redo");

  if (error && !project)
    return (
      <Alone>
        <Empty role="alert">
          <h1>{text.project.thisProjectCannotBeOpened}</h1>
          {error.message}{" "}
          <Plain onPress={() => go({ project: null, room: "frame", thing: null })}>{text.project.allProjects}</Plain>
        </Empty>
      </Alone>
    );
  if (!project || !offer)
    return (
      <Alone>
        <Empty aria-busy>{text.project.openingTheProject}</Empty>
      </Alone>
    );
  const lab = labLine(prints);
  return (
    <RulerContext value={project.set.ruler}>
      <Page {...dropped.hold} data-over={dropped.over || undefined}>
        <Top>
          <Title>
            <Brand
              aria-label={text.project.zevloAllProjects}
              onPress={() => go({ project: null, room: "frame", thing: null })}
            >
              {text.everywhere.zevlo}
            </Brand>
            <h1>{project.name}</h1>
          </Title>
          <nav aria-label={text.project.rooms}>
            {rooms.map(([room, name]) => (
              <Tab
                key={room}
                aria-current={place.room === room ? "page" : undefined}
                onPress={() => go({ project: id, room, thing: room === "lab" ? null : place.thing })}
              >
                {name}
              </Tab>
            ))}
          </nav>
          <Right>
            {lab && <Plain onPress={() => go({ project: id, room: "lab", thing: null })}>{lab}</Plain>}
            <Told
              tip={project.undo ? text.everywhere.undo(project.undo) : text.project.nothingToUndo}
              isDisabled={!project.undo}
              onPress={undo}
            >
              {text.everywhere.undoButton}
            </Told>
            <Told
              tip={project.redo ? text.everywhere.redo(project.redo) : text.project.nothingToRedo}
              isDisabled={!project.redo}
              onPress={redo}
            >
              {text.project.redo}
            </Told>
            <Shortcuts onUndo={undo} onRedo={redo} />
          </Right>
        </Top>
        <Middle>
          {place.room === "set" && (
            <SetRoom project={project} toShot={(thing) => go({ project: id, room: "frame", thing })} />
          )}
          {place.room === "frame" && (
            <FrameRoom
              project={project}
              chosen={place.thing}
              choose={(thing, replace) => go({ project: id, room: "frame", thing }, replace)}
              toLab={() => go({ project: id, room: "lab", thing: null })}
            />
          )}
          {place.room === "lab" && (
            <LabRoom
              project={project}
              chosen={place.thing}
              choose={(thing) => go({ project: id, room: "lab", thing })}
              toShot={(thing) => go({ project: id, room: "frame", thing })}
            />
          )}
        </Middle>
      </Page>
    </RulerContext>
  );
}
