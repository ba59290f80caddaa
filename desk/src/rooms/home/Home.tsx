import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { FileTrigger } from "react-aria-components";
import { Button as AriaButton } from "../../kit/pressed";
import styled from "styled-components";
import {
  type Card,
  homeKey,
  http,
  type PlacingChange,
  projectKey,
  type Project,
  answerOf,
  useHome,
} from "../../api/client";
import { Button, Empty, Plain, Primary } from "../../kit/controls";
import { newId } from "../../kit/ids";
import { useSay } from "../../kit/notice";
import type { Place } from "../../kit/place";
import { RulerContext } from "../../kit/ruler";
import { underWay } from "../../kit/settled";
import { brick, card, edgePrint, film, filmText, ink, line, mid, quiet, spruce } from "../../kit/tokens";
import { SizeAndAxes } from "../set/SizeAndAxes";
import { text } from "../../text";

const Page = styled.main`
  height: 100%;
  overflow: auto;
  padding: 26px 34px 60px;
`;
const Head = styled.header`
  display: flex;
  align-items: center;
  gap: 10px;
  margin-bottom: 22px;
  h1 {
    font-size: 22px;
    font-weight: 800;
    font-stretch: 125%;
    margin-right: auto;
  }
  h1 small {
    font-size: 13px;
    font-weight: 400;
    font-stretch: 100%;
    color: ${quiet};
    margin-left: 14px;
  }
`;
const Grid = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 22px;
  grid-template-columns: repeat(auto-fill, minmax(440px, 1fr));
`;
const Sheet = styled.li`
  background: ${card};
  border: 1px solid ${line};
  border-radius: 3px;
  display: flex;
  flex-direction: column;
`;
const Strip = styled(AriaButton)`
  background: ${film};
  border: 0;
  padding: 12px;
  display: flex;
  flex-wrap: wrap;
  gap: 9px;
  min-height: 176px;
  align-content: center;
  justify-content: center;
  cursor: pointer;
  border-radius: 3px 3px 0 0;
  color: ${filmText};
  img {
    height: 68px;
    display: block;
    background: ${mid};
  }
  &[data-hovered] {
    background: #2b2f2e;
  }
  figure {
    margin: 0;
    text-align: left;
  }
  figcaption {
    font-size: 11px;
    color: ${edgePrint};
    font-stretch: 85%;
  }
  figcaption::after {
    content: attr(data-number);
  }
`;
const Foot = styled.div`
  padding: 10px 14px 12px;
  display: flex;
  align-items: baseline;
  gap: 10px;
  h2 {
    font-size: 15px;
    margin-left: -6px;
    button {
      font: inherit;
      font-weight: 650;
    }
  }
  p {
    color: ${quiet};
    margin-right: auto;
  }
`;
const Door = styled.section`
  background: ${card};
  border: 1px dashed ${ink};
  border-radius: 3px;
  padding: 18px 22px;
  margin-bottom: 22px;
  display: grid;
  gap: 12px;
  &[data-over] {
    border-color: ${spruce};
    border-style: solid;
  }
  .why {
    color: ${brick};
    font-weight: 600;
  }
  progress {
    width: 100%;
    accent-color: ${spruce};
  }
`;

const KINDS = [".glb", ".gltf", ".obj", ".stl", ".ply", ".usd", ".usda", ".usdc", ".usdz", ".ifc", ".zip"];

const Beside = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 540px) minmax(0, 400px);
  gap: 10px 44px;
  align-content: start;
  > figure {
    grid-row: 1 / span 4;
  }
`;

interface Sending {
  name: string;
  ticket: string;
  doing: string;
  share: number | null;
  trouble: string | null;
  made: Project | null;
}
type Told = (doing: string, share: number | null) => void;

/**
 * Sends a model; says how far the sending, then the reading on the server has come; the server's words where it is
 * refused.
 */
