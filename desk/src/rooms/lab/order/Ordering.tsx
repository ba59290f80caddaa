import { useState } from "react";
import { Label } from "react-aria-components";
import { http, type PrintRow, type Project, told } from "../../../api/client";
import { type Expected, type Lab, type Order, orderOf, type OrderRow, useExpected } from "../../../api/lab";
import { Check, Checks } from "../../../kit/checks";
import { Choice } from "../../../kit/choice";
import { Empty, Fields, Find, Plain, Primary, Row, Toggle } from "../../../kit/controls";
import { bytesWords, many } from "../../../kit/words";
import { type Draft, type Formats, ofEach, orderIn, printable, triedSmall } from "./draft";
import { OrderLine } from "./OrderLine";
import { Left, Lines, Page, Right, Sign, Soon, Sum } from "./page";
import { SizeChoice } from "./SizeChoice";

type Layer = NonNullable<Formats["layers"]>[number];
const LAYERS: [Layer, string][] = [
  ["depth", "Depth in metres"],
  ["normal", "Normals"],
  ["albedo", "Albedo"],
  ["parts", "Parts, as an id matte"],
];

interface Props {
  project: Project;
  prints: PrintRow[];
  lab: Lab;
  draft: Draft;
  draw: (change: Partial<Draft>) => void;
  write: (action: (now: Project) => Promise<unknown>) => void;
  /** Whether it is on its way to be placed. */
  placing: boolean;
  place: (order: () => Promise<OrderRow>, tried: boolean) => void;
  leave: () => void;
}

/** A new order of finals: chosen from a list, with all it will come to before it starts. */
export function Ordering({ project, prints, lab, draft, draw, write, placing, place, leave }: Props) {
  const [wanted, want] = useState("");
  const all = printable(project, prints),
    order = orderIn(draft, all);
  const { data, error } = useExpected(project, prints, order);
  const expected = order && !error ? data : undefined;
  const answers = ofEach(expected?.pictures ?? []);
  const shown = all.filter(({ name }) => name.toLowerCase().includes(wanted.trim().toLowerCase()));
  const choose = (those: typeof all) => draw({ chosen: those.map(({ key }) => key) });
  const keep = (shot: string) =>
    write((now) =>
      told(
        http.POST("/api/shots/{key}/keep", {
          params: { path: { key: shot } },
          body: { version: now.shots.find(({ id }) => id === shot)?.version ?? 0 },
        }),
      ),
    );
  return (
    <Page>
      <Left aria-label="Pictures to order">
        <header>
          <h1>A new order</h1>
          <span>what is ticked is made, nothing else</span>
          <div className="end">
            <Plain onPress={() => choose(all.filter(({ crop }) => crop === null))}>All frames</Plain>
            <Plain onPress={() => choose(all)}>Crops too</Plain>
            <Plain onPress={() => choose(all.filter(({ holds }) => !holds))}>Only what no final shows</Plain>
            <Plain isDisabled={draft.chosen.length === 0} onPress={() => choose([])}>
              None
            </Plain>
            <Find
              aria-label="Find a picture"
              placeholder="Find a picture"
              value={wanted}
              onChange={(e) => want(e.target.value)}
            />
          </div>
        </header>
        {shown.length === 0 && (
          <Empty style={{ paddingTop: 40 }}>
            {all.length === 0 ? (
              <>
                <b>No shots yet</b>Finals are made of shots: place one in Frame.
              </>
            ) : (
              <>
                <b>No such picture</b>No shot and no crop is called that.
              </>
            )}
          </Empty>
        )}
        <Lines value={draft.chosen} onChange={(chosen) => draw({ chosen })} aria-label="Pictures">
          {shown.map((one) => (
            <OrderLine
              key={one.key}
              one={one}
              now={answers.get(one.key) ?? []}
              endings={expected?.endings ?? []}
              own={draft.own[one.key]}
              setOwn={(sizes) =>
                draw({
                  own: Object.fromEntries(
                    Object.entries({ ...draft.own, [one.key]: sizes }).filter(([, has]) => has),
                  ) as Draft["own"],
                })
              }
              single={draft.single.includes(one.key)}
              setSingle={(on) =>
                draw({ single: on ? [...draft.single, one.key] : draft.single.filter((key) => key !== one.key) })
              }
              keep={() => keep(one.shot)}
            />
          ))}
        </Lines>
      </Left>
      <Right aria-label="What is made">
        <div>
          <SizeChoice label="Pictures are" sizes={draft.sizes} setSizes={(sizes) => draw({ sizes })} />
          <Quality lab={lab} quality={draft.quality} draw={draw} />
          <Files formats={draft.formats} draw={draw} />
          <div>
            <h2>Named</h2>
            <Find
              aria-label="Pattern of names"
              value={draft.pattern}
              spellCheck={false}
              onChange={(e) => draw({ pattern: e.target.value })}
            />
            <Row style={{ gap: 0, marginTop: 4 }}>
              {lab.fields.map((field) => (
                <Plain
                  key={field}
                  style={{ fontSize: 12, minHeight: 26 }}
                  onPress={() => draw({ pattern: `${draft.pattern}{${field}}` })}
                >{`{${field}}`}</Plain>
              ))}
            </Row>
            {expected?.pictures[0] && (
              <p>
                As{" "}
                <b>
                  {expected.pictures[0].called}.{expected.endings[0]}
                </b>
              </p>
            )}
          </div>
        </div>
        {expected ? (
          <Comes expected={expected} />
        ) : (
          !error && <Soon>{order ? "Working it out…" : "Tick the pictures that are to be made."}</Soon>
        )}
        {order && error && (
          <p className="why" role="alert">
            {error.message}
          </p>
        )}
        <Buttons
          order={order}
          ready={!!expected && !placing}
          place={(one, tried) => place(orderOf(project.id, one), tried)}
          leave={leave}
        />
      </Right>
    </Page>
  );
}

