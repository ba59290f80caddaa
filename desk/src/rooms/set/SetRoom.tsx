import { useMemo, useState } from "react";
import { Button as AriaButton, ToggleButton } from "react-aria-components";
import styled from "styled-components";
import { http, type Project, told, useWrite } from "../../api/client";
import { Finder } from "../../finder/Finder";
import { Button, Reading } from "../../kit/controls";
import { useSay } from "../../kit/notice";
import { card, ink, line, ochre, paper, quiet, spruce, sprucePale } from "../../kit/tokens";
import { many } from "../../kit/words";
import { useScout } from "../frame/scout";
import { SizeAgainstFigure } from "./SizeAgainstFigure";

const Room = styled.div`display: grid; grid-template-columns: 320px minmax(0, 1fr) 320px; min-height: 0;`;
const Tree = styled.aside`background: ${paper}; border-right: 1px solid ${line}; display: flex; flex-direction: column; min-height: 0;
  > div { padding: 12px 14px 8px; } h2 { font-weight: 650; font-size: 15px; } p { color: ${quiet}; }
  ul { list-style: none; margin: 0; padding: 0 8px 24px; overflow: auto; flex: 1; }`;
const Line = styled.li<{ $depth: number; $off: boolean }>`
  display: flex; align-items: center; gap: 4px; padding-left: ${(p) => p.$depth * 15}px; border-radius: 3px; min-height: 26px;
  &:hover { background: ${sprucePale}; }
  > span { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; color: ${(p) => (p.$off ? quiet : ink)}; ${(p) => (p.$off ? "text-decoration: line-through;" : "")} margin-right: auto; }
  > small { color: ${quiet}; font-size: 11px; }
`;
const Fold = styled(AriaButton)`border: 0; background: none; width: 20px; padding: 0; cursor: pointer; color: ${quiet};`;
const Lift = styled(ToggleButton)`
  border: 1px solid transparent; background: none; border-radius: 3px; cursor: pointer; font-size: 12px; padding: 0 7px; color: ${quiet}; white-space: nowrap;
  &[data-hovered] { border-color: ${line}; color: ${ink}; } &[data-selected] { color: ${ochre}; font-weight: 650; }
  &[data-disabled] { opacity: 0.5; cursor: default; }
`;
const Facts = styled.aside`background: ${card}; border-left: 1px solid ${line}; padding: 14px 16px; overflow: auto; display: grid; gap: 16px; align-content: start;
  h2 { font-weight: 650; font-size: 15px; } svg { max-width: 100%; height: auto; } p { color: ${quiet}; }`;
const Grid = styled.div`display: grid; grid-template-columns: 1fr 1fr; gap: 12px; b { font-size: 15px; }`;
const Find = styled.input`width: 100%; border: 1px solid ${line}; border-radius: 3px; background: #fff; padding: 5px 8px; margin-top: 8px; color: ${ink};
  &::placeholder { color: ${quiet}; } &:focus { outline: 2px solid ${spruce}; }`;

/** The set: its tree, what is lifted off while working, its size. */
export function SetRoom({ project }: { project: Project }) {
  const write = useWrite(project.id, useSay());
  const [folded, setFolded] = useState<Set<number>>(() => new Set());
  const [wanted, setWanted] = useState("");
  const [ratio, setRatio] = useState(1.4);
  const scout = useScout(project, true, ratio, null);
  const { parts } = project.set;
  const lifted = useMemo(() => new Set(project.lifted), [project.lifted]);
  const depth = useMemo(() => parts.reduce<number[]>((all, p) => [...all, p.parent === null ? 0 : (all[p.parent] ?? 0) + 1], []), [parts]);
  const parents = useMemo(() => new Set(parts.map((p) => p.parent).filter((n): n is number => n !== null)), [parts]);
  const above = (n: number, test: (m: number) => boolean): boolean => {
    for (let up = parts[n]?.parent ?? null; up !== null; up = parts[up]?.parent ?? null) if (test(up)) return true;
    return false;
  };
  const put = (next: number[]) => write.mutate(() => told(http.PATCH("/api/projects/{key}", { params: { path: { key: project.id } }, body: { version: project.version, lifted: next, name: null, plan_height: null } })));
  const shown = parts.map((part, n) => ({ part, n })).filter(({ part, n }) => (wanted ? part.name.toLowerCase().includes(wanted.toLowerCase()) : !above(n, (m) => folded.has(m))));
  const picture = scout.answer && { view: scout.answer.view, projection: scout.answer.projection, ratio, guides: [] };
  return (
    <Room>
      <Tree aria-label="Parts of the set">
        <div>
          <h2>Parts</h2>
          <p>{lifted.size ? `${many(lifted.size, "part")} lifted off while working. Pictures still show ${lifted.size === 1 ? "it" : "them"}.` : "Lift off what is in the way while you work. Pictures still show it."}</p>
          {lifted.size > 0 && <Button style={{ marginTop: 8 }} onPress={() => put([])}>Put all back</Button>}
          <Find aria-label="Find a part" placeholder="Find a part" value={wanted} onChange={(e) => setWanted(e.target.value)} />
        </div>
        <ul>
          {shown.map(({ part, n }) => {
            const by = above(n, (m) => lifted.has(m));
            const off = lifted.has(n) || by;
            return (
              <Line key={n} $depth={wanted ? 0 : depth[n] ?? 0} $off={off}>
                {parents.has(n) && !wanted ? (
                  <Fold aria-label={`${folded.has(n) ? "Unfold" : "Fold"} ${part.name}`} onPress={() => setFolded((f) => { const next = new Set(f); if (!next.delete(n)) next.add(n); return next; })}>{folded.has(n) ? "▸" : "▾"}</Fold>
                ) : <i style={{ width: 20 }} />}
                <span title={part.name}>{part.name}</span>
                <Lift aria-label={`Lift off ${part.name}`} isSelected={off} isDisabled={by} onChange={(on) => put(on ? [...project.lifted, n] : project.lifted.filter((m) => m !== n))}>{off ? "lifted off" : "lift off"}</Lift>
              </Line>
            );
          })}
          {shown.length === 0 && <p style={{ padding: 12 }}>No part is called that.</p>}
        </ul>
      </Tree>
      <Finder project={project} picture={picture} around={false} whole clean picking={false} label="Scout view of the set" onRatio={setRatio} onPick={() => undefined}
        onPushStart={scout.hold} onPush={(push) => scout.move({ kind: push.shift ? "look" : push.alt ? "shift" : "orbit", right: push.right, up: push.up })} onWheel={scout.wheel} onStep={scout.step} />
      <Facts>
        <h2>{project.set.file_name}</h2>
        <SizeAgainstFigure bounds={project.set.bounds} width={288} height={190} />
        <Grid>
          <Reading><span>Parts</span><b>{parts.length}</b></Reading>
          <Reading><span>Triangles</span><b>{project.set.triangles.toLocaleString("en").replaceAll(",", " ")}</b></Reading>
          <Reading><span>Materials</span><b>{project.set.materials}</b></Reading>
          <Reading><span>Textures</span><b>{project.set.textures}</b></Reading>
        </Grid>
        <p>Metres, Z up; north is +Y. A glTF file says its own units and is turned from Y up on the way in.</p>
        <p>Drag to orbit, with Shift to look, with Alt to shift; wheel to come nearer; arrow keys to walk.</p>
      </Facts>
    </Room>
  );
}
