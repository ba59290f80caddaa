import { useState } from "react";
import { Dialog, Heading } from "react-aria-components";
import { Button as AriaButton } from "../../kit/pressed";
import styled from "styled-components";
import { http, type PrintRow, type Project, proofOf, told, useWrite } from "../../api/client";
import { Button, Empty, Plain, Primary } from "../../kit/controls";
import { useSay } from "../../kit/notice";
import { Overlay } from "../../kit/sheet";
import { brick, card, film, filmText, ink, line, mid, ochre, quiet, spruce } from "../../kit/tokens";
import { useLength } from "../../kit/ruler";
import { many, seconds } from "../../kit/words";
import { Modal } from "react-aria-components";

const Room = styled.div`background: ${mid}; overflow: auto; padding: 22px 26px 50px; min-height: 0;`;
const Grid = styled.ul`list-style: none; margin: 0; padding: 0; display: grid; gap: 20px; grid-template-columns: repeat(auto-fill, minmax(360px, 1fr)); align-items: start;`;
const Card = styled.li`background: ${card}; border-radius: 3px; overflow: hidden; display: flex; flex-direction: column;`;
const Picture = styled(AriaButton)`
  border: 0; padding: 0; background: ${film}; color: ${filmText}; display: grid; place-items: center; min-height: 236px; cursor: pointer;
  img { display: block; max-width: 100%; max-height: 300px; } &[data-disabled] { cursor: default; } &[data-focus-visible] { outline-offset: -4px; outline-color: #fff; }
`;
const Words = styled.div`padding: 10px 14px 6px; display: grid; gap: 2px; h2 { font-weight: 650; font-size: 15px; } p { color: ${quiet}; } .stale { color: ${ochre}; font-weight: 600; } .why { color: ${brick}; font-weight: 600; }
  summary { color: ${quiet}; cursor: pointer; } ol { margin: 4px 0; padding-left: 26px; color: ${quiet}; columns: 2; } a { color: ${spruce}; font-weight: 600; }`;
const Acts = styled.div`padding: 4px 8px 10px; display: flex; gap: 2px; flex-wrap: wrap; a { color: ${spruce}; font-weight: 600; padding: 3px 6px; }`;
const Bar = styled.div`height: 6px; background: ${line}; border-radius: 3px; overflow: hidden; margin: 6px 0 2px; i { display: block; height: 100%; background: ${spruce}; transition: width 140ms; }`;
const Large = styled(Modal)`background: ${mid}; width: 100vw; height: 100vh; outline: none; section { height: 100%; display: grid; grid-template-rows: auto minmax(0, 1fr); outline: none; }
  header { background: ${card}; color: ${ink}; display: flex; gap: 14px; align-items: center; padding: 8px 16px; h2 { font-weight: 650; font-size: 15px; } span { color: ${quiet}; } .end { margin-left: auto; display: flex; gap: 8px; align-items: center; } a { color: ${spruce}; font-weight: 600; } }
  div.picture { display: grid; grid-template: minmax(0, 1fr) / minmax(0, 1fr); place-items: center; overflow: auto; padding: 14px; min-height: 0; cursor: zoom-in; } div.picture.whole { cursor: zoom-out; grid-template: auto / auto; place-items: start; } img { max-width: 100%; max-height: 100%; } .whole img { max-width: none; max-height: none; }`;

const states: Record<PrintRow["state"], string> = { waiting: "Waiting", developing: "Developing", done: "Done", failed: "Failed", cancelled: "Cancelled" };
const time = (iso: string) => new Date(iso).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
const download = (url: string) => `${url.split("?")[0]}?download=true`;

interface Props { project: Project; chosen: string | null; choose: (id: string | null) => void; toShot: (id: string) => void }

