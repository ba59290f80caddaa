import { memo, useEffect, useRef, useState } from "react";
import { Menu, MenuItem, MenuTrigger, Popover } from "react-aria-components";
import { Button } from "../kit/pressed";
import styled from "styled-components";
import { http, type Project, shotIn, type ShotRow, told, useFresh, type Write } from "../api/client";
import { FilmButton, MenuPaper } from "../kit/controls";
import { newId } from "../kit/ids";
import { Another } from "./Another";
import { CopySettings } from "./CopySettings";
import { everything, isWanted, type Wanted } from "./find";
import { LabelsAndColour } from "./LabelsAndColour";
import { Narrow } from "./Narrow";
import { Takes } from "./Takes";
import { edgePrint, film, filmLift, filmText, ink, paper, spruce } from "../kit/tokens";

const Strip = styled.aside`background: ${film}; color: ${filmText}; display: flex; flex-direction: column; min-height: 0;`;
const Head = styled.div`display: flex; align-items: center; padding: 10px 10px 8px 14px; color: ${filmText}; font-weight: 600;
  span { margin-right: auto; }`;
const List = styled.ol`list-style: none; margin: 0; padding: 0 8px 24px 0; overflow: auto; flex: 1; scrollbar-color: #555 ${film};`;
const Item = styled.li<{ $on: boolean; $over: boolean }>`
  display: grid; grid-template-columns: 26px 1fr; padding: 2px 0; border-top: 2px solid ${(p) => (p.$over ? edgePrint : "transparent")};
  > i { font-style: normal; color: ${edgePrint}; font-weight: 700; font-size: 11px; text-align: right; padding: 8px 6px 0 0; font-stretch: 85%; }
  > div { position: relative; border-radius: 3px; background: ${(p) => (p.$on ? paper : "transparent")}; color: ${(p) => (p.$on ? ink : filmText)}; }
  > div:hover { background: ${(p) => (p.$on ? paper : filmLift)}; }
`;
const Pick = styled(Button)`
  display: block; width: 100%; border: 0; background: none; text-align: left; padding: 6px 6px 0; cursor: pointer; color: inherit; border-radius: 3px;
  img { display: block; margin-bottom: 4px; background: #111; object-fit: contain; }
  b { display: block; font-weight: 650; line-height: 1.25; padding-right: 18px; }
  &::after { content: ""; position: absolute; inset: 0; border-radius: 3px; }
  &[data-focus-visible] { outline-color: ${edgePrint}; }
`;
/** Beside the name, not in it: what one says to press a shot is what it is called. The whole card is pressed all the same. */
const About = styled.div`padding: 0 6px 6px; span { font-size: 12px; opacity: 0.86; display: block; } em { font-size: 11px; font-style: normal; opacity: 0.8; display: block; }`;
const More = styled(Button)`
  position: absolute; right: 3px; top: 3px; border: 0; background: rgba(35, 38, 37, 0.72); color: #fff; border-radius: 3px; cursor: pointer; padding: 0 7px 3px; line-height: 1.1; min-width: 26px; min-height: 24px;
  &[data-focus-visible] { outline-color: ${edgePrint}; }
`;
const Spot = styled.i`position: absolute; left: 0; top: 6px; bottom: 6px; width: 4px; border-radius: 2px;`;
const Paper = styled(Popover)`${MenuPaper} color: ${ink};`;
const Name = styled.input`width: 100%; font-weight: 650; border: 0; border-bottom: 2px solid ${spruce}; background: #fff; color: ${ink}; padding: 2px 4px; margin: 0 6px 6px; width: calc(100% - 12px);`;

interface Props {
  project: Project;
  chosen: string | null;
  wanted: Wanted;
  want: (wanted: Wanted) => void;
  sight: string[];
  setSight: (ids: string[]) => void;
  onSuggest: (() => void) | null;
  onChoose: (id: string) => void;
  onNewFromView: (() => void) | null;
  onNewInPlan: () => void;
  write: Write;
}

const state = (row: ShotRow) => [row.line, row.locked ? "locked" : null, row.kept ? null : "not kept"].filter(Boolean).join(" · ");

