import { useMemo } from "react";
import { type Project, useSectionMarks } from "../api/client";
import { PANELS } from "../instruments";
import { type ShotDesk, type ShotDraft, useWholeDesk } from "../shots/draft";
import { Cross, CutLines, Hatch, Sight, Tripod } from "./ink";
import { markedShots, markerColour, type MarkerLook } from "./markers";
import { useRuling } from "./ruling";
import { Handle } from "./Handle";
import { type Extent, Paper, type Point } from "./Paper";
import { text } from "../text";

/** The section along the lens axis, with a levelling staff that carries the lens height. */
export function Section({ draft, ...section }: Omit<Props, "desk"> & { draft: ShotDraft }) {
  const desk = useWholeDesk(draft);
  return desk && <SectionOf desk={desk} {...section} />;
}

interface Props {
  project: Project;
  desk: ShotDesk;
  look: MarkerLook;
  /** What a line that is drawn here is for; null while none is wanted. */
  onLine: ((drawing: "section", start: Point, end: Point) => void) | null;
  onStandIn: (n: number, origin: Point, heading: number, to: Point) => void;
  /** The instrument that is open. */
  open: string;
}

function SectionOf({ project, desk, look, onLine, onStandIn, open }: Props) {
  const ruling = useRuling(onLine && ((start, end) => onLine("section", start, end)));
  const { data: near } = useSectionMarks(project, desk.row);
  const shownShots = new Map(markedShots(project, look, desk.row.id).map(({ row, n }) => [row.id, { row, n }]));
  const { section } = desk.sheet.drawings;
  const extent = useMemo<Extent>(() => {
    const [least, most] = project.set.body;
    const size = Math.max(...most.map((v, k) => v - least[k]!));
    if (project.set.small) {
      // A thing on a table is seen whole, with the stand and what it stands on.
      const heights = [least[2], most[2], section.aim[1], section.stand[1]];
      const [foot, head] = [Math.min(...heights) - 0.25 * size, Math.max(...heights) + 0.25 * size];
      const far = section.aim[0] + 1.2 * size;
      return { x: -0.5 * size, y: foot, width: far + 0.7 * size, height: head - foot };
    }
    const floor = desk.sheet.pose.floor_z ?? section.stand[1] - 1.6;
    const reach = Math.max(2.5, section.aim[0] * 1.25);
    const low = Math.min(floor, section.aim[1], section.stand[1]) - 0.35;
    const high = Math.max(
      section.stand[1],
      section.aim[1],
      ...section.sides.map(([, , x, y]) => (x < reach ? y : 0)),
      floor + 2.6,
    );
    const height = Math.min(high + 0.4 - low, reach * 1.2);
    // The floor lies low on the sheet, whatever the sheet's shape.
    return { x: -2.3, y: low, width: reach + 2.8, height: Math.max(height, (reach + 1.4) * 0.6) };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- looked at anew only when another shot is chosen
  }, [desk.row.id]);
  const off = desk.row.locked;
  return (
    <Paper
      title={text.drawings.section}
      note={text.drawings.alongTheLensAxis}
      label={text.drawings.sectionAlongTheLens}
      extent={extent}
      home={desk.row.id}
      barAtTop
      onPress={ruling.press}
      onDrag={ruling.drag}
      onRelease={ruling.release}
      cursor={onLine ? "crosshair" : undefined}
    >
      {(eye) => (
        <>
          <defs>
            <Hatch id="section-hatch" />
          </defs>
          <CutLines eye={eye} cut={section.cut} open={section.cut_open} beyond={desk.beyond ?? none} />
          <Sight eye={eye} drawing={section} hatch="section-hatch" />
          <Cross eye={eye} x={section.aim[0]} y={section.aim[1]} />
          <rect x={0} y={eye.height - 26} width={eye.width} height={26} fill="#FAFAF9" />
          {near?.shots.map((mark) => {
            const one = shownShots.get(mark.shot);
            if (!one || Math.abs(mark.off_m) > NEAR_M) return null;
            return (
              <Tripod
                key={mark.shot}
                eye={eye}
                x={mark.at[0]}
                y={mark.at[1]}
                toward={[mark.aim[0], mark.aim[1]]}
                number={one.n + 1}
                on={false}
                colour={markerColour(one.row, false)}
                opacity={look.opacity * 0.8}
                size={look.size * 0.9}
              />
            );
          })}
          {near?.stand_ins.map((mark) => {
            if (Math.abs(mark.off_m) > NEAR_M) return null;
            const [px, py] = eye.at(mark.at[0], mark.at[1]);
            return (
              <Handle
                key={`stand-in${mark.number}`}
                eye={eye}
                x={mark.at[0]}
                y={mark.at[1]}
                label={text.drawings.inSection(project.stand_ins[mark.number]?.name ?? text.drawings.standIn)}
                onMove={() => undefined}
                onDrop={() => undefined}
                onDone={(to) => onStandIn(mark.number, [near.origin[0], near.origin[1]], near.heading_deg, to)}
              >
                <rect x={px - 3.5} y={py - 3.5} width={7} height={7} fill="#fff" stroke="#202322" strokeWidth={1.2} />
              </Handle>
            );
          })}
          {ruling.drawn(eye)}
          {PANELS.map(
            ({ key, InSection }) =>
              InSection && (
                <InSection key={key} project={project} desk={desk} off={off} open={key === open} eye={eye} />
              ),
          )}
        </>
      )}
    </Paper>
  );
}

const NEAR_M = 4;
const none: number[] = [];
