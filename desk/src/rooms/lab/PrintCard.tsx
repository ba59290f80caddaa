import styled from "styled-components";
import { http, type PrintRow, type Project, proofOf, told } from "../../api/client";
import { Plain } from "../../kit/controls";
import { Button as AriaButton } from "../../kit/pressed";
import { useLength } from "../../kit/ruler";
import { brick, card, film, filmText, line, ochre, quiet, spruce } from "../../kit/tokens";
import { many, seconds } from "../../kit/words";

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
  waiting: "Waiting",
  developing: "Developing",
  paused: "Paused",
  done: "Done",
  failed: "Failed",
  cancelled: "Cancelled",
};
const PLACES = [
  ["first", "First this one"],
  ["earlier", "Earlier"],
  ["later", "Later"],
] as const;
const FILES: Record<string, string> = { png: "PNG", jpg: "JPEG", exr: "OpenEXR" };
const time = (iso: string) => new Date(iso).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });

export const download = (url: string) => `${url.split("?")[0]}?download=true`;
/** The shot it is of, and the crop. */
export const called = ({ name, crop }: PrintRow) => (crop == null ? name : `${name}, ${crop}`);
export const framing = (print: PrintRow) =>
  `${print.take ? `take ${print.take}` : "not kept"} · ${print.line} · ${print.size[0]} × ${print.size[1]} px`;
const unseen = (print: PrintRow) => (print.state === "developing" ? "In the developer" : STATES[print.state]);

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
            ? `Open the ${print.kind} of ${called(print)} large`
            : `${unseen(print)}: the ${print.kind} of ${called(print)}`
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
        <p>
          {framing(print)} · ordered {time(print.ordered)}
        </p>
        {final && (!listed || !over || print.merged_of > 0) && (
          <p>
            {[
              !listed && `Final, order ${print.order}`,
              print.merged_of > 0 && `merged of a stack of ${print.merged_of}`,
              !over && many(print.pieces[1] - 1, "tile"),
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
              aria-label="Progress"
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
            Done · {final ? "up to " : ""}
            {String(print.made_with.samples)} samples a pixel · {String(print.made_with.renderer)}
          </p>
        )}
        {print.files[0] && <p>{print.files[0].name.replace(/\.[^.]*$/, "")}</p>}
        {print.state === "cancelled" && <p>Cancelled</p>}
        {print.state === "failed" && (
          <p className="why" role="alert">
            Failed. {print.trouble}
          </p>
        )}
      </Words>
      <Acts>
        {running && <Plain onPress={() => write(() => told(http.POST("/api/prints/{key}/pause", path)))}>Pause</Plain>}
        {!over && <Plain onPress={() => write(() => told(http.POST("/api/prints/{key}/cancel", path)))}>Cancel</Plain>}
        {print.state !== "done" && !running && (
          <Plain onPress={() => write(() => told(http.POST("/api/prints/{key}/retry", path)))}>
            {print.state === "paused" ? "Go on" : "Retry"}
          </Plain>
        )}
        {!over &&
          final &&
          PLACES.map(([where, words]) => (
            <Plain
              key={where}
              onPress={() => write(() => told(http.POST("/api/prints/{key}/place", { ...path, body: { where } })))}
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
            PNG
          </a>
        )}
        {print.film && (
          <a href={download(print.film)} download>
            OpenEXR
          </a>
        )}
        {print.frame && <Plain onPress={() => toShot(print.shot_id)}>Go to the shot</Plain>}
        {print.frame && print.stale && !final && (
          <Plain onPress={() => write(proofOf(print.shot_id, print.crop, print.frames.length > 0))}>
            {print.frames.length > 0 ? "Print it" : "Proof it"} as it is now
          </Plain>
        )}
        {over && <Plain onPress={() => write(() => told(http.DELETE("/api/prints/{key}", path)))}>Throw away</Plain>}
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
          ? "One picture does for the stack"
          : `Stack of ${many(print.frames.length, "picture")}, focused from ${length(print.frames[0]!.distance_m)} to ${length(print.frames.at(-1)!.distance_m)}`}
      </summary>
      <ol>
        {print.frames.map(({ distance_m, picture, film: linear }, n) => (
          <li key={n}>
            {length(distance_m)}{" "}
            {picture && linear ? (
              <>
                <a href={download(picture)} download>
                  PNG
                </a>{" "}
                <a href={download(linear)} download>
                  OpenEXR
                </a>
              </>
            ) : (
              "to come"
            )}
          </li>
        ))}
      </ol>
    </details>
  );
}
