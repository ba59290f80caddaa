import { useState } from "react";
import { Label } from "react-aria-components";
import { http, type PrintRow, type Project, answerOf } from "../../../api/client";
import { type Expected, type Lab, type Order, orderOf, type OrderRow, useExpected } from "../../../api/lab";
import { Check, Checks } from "../../../kit/checks";
import { Choice } from "../../../kit/choice";
import { Empty, Fields, Find, Plain, Primary, Row, Toggle } from "../../../kit/controls";
import { bytesWords } from "../../../kit/words";
import { type Draft, type Formats, ofEach, orderIn, printable, triedSmall } from "./draft";
import { OrderLine } from "./OrderLine";
import { Left, Lines, Page, Right, Sign, Soon, Sum } from "./page";
import { SizeChoice } from "./SizeChoice";
import { text } from "../../../text";

type Layer = NonNullable<Formats["layers"]>[number];
const LAYERS: [Layer, string][] = [
  ["depth", text.order.depthInMetres],
  ["normal", text.order.normals],
  ["albedo", text.order.albedo],
  ["parts", text.order.partsAsAnId],
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
      answerOf(
        http.POST("/api/shots/{key}/keep", {
          params: { path: { key: shot } },
          body: { version: now.shots.find(({ id }) => id === shot)?.version ?? 0 },
        }),
      ),
    );
  return (
    <Page>
      <Left aria-label={text.order.picturesToOrder}>
        <header>
          <h1>{text.order.aNewOrder}</h1>
          <span>{text.order.whatIsTickedIsMade}</span>
          <div className="end">
            <Plain onPress={() => choose(all.filter(({ crop }) => crop === null))}>{text.order.allFrames}</Plain>
            <Plain onPress={() => choose(all)}>{text.order.cropsToo}</Plain>
            <Plain onPress={() => choose(all.filter(({ holds }) => !holds))}>{text.order.onlyWhatNoFinal}</Plain>
            <Plain isDisabled={draft.chosen.length === 0} onPress={() => choose([])}>
              {text.everywhere.noneOfThem}
            </Plain>
            <Find
              aria-label={text.order.findAPicture}
              placeholder={text.order.findAPicture}
              value={wanted}
              onChange={(e) => want(e.target.value)}
            />
          </div>
        </header>
        {shown.length === 0 && (
          <Empty style={{ paddingTop: 40 }}>
            {all.length === 0 ? (
              <>
                <b>{text.everywhere.noShotsYet}</b>
                {text.order.finalsAreMadeOfShots}
              </>
            ) : (
              <>
                <b>{text.order.noSuchPicture}</b>
                {text.order.noShotAndNoCrop}
              </>
            )}
          </Empty>
        )}
        <Lines value={draft.chosen} onChange={(chosen) => draw({ chosen })} aria-label={text.everywhere.pictures}>
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
      <Right aria-label={text.order.whatIsMade}>
        <div>
          <SizeChoice label={text.order.picturesAre} sizes={draft.sizes} setSizes={(sizes) => draw({ sizes })} />
          <Quality lab={lab} quality={draft.quality} draw={draw} />
          <Files formats={draft.formats} draw={draw} />
          <div>
            <h2>{text.order.named}</h2>
            <Find
              aria-label={text.order.patternOfNames}
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
                {text.order.as}{" "}
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
          !error && <Soon>{order ? text.order.workingItOut : text.order.tickThePicturesThatAreToBeMade}</Soon>
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
      <h2>{text.order.quality}</h2>
      <Row role="group" aria-label={text.order.quality}>
        {lab.qualities.map(({ name }) => (
          <Toggle key={name} isSelected={name === quality} onChange={() => draw({ quality: name })}>
            {text.names.qualities[name]}
          </Toggle>
        ))}
      </Row>
      {meant && (
        <p>{text.order.toSamplesAPixel(meant.words, meant.least, meant.samples, meant.noise, meant.bounces)}</p>
      )}
    </div>
  );
}