/** The lab: prints developing, waiting, done and failed, each with what it is of. */
export function LabRoom({ project, chosen, choose, toShot }: Props) {
  const write = useWrite(project.id, useSay());
  const large = project.prints.find((p) => p.id === chosen && p.picture) ?? null;
  const key = (p: PrintRow) => ({ params: { path: { key: p.id } } });
  if (project.prints.length === 0) {
    return (
      <Room style={{ background: card, display: "grid" }}>
        <Empty>
          <b>No proofs yet</b>
          A proof is a small, true picture of a shot: its lens, stop and focus, in real light. Order one in Frame with “Make a proof” and go on working; it is made here.
          {project.shots[0] && <><br /><br /><Primary onPress={() => write.mutate(proofOf(project.shots[0]!.id))}>Proof “{project.shots[0].shot.name}”</Primary></>}
        </Empty>
      </Room>
    );
  }
  return (
    <Room>
      <Grid aria-label="Prints">
        {project.prints.map((print) => (
          <Card key={print.id} data-print={print.id} data-state={print.state}>
            <Picture aria-label={print.picture ? `Open the ${kind(print)} of ${called(print)} large` : `${unseen(print)}: the ${kind(print)} of ${called(print)}`} isDisabled={!print.picture} onPress={() => choose(print.id)}>
              {print.picture ? <img src={print.picture} alt="" width={print.size[0]} height={print.size[1]} style={{ width: "auto", height: "auto" }} /> : <span>{unseen(print)}</span>}
            </Picture>
            <Words>
              <h2>{print.frame ? `${print.frame}  ` : ""}{called(print)}</h2>
              <p>{print.take ? `take ${print.take}` : "not kept"} · {print.line} · {print.size[0]} × {print.size[1]} px · ordered {time(print.ordered)}</p>
              {print.stale && <p className="stale">{print.stale}</p>}
              {(print.state === "developing" || print.state === "waiting") && (
                <div role="status">
                  <Bar role="progressbar" aria-label="Progress" aria-valuenow={Math.round(print.progress * 100)} aria-valuemin={0} aria-valuemax={100}><i style={{ width: `${print.progress * 100}%` }} /></Bar>
                  <p>{states[print.state]} {Math.round(print.progress * 100)} % · {print.doing}{print.seconds_left != null ? ` · ${seconds(print.seconds_left)}` : ""}</p>
                </div>
              )}
              {print.frames.length > 0 && <Frames print={print} />}
              {print.state === "done" && <p>Done · {String(print.made_with.samples)} samples a pixel · {String(print.made_with.renderer)}</p>}
              {print.state === "cancelled" && <p>Cancelled</p>}
              {print.state === "failed" && <p className="why" role="alert">Failed. {print.trouble}</p>}
            </Words>
            <Acts>
              {(print.state === "developing" || print.state === "waiting") && <Plain onPress={() => write.mutate(() => told(http.POST("/api/prints/{key}/cancel", key(print))))}>Cancel</Plain>}
              {(print.state === "failed" || print.state === "cancelled") && <Plain onPress={() => write.mutate(() => told(http.POST("/api/prints/{key}/retry", key(print))))}>Retry</Plain>}
              {print.picture && <a href={download(print.picture)} download>PNG</a>}
              {print.film && <a href={download(print.film)} download>OpenEXR</a>}
              {print.frame && <Plain onPress={() => toShot(print.shot_id)}>Go to the shot</Plain>}
              {print.frame && print.stale && <Plain onPress={() => write.mutate(proofOf(print.shot_id, print.cut, print.frames.length > 0))}>{print.frames.length > 0 ? "Print it" : "Proof it"} as it is now</Plain>}
              {(print.state === "done" || print.state === "failed" || print.state === "cancelled") && <Plain onPress={() => write.mutate(() => told(http.DELETE("/api/prints/{key}", key(print))))}>Throw away</Plain>}
            </Acts>
          </Card>
        ))}
      </Grid>
      <Overlay isOpen={large !== null} onOpenChange={(open) => { if (!open) choose(null); }} isDismissable>
        {large && <LargePrint print={large} close={() => choose(null)} />}
      </Overlay>
    </Room>
  );
}

const kind = ({ frames }: PrintRow) => (frames.length > 0 ? "stack" : "proof");

/** The pictures of a stack, each to be taken away by itself. */
function Frames({ print }: { print: PrintRow }) {
  const length = useLength();
  return (
    <details>
      <summary>{print.frames.length === 1 ? "One picture does for the stack" : `Stack of ${many(print.frames.length, "picture")}, focused from ${length(print.frames[0]!.distance_m)} to ${length(print.frames.at(-1)!.distance_m)}`}</summary>
      <ol>
        {print.frames.map(({ distance_m, picture, film: linear }, n) => (
          <li key={n}>{length(distance_m)} {picture && linear ? <><a href={download(picture)} download>PNG</a> <a href={download(linear)} download>OpenEXR</a></> : "to come"}</li>
        ))}
      </ol>
    </details>
  );
}

/** The shot it is of, and the cut. */
const called = ({ name, cut }: PrintRow) => (cut == null ? name : `${name}, ${cut}`);

const unseen = (print: PrintRow) => (print.state === "developing" ? "In the developer" : states[print.state]);

function LargePrint({ print, close }: { print: PrintRow; close: () => void }) {
  const [whole, setWhole] = useState(false);
  return (
    <Large>
      <Dialog>
        <header>
          <Heading slot="title">{called(print)}</Heading>
          <span>{print.take ? `take ${print.take}` : "not kept"} · {print.line} · {print.size[0]} × {print.size[1]} px{print.stale ? ` · ${print.stale}` : ""}{print.state === "developing" ? ` · developing, ${Math.round(print.progress * 100)} %` : ""}</span>
          <span className="end">
            {print.picture && <a href={download(print.picture)} download>PNG</a>}
            {print.film && <a href={download(print.film)} download>OpenEXR</a>}
            <Button onPress={close}>Close</Button>
          </span>
        </header>
        <div className={whole ? "picture whole" : "picture"} onClick={() => setWhole(!whole)}><img src={print.picture ?? ""} alt={`The ${kind(print)} of ${print.name}, large`} /></div>
      </Dialog>
    </Large>
  );
}