/** The shot list as a film strip: each frame in its own ratio, numbered, named, with its lens data. */
export const ShotList = memo(function ShotList({ project, chosen, wanted, want, sight, setSight, onSuggest, onChoose, onNewFromView, onNewInPlan, write }: Props) {
  const [sheet, setSheet] = useState<{ of: string; what: "takes" | "copy" | "another" | "labels" } | null>(null);
  const shown = project.shots.map((row, n) => ({ row, n })).filter(({ row }) => isWanted(row, wanted));
  const asked = project.shots.find((s) => s.id === sheet?.of);
  const fresh = useFresh(project.id);
  const [naming, setNaming] = useState<string | null>(null);
  const [dragged, setDragged] = useState<string | null>(null);
  const [over, setOver] = useState<string | null>(null);
  const list = useRef<HTMLOListElement>(null);
  useEffect(() => {
    if (chosen) list.current?.querySelector(`[data-shot="${chosen}"]`)?.scrollIntoView({ block: "nearest" });
  }, [chosen]);

  const key = (row: ShotRow) => ({ params: { path: { key: row.id } } });
  const act = (row: ShotRow, action: string) => {
    const seen = (now: Project) => ({ version: shotIn(now, row.id).version });
    if (action === "name") setNaming(row.id);
    if (action === "duplicate") {
      const id = newId();
      write(async () => {
        const made = await told(http.POST("/api/shots/{key}/duplicate", { ...key(row), body: { id, patch: null, gesture: null } }));
        await fresh();
        onChoose(made.id);
      });
    }
    if (action === "takes" || action === "copy" || action === "another" || action === "labels") setSheet({ of: row.id, what: action });
    if (action === "itself") write((now) => told(http.POST("/api/shots/{key}/card", { ...key(row), body: { ...seen(now), labels: null, colour: null, name_itself: true } })));
    if (action === "sight") setSight(sight.includes(row.id) ? sight.filter((id) => id !== row.id) : [...sight.slice(-3), row.id]);
    if (action === "lock") write((now) => told(http.POST("/api/shots/{key}/lock", { ...key(row), body: { ...seen(now), locked: !row.locked } })));
    if (action === "keep") write((now) => told(http.POST("/api/shots/{key}/keep", { ...key(row), body: seen(now) })));
    if (action === "back") write((now) => told(http.POST("/api/shots/{key}/back-to-kept", { ...key(row), body: seen(now) })));
    if (action === "delete") write(() => told(http.DELETE("/api/shots/{key}", key(row))));
    const at = project.shots.findIndex((s) => s.id === row.id);
    if (action === "earlier" && at > 0) put(row, project.shots[at - 2]?.id ?? null);
    if (action === "later" && at + 1 < project.shots.length) put(row, project.shots[at + 1]!.id);
  };
  const order = (by: "name" | "room" | "lens" | "label") => write(() => told(http.POST("/api/projects/{key}/order", { params: { path: { key: project.id } }, body: { by } })));
  const put = (row: ShotRow, after: string | null) => write((now) => told(http.POST("/api/shots/{key}/move", { ...key(row), body: { version: shotIn(now, row.id).version, after } })));
  const rename = (row: ShotRow, name: string) => {
    setNaming(null);
    const clean = name.trim();
    if (clean && clean !== row.shot.name) {
      write((project) => {
        const now = shotIn(project, row.id);
        return told(http.PATCH("/api/shots/{key}", { ...key(row), body: { version: now.version, label: `Rename “${clean}”`, patch: { name: clean }, seen: null, gesture: null } }));
      });
    }
  };
  const dropAt = (index: number) => {
    const row = project.shots.find((s) => s.id === dragged);
    setDragged(null);
    setOver(null);
    if (!row) return;
    const others = project.shots.filter((s) => s.id !== row.id);
    const target = project.shots[index];
    const place = target ? others.findIndex((s) => s.id === target.id) : others.length;
    if (target?.id !== row.id) put(row, others[place - 1]?.id ?? null);
  };
  return (
    <Strip aria-label="Shot list">
      <Head>
        <span>{shown.length === project.shots.length ? `Shots` : `${shown.length} of ${project.shots.length} shots`}</span>
        <MenuTrigger>
          <FilmButton aria-label="Order the shots" isDisabled={project.shots.length < 2}>Order</FilmButton>
          <Paper>
            <Menu onAction={(k) => order(k as "name")}>
              <MenuItem id="name">By name</MenuItem>
              <MenuItem id="room">By level and room</MenuItem>
              <MenuItem id="lens">By lens</MenuItem>
              <MenuItem id="label">By label</MenuItem>
            </Menu>
          </Paper>
        </MenuTrigger>
        <MenuTrigger>
          <FilmButton aria-label="New shot">+ New shot</FilmButton>
          <Paper>
            <Menu onAction={(k) => (k === "view" ? onNewFromView?.() : k === "suggest" ? onSuggest?.() : onNewInPlan())} disabledKeys={[...(onNewFromView ? [] : ["view"]), ...(onSuggest ? [] : ["suggest"])]}>
              <MenuItem id="view">From the scout view, as it is</MenuItem>
              <MenuItem id="plan">In plan: press and drag</MenuItem>
              <MenuItem id="suggest">At a suggested stand of a room</MenuItem>
            </Menu>
          </Paper>
        </MenuTrigger>
      </Head>
      <Narrow rows={project.shots} wanted={wanted} want={want} />
      <List ref={list} onDragOver={(e) => e.preventDefault()} onDrop={() => dropAt(project.shots.length)}>
        {shown.map(({ row, n }) => {
          const ratio = row.frame_px[0] / row.frame_px[1];
          const wide = Math.min(156, 116 * ratio);
          return (
            <Item key={row.id} $on={row.id === chosen} $over={over === row.id} data-shot={row.id} draggable={naming !== row.id}
              onDragStart={(e) => { setDragged(row.id); e.dataTransfer.effectAllowed = "move"; }} onDragEnd={() => { setDragged(null); setOver(null); }}
              onDragOver={(e) => { if (dragged) { e.preventDefault(); setOver(row.id); } }} onDrop={(e) => { e.stopPropagation(); dropAt(n); }}>
              <i>{n + 1}</i>
              <div onDoubleClick={() => { if (!row.locked) setNaming(row.id); }}>
                <Pick aria-label={`Shot ${n + 1}, ${row.shot.name}`} aria-describedby={`about-${row.id}`} aria-current={row.id === chosen ? "true" : undefined} onPress={() => onChoose(row.id)}>
                  {row.colour && <Spot style={{ background: row.colour }} />}
                  <img src={row.thumbnail} alt="" width={Math.round(wide)} height={Math.round(wide / ratio)} draggable={false} loading="lazy" />
                  {naming !== row.id && <b>{row.shot.name}</b>}
                </Pick>
                {naming !== row.id && (
                  <About id={`about-${row.id}`}>
                    <span>{state(row)}</span>
                    {row.labels.length > 0 && <em>{row.labels.join(" · ")}</em>}
                  </About>
                )}
                {naming === row.id && (
                  <Name aria-label="Name of the shot" defaultValue={row.shot.name} autoFocus maxLength={120} onFocus={(e) => e.target.select()} onBlur={(e) => rename(row, e.target.value)}
                    onKeyDown={(e) => { if (e.key === "Enter") e.currentTarget.blur(); if (e.key === "Escape") { e.currentTarget.value = row.shot.name; setNaming(null); } }} />
                )}
                <MenuTrigger>
                  <More aria-label={`More for ${row.shot.name}`}>…</More>
                  <Paper placement="right top">
                    <Menu onAction={(k) => act(row, String(k))} disabledKeys={[...(row.kept ? ["keep", "back"] : []), ...(row.locked ? ["delete", "back", "name", "itself"] : []), ...(n === 0 ? ["earlier"] : []), ...(n + 1 === project.shots.length ? ["later"] : [])]}>
                      <MenuItem id="name">Rename</MenuItem>
                      <MenuItem id="itself">Name it by what it shows</MenuItem>
                      <MenuItem id="duplicate">Duplicate</MenuItem>
                      <MenuItem id="another">Duplicate with one change…</MenuItem>
                      <MenuItem id="copy">Copy settings to others…</MenuItem>
                      <MenuItem id="labels">Labels and colour…</MenuItem>
                      <MenuItem id="sight">{sight.includes(row.id) ? "Keep in sight no longer" : "Keep in sight"}</MenuItem>
                      <MenuItem id="takes">Takes…</MenuItem>
                      <MenuItem id="keep">Keep this framing</MenuItem>
                      <MenuItem id="back">Back to kept{row.take ? ` (take ${row.take.number})` : ""}</MenuItem>
                      <MenuItem id="lock">{row.locked ? "Unlock" : "Lock"}</MenuItem>
                      <MenuItem id="earlier">Earlier in the list</MenuItem>
                      <MenuItem id="later">Later in the list</MenuItem>
                      <MenuItem id="delete">Delete</MenuItem>
                    </Menu>
                  </Paper>
                </MenuTrigger>
              </div>
            </Item>
          );
        })}
        {shown.length === 0 && project.shots.length > 0 && <li style={{ padding: "10px 14px" }}>No shot is like that. <FilmButton onPress={() => want(everything)}>Show all</FilmButton></li>}
      </List>
      {asked && sheet?.what === "takes" && <Takes row={asked} close={() => setSheet(null)} write={write} />}
      {asked && sheet?.what === "copy" && <CopySettings project={project} row={asked} close={() => setSheet(null)} write={write} />}
      {asked && sheet?.what === "labels" && <LabelsAndColour project={project} row={asked} close={() => setSheet(null)} write={write} />}
      {asked && sheet?.what === "another" && (
        <Another row={asked} close={() => setSheet(null)} onMake={(make) => write(async () => {
          const made = await make();
          await fresh();
          onChoose(made.id);
        })} />
      )}
    </Strip>
  );
});