function Files({ formats, draw }: { formats: Formats; draw: Props["draw"] }) {
  const put = (change: Partial<Formats>) => draw({ formats: { ...formats, ...change } });
  return (
    <div>
      <h2>{text.everywhere.files}</h2>
      <Fields $columns={3}>
        <Choice
          label={text.everywhere.png}
          value={String(formats.png ?? "none")}
          options={[
            { id: "8", name: text.order.bits8 },
            { id: "16", name: text.order.bits16 },
            { id: "none", name: text.everywhere.none },
          ]}
          onChoose={(id) => put({ png: id === "none" ? null : id === "8" ? 8 : 16 })}
        />
        <Choice
          label={text.order.jpeg}
          value={String(formats.jpeg ?? "none")}
          shown={formats.jpeg == null ? "none" : text.order.qualityOf(formats.jpeg)}
          options={[
            { id: "none", name: text.everywhere.none },
            { id: "95", name: text.order.quality95 },
            { id: "85", name: text.order.quality85 },
            { id: "70", name: text.order.quality70 },
          ]}
          onChoose={(id) => put({ jpeg: id === "none" ? null : Number(id) })}
        />
        <Choice
          label={text.everywhere.openEXR}
          value={formats.exr ?? "none"}
          options={[
            { id: "none", name: text.everywhere.none },
            { id: "half", name: text.order.half },
            { id: "float", name: text.order.float },
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
          <Label>{text.order.layersBesideThePicture}</Label>
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
  s < 90
    ? `${Math.max(1, Math.round(s))} s`
    : s < 5400
      ? text.order.minutes(Math.round(s / 60))
      : `${(s / 3600).toFixed(1)} h`;
const fromTo = (both: [number, number] | null, words: (one: number) => string) =>
  both && [...new Set(both.map((one) => words(Number(one))))].reduce(text.order.fromTo);
/** Which day, in words; empty for today. */
const dayOf = (then: Date) => {
  const days = Math.round((new Date(then).setHours(0, 0, 0, 0) - new Date().setHours(0, 0, 0, 0)) / 86_400_000);
  if (days < 1) return "";
  return days === 1 ? text.order.tomorrow : text.order.day(then);
};
const clock = (then: Date) => then.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
const onDay = (day: string, time: string) => (day ? text.order.onDay(day, time) : time);
const doneBy = (both: [string, string]) => {
  const [early, late] = both.map((iso) => new Date(iso)) as [Date, Date];
  const [from, to] = [clock(early), clock(late)];
  if (dayOf(early) === dayOf(late)) return onDay(dayOf(early), from === to ? from : text.order.fromTo(from, to));
  return text.order.fromTo(onDay(dayOf(early) || text.order.today, from), onDay(dayOf(late), to));
};

/** What an order comes to. */
function Comes({ expected }: { expected: Expected }) {
  const { pictures, files, bytes, machines, seconds, seconds_of_one: alone, done_by } = expected;
  return (
    <Sum aria-label={text.order.summary}>
      <dt>{text.everywhere.pictures}</dt>
      <dd>{pictures.length}</dd>
      <dt>{text.everywhere.files}</dt>
      <dd>{text.order.filesAbout(files, bytesWords(bytes))}</dd>
      {seconds === null && (
        <>
          <dt>{text.everywhere.time}</dt>
          <dd style={{ fontWeight: 400 }}>{text.order.toldWhenAMachine}</dd>
        </>
      )}
      {alone && (
        <>
          <dt>{text.order.onOneMachine}</dt>
          <dd>{fromTo(alone, span)}</dd>
        </>
      )}
      {seconds && machines > 1 && (
        <>
          <dt>{text.order.onTheThatAreHere(machines)}</dt>
          <dd>{fromTo(seconds, span)}</dd>
        </>
      )}
      {done_by && (
        <>
          <dt>{text.order.doneBy}</dt>
          <dd>{doneBy(done_by)}</dd>
        </>
      )}
      {machines === 0 && (
        <>
          <dt>{text.order.noMachineIsThere}</dt>
          <dd>{text.order.itWaitsUntilOne}</dd>
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
        {order ? text.everywhere.order(text.counts.picture(order.pictures.length)) : text.everywhere.orderButton}
      </Primary>
      <Plain
        isDisabled={off}
        onPress={() => {
          if (order) place(triedSmall(order), true);
        }}
      >
        {text.order.tryOneSmallFirst}
      </Plain>
      <Plain className="leave" onPress={leave}>
        {text.everywhere.cancel}
      </Plain>
    </Sign>
  );
}