function send(file: File, ticket: string, onDoing: Told): Promise<Project> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const form = new FormData();
    form.append("ticket", ticket);
    form.append("model", file);
    request.open("POST", "/api/projects");
    let asking = 0;
    request.upload.onprogress = (e) => {
      if (e.lengthComputable && e.loaded < e.total) onDoing("sending", e.loaded / e.total);
    };
    request.upload.onload = () => {
      onDoing("arriving", null);
      asking = window.setInterval(() => {
        void http
          .GET("/api/arrivals/{ticket}", { params: { path: { ticket } } })
          .then(({ data }) => {
            if (data) onDoing(data.doing, data.share);
          })
          .catch(() => undefined);
      }, 400);
    };
    request.onloadend = () => window.clearInterval(asking);
    request.onerror = () => reject(new Error(text.projects.theServerDoesNotAnswer));
    request.onload = () => {
      let body: unknown;
      try {
        body = JSON.parse(request.responseText);
      } catch {
        body = null;
      }
      if (request.status === 201) resolve(body as Project);
      else
        reject(
          new Error((body as { detail?: string } | null)?.detail ?? text.everywhere.theServerAnswered(request.status)),
        );
    };
    request.send(form);
  });
}

export function Home({ go }: { go: (place: Place) => void }) {
  const { data, error } = useHome();
  const cache = useQueryClient();
  const say = useSay();
  const [sending, setSending] = useState<Sending | null>(null);
  const over = useRef<HTMLElement>(null);
  const write = useMutation({
    mutationFn: (action: () => Promise<unknown>) => action(),
    onError: (e: Error) => say(e.message),
    onSettled: () => cache.invalidateQueries({ queryKey: homeKey }),
  });
  const take = async (file: File | undefined) => {
    if (!file) return;
    const ticket = newId();
    if (data && file.size > data.upload_limit) {
      const [size, most] = [file.size, data.upload_limit].map((bytes) => Math.round(bytes / 1048576)) as [
        number,
        number,
      ];
      setSending({
        name: file.name,
        ticket,
        doing: "",
        share: null,
        trouble: text.projects.theFileIsMb(size, most),
        made: null,
      });
      return;
    }
    const begun: Sending = { name: file.name, ticket, doing: "sending", share: 0, trouble: null, made: null };
    setSending(begun);
    try {
      const sent = send(file, ticket, (doing, share) =>
        setSending((s) => (s && s.ticket === ticket && !s.made && !s.trouble ? { ...s, doing, share } : s)),
      );
      const made = await sent.finally(underWay());
      cache.setQueryData(projectKey(made.id), made);
      setSending({ ...begun, share: null, made });
      void cache.invalidateQueries({ queryKey: homeKey });
    } catch (e) {
      setSending({ ...begun, share: null, trouble: (e as Error).message });
    }
  };
  const correct = (change: PlacingChange) => {
    const made = sending?.made;
    if (!made) return;
    write.mutate(async () => {
      const placed = (await answerOf(
        http.POST("/api/projects/{key}/placing", {
          params: { path: { key: made.id } },
          body: { version: made.version, drop: false, again: false, ...change },
        }),
      )) as Project;
      cache.setQueryData(projectKey(made.id), placed);
      setSending((s) => s && { ...s, made: placed });
    });
  };
  const busy = sending !== null && !sending.trouble && !sending.made;
  const open = (id: string) => go({ project: id, room: "frame", thing: null });
  return (
    <Page>
      <Head>
        <h1>
          {text.everywhere.zevlo}
          <small>{text.projects.projects}</small>
        </h1>
        <Button
          isDisabled={!data?.undo}
          onPress={() =>
            write.mutate(() => answerOf(http.POST("/api/undo", { body: { change: data?.undo_at ?? null } })))
          }
        >
          {data?.undo ? text.everywhere.undo(data.undo) : text.everywhere.undoButton}
        </Button>
        {data?.redo && (
          <Button
            onPress={() => write.mutate(() => answerOf(http.POST("/api/redo", { body: { change: data.redo_at } })))}
          >
            {text.everywhere.redo(data.redo)}
          </Button>
        )}
        <FileTrigger acceptedFileTypes={KINDS} onSelect={(files) => void take(files?.[0])}>
          <Primary isDisabled={busy}>{text.projects.newProjectFromAModel}</Primary>
        </FileTrigger>
      </Head>
      <Door
        ref={over}
        aria-label={text.projects.bringAModelIn}
        onDragOver={(e) => {
          e.preventDefault();
          over.current?.setAttribute("data-over", "");
        }}
        onDragLeave={() => over.current?.removeAttribute("data-over")}
        onDrop={(e) => {
          e.preventDefault();
          over.current?.removeAttribute("data-over");
          void take(e.dataTransfer.files[0]);
        }}
      >
        {!sending && <p style={{ color: quiet }}>{text.projects.dropAModelHere}</p>}
        {busy && (
          <div role="status">
            <p>
              <b>{sending.name}</b>: {sending.doing}
              {sending.share !== null && `, ${Math.round(sending.share * 100)} %`}
            </p>
            <progress max={1} value={sending.share ?? undefined} aria-label={text.projects.bringingTheModelIn} />
            <Plain
              onPress={() =>
                void http.DELETE("/api/arrivals/{ticket}", { params: { path: { ticket: sending.ticket } } })
              }
            >
              {text.projects.giveItUp}
            </Plain>
          </div>
        )}
        {sending?.trouble && (
          <div role="alert">
            <p className="why">{text.projects.wasNotTakenIn(sending.name)}</p>
            <p>{sending.trouble}</p>
            <Plain onPress={() => setSending(null)}>{text.everywhere.dismiss}</Plain>
          </div>
        )}
        {sending?.made && (
          <RulerContext value={sending.made.set.ruler}>
            <p>
              <b>{sending.made.name}</b>:{" "}
              {text.projects.doesTheSizeLook(
                text.counts.part(sending.made.set.parts.length),
                text.counts.triangle(sending.made.set.triangles),
                sending.made.set.ruler.beside === "hand",
              )}
            </p>
            <Beside>
              <SizeAndAxes project={sending.made} width={540} place={correct} brief />
            </Beside>
            <div style={{ display: "flex", gap: 8 }}>
              <Primary onPress={() => go({ project: sending.made?.id ?? null, room: "frame", thing: null })}>
                {text.projects.openIt}
              </Primary>
              <Button onPress={() => go({ project: sending.made?.id ?? null, room: "set", thing: null })}>
                {text.projects.lookAtTheSet}
              </Button>
              <Plain onPress={() => setSending(null)}>{text.projects.stayHere}</Plain>
            </div>
          </RulerContext>
        )}
      </Door>
      {error && (
        <Empty role="alert">
          <b>{text.projects.theProjectsCannotBeRead}</b>
          {error.message}
        </Empty>
      )}
      {data && data.projects.length === 0 && (
        <Empty>
          <b>{text.projects.noProjectsYet}</b>
          {text.projects.bringAModelInToBegin}
        </Empty>
      )}
      <Grid>
        {data?.projects.map((project: Card) => (
          <Sheet key={project.id}>
            <Strip
              aria-label={(project.frames.length ? text.projects.open : text.projects.openEmpty)(project.name)}
              onPress={() => open(project.id)}
            >
              {project.frames.map((frame, n) => (
                <figure key={frame.thumbnail}>
                  <img src={frame.thumbnail} alt="" width={Math.round(68 * frame.ratio)} height={68} />
                  <figcaption data-number={n + 1} />
                </figure>
              ))}
              {project.frames.length === 0 && text.everywhere.noShotsYet}
            </Strip>
            <Foot>
              <h2>
                <Plain aria-label={text.projects.nameAndOpen(project.name)} onPress={() => open(project.id)}>
                  {project.name}
                </Plain>
              </h2>
              <p>
                {text.counts.shot(project.shots)} · {project.set_line}
              </p>
              <Plain
                aria-label={text.projects.delete(project.name)}
                onPress={() =>
                  write.mutate(() =>
                    answerOf(http.DELETE("/api/projects/{key}", { params: { path: { key: project.id } } })),
                  )
                }
              >
                {text.everywhere.delete}
              </Plain>
            </Foot>
          </Sheet>
        ))}
      </Grid>
    </Page>
  );
}
