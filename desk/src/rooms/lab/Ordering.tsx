import { useState } from "react";
import { Dialog, Heading, Label } from "react-aria-components";
import type { Project } from "../../api/client";
import { Inside, Longest, Scaled } from "../../api/limits";
import { type Lab, type Order, orderOf, useExpected, type Wanted } from "../../api/lab";
import { Check, Checks } from "../../kit/checks";
import { Choice } from "../../kit/choice";
import { Fields, Find, Plain, Primary, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { Overlay } from "../../kit/sheet";
import { bytesWords, many } from "../../kit/words";
import { Foot, List, One, Pictures, Settings, Two, Wide } from "./page";

type Size = NonNullable<Order["size"]>;
type Formats = NonNullable<Order["formats"]>;
type Layer = NonNullable<Formats["layers"]>[number];
const LAYERS: [Layer, string][] = [["depth", "Depth in metres"], ["normal", "Normals"], ["albedo", "Albedo"], ["parts", "Parts, as an id matte"]];
const SIZES = [{ id: "own", name: "each its own" }, { id: "longest", name: "longest side" }, { id: "inside", name: "inside a size" }, { id: "scaled", name: "scaled" }];
const FIRST_SIZES: Record<Size["kind"], Size> = { own: { kind: "own" }, longest: { kind: "longest", px: 1920 }, inside: { kind: "inside", output_px: [1920, 1080] }, scaled: { kind: "scaled", times: 0.5 } };

const keyOf = (one: { shot: string; cut?: string | null }) => `${one.shot}|${one.cut ?? ""}`;

/** All a project could print: each shot whole, and under it its cuts. */
const printable = (project: Project) =>
  project.shots.flatMap((row, n) => [
    { shot: row.id, cut: null as string | null, number: n + 1, name: row.shot.name, px: row.frame_px, thumbnail: row.thumbnail },
    ...row.cuts.map((cut) => ({ shot: row.id, cut: cut.name as string | null, number: n + 1, name: `${row.shot.name}, ${cut.name}`, px: cut.output_px, thumbnail: cut.thumbnail })),
  ]);

const spanWords = (s: number) => (s < 90 ? `${Math.max(1, Math.round(s))} s` : s < 5400 ? `${Math.round(s / 60)} min` : `${(s / 3600).toFixed(1)} h`);

interface Props { project: Project; lab: Lab; first: Order | null; close: () => void; place: (order: () => Promise<unknown>) => void }

/** Finals chosen from a list, with all they will come to before they start. */
export function Ordering({ project, lab, first, close, place }: Props) {
  const all = printable(project);
  const known = new Set(all.map(keyOf));
  const begun = first ?? lab.first;
  const [chosen, choose] = useState<string[]>((first?.pictures ?? []).map(keyOf).filter((key) => known.has(key)));
  const [own, setOwn] = useState<Record<string, Wanted["size"]>>(() => Object.fromEntries((first?.pictures ?? []).map((one) => [keyOf(one), one.size ?? null])));
  const [size, setSize] = useState<Size>(begun?.size ?? FIRST_SIZES.own);
  const [quality, setQuality] = useState<NonNullable<Order["quality"]>>(begun?.quality ?? "good");
  const [formats, setFormats] = useState<Formats>(begun?.formats ?? { png: 8, jpeg: null, exr: null, layers: [] });
  const [pattern, setPattern] = useState(begun?.pattern ?? lab.first_pattern);
  const [wanted, want] = useState("");
  const pictures = all.filter((one) => chosen.includes(keyOf(one))).map((one): Wanted => ({ shot: one.shot, cut: one.cut, size: own[keyOf(one)] ?? null }));
  const order: Order | null = pictures.length > 0 ? { pictures, size, quality, formats, pattern } : null;
  const { data, error } = useExpected(project, order);
  const expected = order && !error ? data : undefined;
  const told = new Map(expected?.pictures.map((one) => [keyOf(one), one]));
  const shown = all.filter((one) => one.name.toLowerCase().includes(wanted.trim().toLowerCase()));
  const frames = all.filter((one) => one.cut === null).map(keyOf);
  const meant = lab.qualities.find(({ name }) => name === quality);
  const put = (change: Partial<Formats>) => setFormats((now) => ({ ...now, ...change }));
  const example = expected?.pictures[0];
  return (
    <Overlay isOpen onOpenChange={(open) => { if (!open) close(); }} isDismissable>
      <Wide>
        <Dialog>
          <Heading slot="title">Order finals</Heading>
          <Two>
            <Pictures>
              <Row>
                <Plain onPress={() => choose(frames)}>All frames</Plain>
                <Plain onPress={() => choose(all.map(keyOf))}>Cuts too</Plain>
                <Plain isDisabled={chosen.length === 0} onPress={() => choose([])}>None</Plain>
                <Find style={{ flex: 1 }} aria-label="Find a picture" placeholder="Find a picture" value={wanted} onChange={(e) => want(e.target.value)} />
              </Row>
              <List value={chosen} onChange={choose} aria-label="Pictures">
                {shown.map((one) => {
                  const key = keyOf(one), now = told.get(key);
                  return (
                    <One key={key} value={key} aria-label={`${one.number}, ${one.name}`} style={one.cut === null ? undefined : { marginLeft: 30 }}>
                      <i>{one.thumbnail && <img src={one.thumbnail} alt="" loading="lazy" />}</i>
                      <span>
                        {one.cut === null ? `${one.number}  ${one.name}` : one.name}
                        {now && <small>{now.called}.{expected?.endings.join(", .")}</small>}
                        {now?.against.map((words) => <small key={words} className="mind">{words}</small>)}
                      </span>
                      <em>{(now?.size_px ?? one.px).join(" × ")}<br />{own[key] ? "its own size" : ""}</em>
                    </One>
                  );
                })}
              </List>
            </Pictures>
            <Settings>
              <section>
                <h3>Size</h3>
                <SizeChoice size={size} setSize={setSize} />
                {chosen.length === 1 && <OwnSize size={own[chosen[0]!] ?? null} setSize={(to) => setOwn((now) => ({ ...now, [chosen[0]!]: to }))} />}
              </section>
              <section>
                <h3>Quality</h3>
                <Row role="group" aria-label="Quality">{lab.qualities.map(({ name }) => <Toggle key={name} isSelected={name === quality} onChange={() => setQuality(name)}>{name}</Toggle>)}</Row>
                {meant && <p style={{ marginTop: 6 }}>{meant.words}. {meant.least} to {meant.samples} samples a pixel, until no more grain is left than {meant.noise} steps of 255; light is followed over {meant.bounces} surfaces. Cleaned at the end.</p>}
              </section>
              <section>
                <h3>Files</h3>
                <Fields $columns={3}>
                  <Choice label="PNG" value={String(formats.png ?? "none")} options={[{ id: "8", name: "8 bit" }, { id: "16", name: "16 bit" }, { id: "none", name: "none" }]} onChoose={(id) => put({ png: id === "none" ? null : id === "8" ? 8 : 16 })} />
                  <Choice label="JPEG" value={String(formats.jpeg ?? "none")} shown={formats.jpeg == null ? "none" : `quality ${formats.jpeg}`} options={[{ id: "none", name: "none" }, { id: "95", name: "quality 95" }, { id: "85", name: "quality 85" }, { id: "70", name: "quality 70" }]} onChoose={(id) => put({ jpeg: id === "none" ? null : Number(id) })} />
                  <Choice label="OpenEXR" value={formats.exr ?? "none"} options={[{ id: "none", name: "none" }, { id: "half", name: "half" }, { id: "float", name: "float" }]} onChoose={(id) => put({ exr: id === "none" ? null : (id as "half" | "float"), layers: id === "none" ? [] : formats.layers })} />
                </Fields>
                {formats.exr && (
                  <Checks style={{ marginTop: 8 }} value={formats.layers ?? []} onChange={(layers) => put({ layers: LAYERS.map(([id]) => id).filter((id) => layers.includes(id)) })}>
                    <Label>Layers beside the picture</Label>
                    {LAYERS.map(([id, words]) => <Check key={id} value={id}>{words}</Check>)}
                  </Checks>
                )}
              </section>
              <section>
                <h3>Names</h3>
                <Find aria-label="Pattern of names" value={pattern} spellCheck={false} onChange={(e) => setPattern(e.target.value)} />
                <Row style={{ gap: 0, marginTop: 4 }}>{lab.fields.map((field) => <Plain key={field} style={{ fontSize: 12, minHeight: 26 }} onPress={() => setPattern((now) => `${now}{${field}}`)}>{`{${field}}`}</Plain>)}</Row>
                {example && <p>As <b>{example.called}.{expected?.endings[0]}</b></p>}
              </section>
              {order && error && <p className="why" role="alert">{error.message}</p>}
            </Settings>
          </Two>
          <Foot>
            {order === null ? <span>Choose the pictures that are to be made.</span> : expected && (
              <>
                <b>{many(pictures.length, "picture")}</b>
                <span>{expected.seconds ? expected.seconds.map((one) => spanWords(Number(one))).join(" to ") : "time is told when a machine has made its first tiles"}, {expected.machines === 0 ? "no machine is there" : `with ${many(expected.machines, "machine")}`}</span>
                <span>about {bytesWords(expected.bytes)}</span>
              </>
            )}
            <span className="end">
              <Plain onPress={close}>Leave it</Plain>
              <Primary isDisabled={order === null || !!error || !expected} onPress={() => { if (order) place(orderOf(project.id, order)); close(); }}>
                {order ? `Order ${many(pictures.length, "picture")}` : "Order"}
              </Primary>
            </span>
          </Foot>
        </Dialog>
      </Wide>
    </Overlay>
  );
}

/** A picture that is chosen alone may have a size other than the order's. */
function OwnSize({ size, setSize }: { size: Size | null; setSize: (size: Size | null) => void }) {
  return (
    <div style={{ marginTop: 8 }}>
      <Toggle isSelected={size !== null} onChange={(on) => setSize(on ? FIRST_SIZES.longest : null)}>This picture in a size of its own</Toggle>
      {size && <div style={{ marginTop: 6 }}><SizeChoice size={size} setSize={setSize} /></div>}
    </div>
  );
}

function SizeChoice({ size, setSize }: { size: Size; setSize: (size: Size) => void }) {
  return (
    <Fields>
      <Choice label="Pictures are" value={size.kind ?? "own"} options={SIZES} onChoose={(id) => setSize(FIRST_SIZES[id as Size["kind"]])} />
      {size.kind === "longest" && <NumberField label="Pixels" digits={0} step={10} of={Longest.px} value={size.px} onCommit={(px) => setSize({ ...size, px: Math.round(px) })} />}
      {size.kind === "scaled" && <NumberField label="Times" digits={2} step={0.05} of={Scaled.times} value={size.times} onCommit={(times) => setSize({ ...size, times })} />}
      {size.kind === "inside" && ["Width", "Height"].map((label, n) => (
        <NumberField key={label} label={label} digits={0} step={10} of={Inside.output_px} value={size.output_px[n]!}
          onCommit={(px) => setSize({ ...size, output_px: size.output_px.map((old, at) => (at === n ? Math.round(px) : old)) as [number, number] })} />
      ))}
    </Fields>
  );
}