function Quality({ lab, quality, draw }: { lab: Lab; quality: Draft["quality"]; draw: Props["draw"] }) {
  const meant = lab.qualities.find(({ name }) => name === quality);
  return (
    <div>
      <h2>Quality</h2>
      <Row role="group" aria-label="Quality">
        {lab.qualities.map(({ name }) => (
          <Toggle key={name} isSelected={name === quality} onChange={() => draw({ quality: name })}>
            {name}
          </Toggle>
        ))}
      </Row>
      {meant && (
        <p>
          {meant.words}. {meant.least} to {meant.samples} samples a pixel, until no more grain is left than{" "}
          {meant.noise} steps of 255; light is followed over {meant.bounces} surfaces. Cleaned at the end.
        </p>
      )}
    </div>
  );
}

function Files({ formats, draw }: { formats: Formats; draw: Props["draw"] }) {
  const put = (change: Partial<Formats>) => draw({ formats: { ...formats, ...change } });
  return (
    <div>
      <h2>Files</h2>
      <Fields $columns={3}>
        <Choice
          label="PNG"
          value={String(formats.png ?? "none")}
          options={[
            { id: "8", name: "8 bit" },
            { id: "16", name: "16 bit" },
            { id: "none", name: "none" },
          ]}
          onChoose={(id) => put({ png: id === "none" ? null : id === "8" ? 8 : 16 })}
        />
        <Choice
          label="JPEG"
          value={String(formats.jpeg ?? "none")}
          shown={formats.jpeg == null ? "none" : `quality ${formats.jpeg}`}
          options={[
            { id: "none", name: "none" },
            { id: "95", name: "quality 95" },
            { id: "85", name: "quality 85" },
            { id: "70", name: "quality 70" },
          ]}
          onChoose={(id) => put({ jpeg: id === "none" ? null : Number(id) })}
        />
        <Choice
          label="OpenEXR"
          value={formats.exr ?? "none"}
          options={[
            { id: "none", name: "none" },
            { id: "half", name: "half" },
            { id: "float", name: "float" },
          ]}
          onChoose={(id) =>
            put({ exr: id === "none" ? null : (id as "half" | "float"), layers: id === "none" ? [] : formats.layers })
          }
        />
      </Fields>
      {formats.exr && (
        <Checks
          style={{ marginTop: 8 }}
          value={formats.layers ?? []}
          onChange={(layers) => put({ layers: LAYERS.map(([id]) => id).filter((id) => layers.includes(id)) })}
        >
          <Label>Layers beside the picture</Label>
          {LAYERS.map(([id, words]) => (
            <Check key={id} value={id}>
              {words}
            </Check>
          ))}
        </Checks>
      )}
    </div>
  );
}

