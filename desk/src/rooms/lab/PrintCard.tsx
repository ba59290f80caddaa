import styled from "styled-components";
import { http, type PrintRow, type Project, proofOf, answerOf } from "../../api/client";
import { Plain } from "../../kit/controls";
import { Button as AriaButton } from "../../kit/pressed";
import { useLength } from "../../kit/ruler";
import { brick, card, film, filmText, line, ochre, quiet, spruce } from "../../kit/tokens";
import { seconds } from "../../kit/words";
import { text } from "../../text";

const Card = styled.li`
  background: ${card};
  border-radius: 3px;
  display: flex;
  flex-direction: column;
`;
const Picture = styled(AriaButton)`
  border: 0;
  padding: 0;
  background: ${film};
  color: ${filmText};
  display: grid;
  place-items: center;
  min-height: 150px;
  cursor: pointer;
  img {
    display: block;
    max-width: 100%;
    max-height: 200px;
  }
  &[data-disabled] {
    cursor: default;
  }
  &[data-focus-visible] {
    outline-offset: -4px;
    outline-color: #fff;
  }
`;
const Words = styled.div`
  padding: 10px 14px 6px;
  display: grid;
  gap: 2px;
  h2 {
    font-weight: 650;
    font-size: 15px;
  }
  p {
    color: ${quiet};
    overflow-wrap: anywhere;
  }
  .stale {
    color: ${ochre};
    font-weight: 600;
  }
  .why {
    color: ${brick};
    font-weight: 600;
  }
  summary {
    color: ${quiet};
    cursor: pointer;
  }
  ol {
    margin: 4px 0;
    padding-left: 26px;
    color: ${quiet};
    columns: 2;
  }
  a {
    color: ${spruce};
    font-weight: 600;
  }
`;
const Acts = styled.div`
  padding: 4px 8px 10px;
  display: flex;
  gap: 2px;
  flex-wrap: wrap;
  align-items: baseline;
  a {
    color: ${spruce};
    font-weight: 600;
    padding: 3px 6px;
  }
`;
const Bar = styled.div`
  height: 6px;
  background: ${line};
  border-radius: 3px;
  overflow: hidden;
  margin: 6px 0 2px;
  i {
    display: block;
    height: 100%;
    background: ${spruce};
    transition: width 140ms;
  }
`;

const STATES: Record<PrintRow["state"], string> = {
  waiting: text.lab.waiting,
  developing: text.lab.developing,
  paused: text.lab.paused,
  done: text.lab.done,
  failed: text.lab.failed,
  cancelled: text.lab.cancelled,
};
const PLACES = [
  ["first", text.lab.firstThisOne],
  ["earlier", text.lab.earlier],
  ["later", text.lab.later],
] as const;
const FILES: Record<string, string> = { png: "PNG", jpg: "JPEG", exr: text.everywhere.openEXR };
const time = (iso: string) => new Date(iso).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });

export const download = (url: string) => `${url.split("?")[0]}?download=true`;
/** The shot it is of, and the crop. */
export const called = ({ name, crop }: PrintRow) => (crop == null ? name : `${name}, ${crop}`);
export const framing = (print: PrintRow) =>
  text.lab.framing(
    print.take ? text.lab.take(print.take) : text.everywhere.notKept,
    print.line,
    print.size[0],
    print.size[1],
  );
const unseen = (print: PrintRow) => (print.state === "developing" ? text.lab.inTheDeveloper : STATES[print.state]);

/** `listed`: it hangs under its order. */
interface Props {
  print: PrintRow;
  listed: boolean;
  open: () => void;
  toShot: (id: string) => void;
  write: (action: (now: Project) => Promise<unknown>) => void;
}

