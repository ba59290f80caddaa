import { memo } from "react";
import { Menu, MenuItem, MenuTrigger, Popover } from "react-aria-components";
import styled from "styled-components";
import { http, type Project, type ScoutAnswer, shotIn, answerOf, type Write } from "../../api/client";
import { FilmButton, MenuPaper } from "../../kit/controls";
import { ExposureReading } from "../../instruments/exposure/Exposure";
import { useLensWords } from "../../instruments/lens/words";
import { useLength } from "../../kit/ruler";
import { edgePrint, film, filmText, ink, spruce } from "../../kit/tokens";
import { degrees } from "../../kit/words";
import { useCalmDesk } from "../../shots/calmly";
import type { ShotDesk, ShotDraft } from "../../shots/draft";
import { partNames } from "../../shots/partNames";
import type { Arrangement } from "./Looks";
import { text } from "../../text";

const Paper = styled(Popover)`
  ${MenuPaper} color: ${ink};
  [data-selected] {
    color: ${spruce};
    font-weight: 650;
  }
  [role="menuitemradio"] {
    padding: 5px 10px;
    border-radius: 2px;
    cursor: pointer;
    outline: none;
  }
`;

const Strip = styled.div`
  background: ${film};
  color: ${filmText};
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 0 10px 0 14px;
  height: 34px;
  white-space: nowrap;
  overflow: hidden;
  b {
    color: ${edgePrint};
    font-weight: 700;
  }
  > b,
  > button,
  > .end {
    flex: none;
  }
  > span {
    overflow: hidden;
    text-overflow: ellipsis;
    min-width: 0;
  }
  &[data-crowded] {
    gap: 11px;
    > span:not(.follows) {
      flex-shrink: 0;
    }
  }
  .end {
    margin-left: auto;
    display: flex;
    gap: 4px;
    align-items: center;
  }
`;
const State = styled(FilmButton)<{ $on: boolean }>`
  ${(p) => (p.$on ? `background: ${edgePrint}; color: ${film}; &[data-hovered] { background: #fff3cf; filter: none; }` : "")}
`;

interface Props {
  project: Project;
  desk: ShotDesk | null;
  answer: ScoutAnswer | null;
  scouting: boolean;
  inHand: boolean;
  take: (id: string | null) => void;
  onScout: () => void;
  onBack: (() => void) | null;
  onNew: (() => void) | null;
  write: Write;
  arrangement: Arrangement;
  arrange: (to: Arrangement) => void;
}

const LOOKS: [Arrangement, string][] = [
  ["one", text.frame.oneLook],
  ["beside", text.frame.twoSideBySide],
  ["inset", text.frame.twoOneInset],
];

function LooksMenu({ arrangement, arrange }: { arrangement: Arrangement; arrange: (to: Arrangement) => void }) {
  return (
    <MenuTrigger>
      <FilmButton>{arrangement === "one" ? text.frame.oneLook : text.frame.twoLooks}</FilmButton>
      <Paper placement="top end">
        <Menu
          aria-label={text.frame.looks}
          selectionMode="single"
          selectedKeys={[arrangement]}
          onAction={(k) => arrange(k as Arrangement)}
        >
          {LOOKS.map(([id, name]) => (
            <MenuItem key={id} id={id}>
              {name}
            </MenuItem>
          ))}
        </Menu>
      </Paper>
    </MenuTrigger>
  );
}

function LensWords({ desk, short }: { desk: ShotDesk; short: boolean }) {
  const [first, then, more] = useLensWords(desk);
  return (
    <span>
      <b>{first}</b> {then}
      {!short && more}
    </span>
  );
}

/** The same, following a hand in a drawing a few times a second. */
export function CalmStrip({
  draft,
  atOnce,
  ...strip
}: Omit<Props, "desk"> & { draft: ShotDraft | null; atOnce: boolean }) {
  return <LensStrip desk={useCalmDesk(draft, atOnce)} {...strip} />;
}

/** The edge strip under the finder: what matters of the shot, or of the scout view. */
const LensStrip = memo(function LensStrip({
  project,
  desk,
  answer,
  scouting,
  inHand,
  take,
  onScout,
  onBack,
  onNew,
  write,
  arrangement,
  arrange,
}: Props) {
  const length = useLength();
  if (scouting) {
    return (
      <Strip>
        <b>{text.everywhere.scoutView}</b>
        {answer && (
          <span>
            <b>{answer.compass}</b> {degrees(answer.heading_deg, 0)}
          </span>
        )}
        {answer && (
          <span>
            {answer.above_floor_m == null ? (
              text.everywhere.noFloorUnderIt
            ) : (
              <>
                <b>{length(answer.above_floor_m)}</b> {text.frame.aboveFloor}
              </>
            )}
          </span>
        )}
        <span className="end">
          {desk || project.shots.length > 0 ? <LooksMenu arrangement={arrangement} arrange={arrange} /> : null}
          {onNew && (
            <FilmButton isDisabled={!answer} onPress={onNew}>
              {text.everywhere.newShotOfThisView}
            </FilmButton>
          )}
          {onBack && <FilmButton onPress={onBack}>{text.frame.backToTheShot}</FilmButton>}
        </span>
      </Strip>
    );
  }
  if (!desk)
    return (
      <Strip>
        <span>{text.frame.settingUp}</span>
      </Strip>
    );
  const { sheet, shot, row } = desk;
  const crowded = shot.stand.follow != null || shot.movements.rise_mm !== 0;
  return (
    <Strip data-crowded={crowded || undefined}>
      <b>▸ {project.shots.findIndex((s) => s.id === row.id) + 1}</b>
      <LensWords desk={desk} short={crowded} />
      <span>
        <b>{sheet.focus.stop ?? text.frame.allSharp}</b> {text.frame.atDistance(length(shot.focus.distance_m))}
      </span>
      <span>
        {sheet.pose.above_floor_m == null ? (
          text.everywhere.noFloorUnderIt
        ) : (
          <>
            <b>{length(sheet.pose.above_floor_m)}</b>{" "}
            {shot.stand.above_floor_m == null ? text.frame.aboveFloor : text.frame.staysAboveFloor}
          </>
        )}
      </span>
      {shot.movements.rise_mm !== 0 && (
        <span>
          <b>
            {shot.movements.rise_mm > 0 ? text.everywhere.rise : text.everywhere.fall}{" "}
            {Number(Math.abs(shot.movements.rise_mm).toFixed(2))}
          </b>
        </span>
      )}
      {shot.stand.follow && (
        <span className="follows">
          <b>{text.frame.follows}</b>{" "}
          {shot.stand.follow.part ? partNames(project.set.parts, shot.stand.follow.part)[0] : text.everywhere.aPoint}
        </span>
      )}
      <ExposureReading desk={desk} />
      <span className="end">
        <LooksMenu arrangement={arrangement} arrange={arrange} />
        <FilmButton onPress={onScout}>{text.frame.scout}</FilmButton>
        {row.locked ? (
          <State
            $on
            onPress={() =>
              write((now) =>
                answerOf(
                  http.POST("/api/shots/{key}/lock", {
                    params: { path: { key: row.id } },
                    body: { version: shotIn(now, row.id).version, locked: false },
                  }),
                ),
              )
            }
          >
            {text.frame.lockedUnlock}
          </State>
        ) : (
          <State $on={inHand} aria-pressed={inHand} onPress={() => take(inHand ? null : row.id)}>
            {inHand ? text.frame.inHand : text.frame.onTripod}
          </State>
        )}
      </span>
    </Strip>
  );
});