const span = (s: number) =>
  s < 90 ? `${Math.max(1, Math.round(s))} s` : s < 5400 ? `${Math.round(s / 60)} min` : `${(s / 3600).toFixed(1)} h`;
const fromTo = (both: [number, number] | null, words: (one: number) => string) =>
  both && [...new Set(both.map((one) => words(Number(one))))].join(" to ");
const dayOf = (then: Date) => {
  const days = Math.round((new Date(then).setHours(0, 0, 0, 0) - new Date().setHours(0, 0, 0, 0)) / 86_400_000);
  return days < 1
    ? ""
    : days === 1
      ? "tomorrow "
      : `${then.toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long" })} `;
};
const doneBy = (both: [string, string]) => {
  const [early, late] = both.map((iso) => new Date(iso)) as [Date, Date];
  const days = [dayOf(early), dayOf(late)],
    [from, to] = [early, late].map((then) => then.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" }));
  if (days[0] === days[1]) return `${days[0]}${from === to ? from : `${from} to ${to}`}`;
  return `${days[0] || "today "}${from} to ${days[1]}${to}`;
};

/** What an order comes to. */
function Comes({ expected }: { expected: Expected }) {
  const { pictures, files, bytes, machines, seconds, seconds_of_one: alone, done_by } = expected;
  return (
    <Sum aria-label="Summary">
      <dt>Pictures</dt>
      <dd>{pictures.length}</dd>
      <dt>Files</dt>
      <dd>
        {files}, about {bytesWords(bytes)}
      </dd>
      {seconds === null && (
        <>
          <dt>Time</dt>
          <dd style={{ fontWeight: 400 }}>told when a machine has made its first tiles</dd>
        </>
      )}
      {alone && (
        <>
          <dt>On one machine</dt>
          <dd>{fromTo(alone, span)}</dd>
        </>
      )}
      {seconds && machines > 1 && (
        <>
          <dt>On the {machines} that are here</dt>
          <dd>{fromTo(seconds, span)}</dd>
        </>
      )}
      {done_by && (
        <>
          <dt>Done by</dt>
          <dd>{doneBy(done_by)}</dd>
        </>
      )}
      {machines === 0 && (
        <>
          <dt>No machine is there</dt>
          <dd>it waits until one is</dd>
        </>
      )}
    </Sum>
  );
}

function Buttons({
  order,
  ready,
  place,
  leave,
}: {
  order: Order | null;
  ready: boolean;
  place: (order: Order, tried: boolean) => void;
  leave: () => void;
}) {
  const off = order === null || !ready;
  return (
    <Sign>
      <Primary
        isDisabled={off}
        onPress={() => {
          if (order) place(order, false);
        }}
      >
        {order ? `Order ${many(order.pictures.length, "picture")}` : "Order"}
      </Primary>
      <Plain
        isDisabled={off}
        onPress={() => {
          if (order) place(triedSmall(order), true);
        }}
      >
        Try one small first
      </Plain>
      <Plain className="leave" onPress={leave}>
        Cancel
      </Plain>
    </Sign>
  );
}