/** A print: what it is of, how far it is, and what can be done with it. */
export function PrintCard({ print, listed, open, toShot, write }: Props) {
  const path = { params: { path: { key: print.id } } };
  const running = print.state === "developing" || print.state === "waiting";
  const over = print.state === "done" || print.state === "failed" || print.state === "cancelled";
  const final = print.kind === "final";
  return (
    <Card data-print={print.id} data-state={print.state}>
      <Picture
        aria-label={
          print.picture
            ? text.lab.openTheOfLarge(text.names.prints[print.kind], called(print))
            : text.lab.pictureOf(unseen(print), text.names.prints[print.kind], called(print))
        }
        isDisabled={!print.picture}
        onPress={open}
      >
        {print.picture ? (
          <img
            src={print.picture}
            alt=""
            width={print.size[0]}
            height={print.size[1]}
            style={{ width: "auto", height: "auto" }}
          />
        ) : (
          <span>{unseen(print)}</span>
        )}
      </Picture>
      <Words>
        <h2>
          {print.frame ? `${print.frame}  ` : ""}
          {called(print)}
        </h2>
        <p>{text.lab.ordered(framing(print), time(print.ordered))}</p>
        {final && (!listed || !over || print.merged_of > 0) && (
          <p>
            {[
              !listed && text.lab.finalOrder(print.order),
              print.merged_of > 0 && text.lab.mergedOfAStack(print.merged_of),
              !over && text.counts.tile(print.pieces[1] - 1),
            ]
              .filter(Boolean)
              .join(", ")}
          </p>
        )}
        {print.stale && <p className="stale">{print.stale}</p>}
        {!over && (
          <div role="status">
            <Bar
              role="progressbar"
              aria-label={text.lab.progress}
              aria-valuenow={Math.round(print.progress * 100)}
              aria-valuemin={0}
              aria-valuemax={100}
            >
              <i style={{ width: `${print.progress * 100}%` }} />
            </Bar>
            <p>
              {STATES[print.state]} {Math.round(print.progress * 100)} %{print.doing && ` · ${print.doing}`}
              {print.seconds_left != null ? ` · ${seconds(print.seconds_left)}` : ""}
            </p>
          </div>
        )}
        {print.frames.length > 0 && <Frames print={print} />}
        {print.state === "done" && (
          <p>
            {(final ? text.lab.doneUpToSamples : text.lab.doneSamplesAPixel)(
              String(print.made_with.samples),
              String(print.made_with.renderer),
            )}
          </p>
        )}
        {print.files[0] && <p>{print.files[0].name.replace(/\.[^.]*$/, "")}</p>}
        {print.state === "cancelled" && <p>{text.lab.cancelled}</p>}
        {print.state === "failed" && (
          <p className="why" role="alert">
            {text.lab.failedBecause} {print.trouble}
          </p>
        )}
      </Words>
      <Acts>
        {running && (
          <Plain onPress={() => write(() => answerOf(http.POST("/api/prints/{key}/pause", path)))}>
            {text.lab.pause}
          </Plain>
        )}
        {!over && (
          <Plain onPress={() => write(() => answerOf(http.POST("/api/prints/{key}/cancel", path)))}>
            {text.everywhere.cancel}
          </Plain>
        )}
        {print.state !== "done" && !running && (
          <Plain onPress={() => write(() => answerOf(http.POST("/api/prints/{key}/retry", path)))}>
            {print.state === "paused" ? text.lab.goOn : text.lab.retry}
          </Plain>
        )}
        {!over &&
          final &&
          PLACES.map(([where, words]) => (
            <Plain
              key={where}
              onPress={() => write(() => answerOf(http.POST("/api/prints/{key}/place", { ...path, body: { where } })))}
            >
              {words}
            </Plain>
          ))}
        {print.files.map(({ name, address }) => (
          <a key={name} href={download(address)} download>
            {FILES[name.slice(name.lastIndexOf(".") + 1)]}
          </a>
        ))}
        {!final && print.picture && (
          <a href={download(print.picture)} download>
            {text.everywhere.png}
          </a>
        )}
        {print.film && (
          <a href={download(print.film)} download>
            {text.everywhere.openEXR}
          </a>
        )}
        {print.frame && <Plain onPress={() => toShot(print.shot_id)}>{text.lab.goToTheShot}</Plain>}
        {print.frame && print.stale && !final && (
          <Plain onPress={() => write(proofOf(print.shot_id, print.crop, print.frames.length > 0))}>
            {text.lab.asItIsNow(print.frames.length > 0 ? text.lab.printIt : text.lab.proofIt)}
          </Plain>
        )}
        {over && (
          <Plain onPress={() => write(() => answerOf(http.DELETE("/api/prints/{key}", path)))}>
            {text.lab.throwAway}
          </Plain>
        )}
      </Acts>
    </Card>
  );
}

/** The pictures of a stack, each to be taken away by itself. */
function Frames({ print }: { print: PrintRow }) {
  const length = useLength();
  return (
    <details>
      <summary>
        {print.frames.length === 1
          ? text.lab.onePictureDoesForTheStack
          : text.lab.stackOfFocusedFromTo(
              text.counts.picture(print.frames.length),
              length(print.frames[0]!.distance_m),
              length(print.frames.at(-1)!.distance_m),
            )}
      </summary>
      <ol>
        {print.frames.map(({ distance_m, picture, film: linear }, n) => (
          <li key={n}>
            {length(distance_m)}{" "}
            {picture && linear ? (
              <>
                <a href={download(picture)} download>
                  {text.everywhere.png}
                </a>{" "}
                <a href={download(linear)} download>
                  {text.everywhere.openEXR}
                </a>
              </>
            ) : (
              text.lab.toCome
            )}
          </li>
        ))}
      </ol>
    </details>
  );
}
