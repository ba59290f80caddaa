import { memo, useEffect, useRef, useState } from "react";
import { Menu, MenuItem, MenuTrigger, Popover } from "react-aria-components";
import styled from "styled-components";
import { http, type Project, shotIn, type ShotRow, answerOf, useFresh, type Write } from "../api/client";
import { FilmButton, MenuPaper } from "../kit/controls";
import { newId } from "../kit/ids";
import { fromHere } from "../kit/place";
import { Another } from "./Another";
import { CopySettings } from "./CopySettings";
import { everything, isWanted, type Wanted } from "./find";
import { LabelsAndColour } from "./LabelsAndColour";
import { Narrow } from "./Narrow";
import { ShotCard } from "./ShotCard";
import { Takes } from "./Takes";
import { film, filmText, ink } from "../kit/tokens";
import { text } from "../text";

const Strip = styled.aside`
  background: ${film};
  color: ${filmText};
  display: flex;
  flex-direction: column;
  min-height: 0;
`;
const Head = styled.div`
  display: flex;
  align-items: center;
  padding: 10px 10px 8px 14px;
  color: ${filmText};
  font-weight: 600;
  span {
    margin-right: auto;
  }
`;
const List = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0 8px 24px 0;
  overflow: auto;
  flex: 1;
  scrollbar-color: #555 ${film};
`;
const Paper = styled(Popover)`
  ${MenuPaper} color: ${ink};
`;
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

/** The shot list as a film strip: each frame in its own ratio, numbered, named, with its lens data. */
export const ShotList = memo(function ShotList({
  project,
  chosen,
  wanted,
  want,
  sight,
  setSight,
  onSuggest,
  onChoose,
  onNewFromView,
  onNewInPlan,
  write,
}: Props) {
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
      const id = newId(),
        goOn = fromHere();
      write(async () => {
        const made = await answerOf(
          http.POST("/api/shots/{key}/duplicate", { ...key(row), body: { id, patch: null, gesture: null } }),
        );
        await fresh();
        goOn(() => onChoose(made.id));
      });
    }
    if (action === "takes" || action === "copy" || action === "another" || action === "labels")
      setSheet({ of: row.id, what: action });
    if (action === "itself")
      write((now) =>
        answerOf(
          http.POST("/api/shots/{key}/card", {
            ...key(row),
            body: { ...seen(now), labels: null, colour: null, name_itself: true },
          }),
        ),
      );
    if (action === "sight")
      setSight(sight.includes(row.id) ? sight.filter((id) => id !== row.id) : [...sight.slice(-3), row.id]);
    if (action === "lock")
      write((now) =>
        answerOf(http.POST("/api/shots/{key}/lock", { ...key(row), body: { ...seen(now), locked: !row.locked } })),
      );
    if (action === "keep")
      write((now) => answerOf(http.POST("/api/shots/{key}/keep", { ...key(row), body: seen(now) })));
    if (action === "back")
      write((now) => answerOf(http.POST("/api/shots/{key}/back-to-kept", { ...key(row), body: seen(now) })));
    if (action === "delete") write(() => answerOf(http.DELETE("/api/shots/{key}", key(row))));
    const at = project.shots.findIndex((s) => s.id === row.id);
    if (action === "earlier" && at > 0) put(row, project.shots[at - 2]?.id ?? null);
    if (action === "later" && at + 1 < project.shots.length) put(row, project.shots[at + 1]!.id);
  };
  const order = (by: "name" | "room" | "lens" | "label") =>
    write(() =>
      answerOf(http.POST("/api/projects/{key}/order", { params: { path: { key: project.id } }, body: { by } })),
    );
  const put = (row: ShotRow, after: string | null) =>
    write((now) =>
      answerOf(
        http.POST("/api/shots/{key}/move", { ...key(row), body: { version: shotIn(now, row.id).version, after } }),
      ),
    );
  const rename = (row: ShotRow, name: string) => {
    setNaming(null);
    const clean = name.trim();
    if (clean && clean !== row.shot.name) {
      write((project) => {
        const now = shotIn(project, row.id);
        return answerOf(
          http.PATCH("/api/shots/{key}", {
            ...key(row),
            body: {
              version: now.version,
              label: text.shots.renameQuoted(clean),
              patch: { name: clean },
              seen: null,
              gesture: null,
            },
          }),
        );
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
    <Strip aria-label={text.shots.shotList}>
      <Head>
        <span>
          {shown.length === project.shots.length
            ? text.everywhere.shots
            : text.shots.ofShots(shown.length, project.shots.length)}
        </span>
        <MenuTrigger>
          <FilmButton aria-label={text.shots.orderTheShots} isDisabled={project.shots.length < 2}>
            {text.everywhere.orderButton}
          </FilmButton>
          <Paper>
            <Menu onAction={(k) => order(k as "name")}>
              <MenuItem id="name">{text.shots.byName}</MenuItem>
              <MenuItem id="room">{text.shots.byLevelAndRoom}</MenuItem>
              <MenuItem id="lens">{text.shots.byLens}</MenuItem>
              <MenuItem id="label">{text.shots.byLabel}</MenuItem>
            </Menu>
          </Paper>
        </MenuTrigger>
        <MenuTrigger>
          <FilmButton aria-label={text.shots.newShot}>{text.shots.newShotPlus}</FilmButton>
          <Paper>
            <Menu
              onAction={(k) => (k === "view" ? onNewFromView?.() : k === "suggest" ? onSuggest?.() : onNewInPlan())}
              disabledKeys={[...(onNewFromView ? [] : ["view"]), ...(onSuggest ? [] : ["suggest"])]}
            >
              <MenuItem id="view">{text.shots.fromTheScoutView}</MenuItem>
              <MenuItem id="plan">{text.shots.inPlanPressAndDrag}</MenuItem>
              <MenuItem id="suggest">{text.shots.atASuggestedStand}</MenuItem>
            </Menu>
          </Paper>
        </MenuTrigger>
      </Head>
      <Narrow rows={project.shots} wanted={wanted} want={want} />
      <List ref={list} onDragOver={(e) => e.preventDefault()} onDrop={() => dropAt(project.shots.length)}>
        {shown.map(({ row, n }) => {
          const drag = { dragged, over, setDragged, setOver };
          return (
            <ShotCard
              key={row.id}
              row={row}
              n={n}
              last={n + 1 === project.shots.length}
              chosen={row.id === chosen}
              inSight={sight.includes(row.id)}
              naming={naming === row.id}
              setNaming={setNaming}
              drag={drag}
              onDrop={() => dropAt(n)}
              onChoose={onChoose}
              act={(action) => act(row, action)}
              rename={(name) => rename(row, name)}
            />
          );
        })}
        {shown.length === 0 && project.shots.length > 0 && (
          <li style={{ padding: "10px 14px" }}>
            {text.shots.noShotIsLike}{" "}
            <FilmButton onPress={() => want(everything)}>{text.everywhere.showAll}</FilmButton>
          </li>
        )}
      </List>
      {asked && sheet?.what === "takes" && <Takes row={asked} close={() => setSheet(null)} write={write} />}
      {asked && sheet?.what === "copy" && (
        <CopySettings project={project} row={asked} close={() => setSheet(null)} write={write} />
      )}
      {asked && sheet?.what === "labels" && (
        <LabelsAndColour project={project} row={asked} close={() => setSheet(null)} write={write} />
      )}
      {asked && sheet?.what === "another" && (
        <Another
          row={asked}
          close={() => setSheet(null)}
          onMake={(make) => {
            const goOn = fromHere();
            write(async () => {
              const made = await make();
              await fresh();
              goOn(() => onChoose(made.id));
            });
          }}
        />
      )}
    </Strip>
  );
});
