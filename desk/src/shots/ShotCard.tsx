import { Menu, MenuItem, MenuTrigger, Popover } from "react-aria-components";
import styled from "styled-components";
import type { ShotRow } from "../api/client";
import { MenuPaper } from "../kit/controls";
import { Button } from "../kit/pressed";
import { edgePrint, filmLift, filmText, ink, mid, paper, spruce } from "../kit/tokens";
import { text } from "../text";

const Item = styled.li<{ $on: boolean; $over: boolean }>`
  display: grid;
  grid-template-columns: 26px 1fr;
  padding: 2px 0;
  border-top: 2px solid ${(p) => (p.$over ? edgePrint : "transparent")};
  > i {
    font-style: normal;
    color: ${edgePrint};
    font-weight: 700;
    font-size: 11px;
    text-align: right;
    padding: 8px 6px 0 0;
    font-stretch: 85%;
  }
  > div {
    position: relative;
    border-radius: 3px;
    background: ${(p) => (p.$on ? paper : "transparent")};
    color: ${(p) => (p.$on ? ink : filmText)};
  }
  > div:hover {
    background: ${(p) => (p.$on ? paper : filmLift)};
  }
`;
const Pick = styled(Button)`
  display: block;
  width: 100%;
  border: 0;
  background: none;
  text-align: left;
  padding: 6px 6px 0;
  cursor: pointer;
  color: inherit;
  border-radius: 3px;
  img {
    display: block;
    margin-bottom: 4px;
    background: ${mid};
    object-fit: contain;
  }
  b {
    display: block;
    font-weight: 650;
    line-height: 1.25;
    padding-right: 18px;
  }
  &::after {
    content: "";
    position: absolute;
    inset: 0;
    border-radius: 3px;
  }
  &[data-focus-visible] {
    outline-color: ${edgePrint};
  }
`;
/**
 * Beside the name, not in it: what one says to press a shot is what it is called. The whole card is pressed all the
 * same.
 */
const About = styled.div`
  padding: 0 6px 6px;
  span {
    font-size: 12px;
    opacity: 0.86;
    display: block;
  }
  em {
    font-size: 11px;
    font-style: normal;
    opacity: 0.8;
    display: block;
  }
`;
const CutPictures = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 4px 6px;
  margin-top: 4px;
  figure {
    margin: 0;
  }
  img {
    display: block;
    background: ${mid};
    max-width: 62px;
    object-fit: contain;
  }
  figcaption {
    font-size: 10px;
    opacity: 0.85;
    text-align: center;
  }
`;
const More = styled(Button)`
  position: absolute;
  right: 3px;
  top: 3px;
  border: 0;
  background: rgba(35, 38, 37, 0.72);
  color: #fff;
  border-radius: 3px;
  cursor: pointer;
  padding: 0 7px 3px;
  line-height: 1.1;
  min-width: 26px;
  min-height: 24px;
  &[data-focus-visible] {
    outline-color: ${edgePrint};
  }
`;
const Spot = styled.i`
  position: absolute;
  left: 0;
  top: 6px;
  bottom: 6px;
  width: 4px;
  border-radius: 2px;
`;
const Paper = styled(Popover)`
  ${MenuPaper} color: ${ink};
`;
const Name = styled.input`
  width: 100%;
  font-weight: 650;
  border: 0;
  border-bottom: 2px solid ${spruce};
  background: #fff;
  color: ${ink};
  padding: 2px 4px;
  margin: 0 6px 6px;
  width: calc(100% - 12px);
`;

const state = (row: ShotRow) =>
  [row.line, row.locked ? text.shots.isLocked : null, row.kept ? null : text.everywhere.notKept]
    .filter(Boolean)
    .join(" · ");

interface Drag {
  dragged: string | null;
  over: string | null;
  setDragged: (id: string | null) => void;
  setOver: (id: string | null) => void;
}

interface Props {
  row: ShotRow;
  n: number;
  last: boolean;
  chosen: boolean;
  inSight: boolean;
  naming: boolean;
  setNaming: (id: string | null) => void;
  drag: Drag;
  onDrop: () => void;
  onChoose: (id: string) => void;
  act: (action: string) => void;
  rename: (name: string) => void;
}

/** A shot on the film strip: its frame, number, name and lens data, and all that is done with it. */
export function ShotCard({
  row,
  n,
  last,
  chosen,
  inSight,
  naming,
  setNaming,
  drag,
  onDrop,
  onChoose,
  act,
  rename,
}: Props) {
  const ratio = row.frame_px[0] / row.frame_px[1];
  const wide = Math.min(156, 116 * ratio);
  return (
    <Item
      $on={chosen}
      $over={drag.over === row.id}
      data-shot={row.id}
      draggable={!naming}
      onDragStart={(e) => {
        drag.setDragged(row.id);
        e.dataTransfer.effectAllowed = "move";
      }}
      onDragEnd={() => {
        drag.setDragged(null);
        drag.setOver(null);
      }}
      onDragOver={(e) => {
        if (drag.dragged) {
          e.preventDefault();
          drag.setOver(row.id);
        }
      }}
      onDrop={(e) => {
        e.stopPropagation();
        onDrop();
      }}
    >
      <i>{n + 1}</i>
      <div
        onDoubleClick={() => {
          if (!row.locked) setNaming(row.id);
        }}
      >
        <Pick
          aria-label={text.shots.shot(n + 1, row.shot.name)}
          aria-describedby={`about-${row.id}`}
          aria-current={chosen ? "true" : undefined}
          onPress={() => onChoose(row.id)}
        >
          {row.colour && <Spot style={{ background: row.colour }} />}
          <img
            src={row.thumbnail}
            alt=""
            width={Math.round(wide)}
            height={Math.round(wide / ratio)}
            draggable={false}
            loading="lazy"
          />
          {!naming && <b>{row.shot.name}</b>}
        </Pick>
        {!naming && (
          <About id={`about-${row.id}`}>
            <span>{state(row)}</span>
            {row.labels.length > 0 && <em>{row.labels.join(" · ")}</em>}
            {row.crops.length > 0 && (
              <CutPictures>
                {row.crops.map((crop) => (
                  <figure key={crop.name}>
                    <img
                      src={crop.thumbnail}
                      alt=""
                      width={Math.round(Math.min(62, (26 * crop.output_px[0]) / crop.output_px[1]))}
                      height={26}
                      draggable={false}
                      loading="lazy"
                    />
                    <figcaption>{crop.name}</figcaption>
                  </figure>
                ))}
              </CutPictures>
            )}
          </About>
        )}
        {naming && (
          <Name
            aria-label={text.shots.nameOfTheShot}
            defaultValue={row.shot.name}
            autoFocus
            maxLength={120}
            onFocus={(e) => e.target.select()}
            onBlur={(e) => rename(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === "Enter") e.currentTarget.blur();
              if (e.key === "Escape") {
                e.currentTarget.value = row.shot.name;
                setNaming(null);
              }
            }}
          />
        )}
        <MenuTrigger>
          <More aria-label={text.shots.moreFor(row.shot.name)}>…</More>
          <Paper placement="right top">
            <Menu
              onAction={(k) => act(String(k))}
              disabledKeys={[
                ...(row.kept ? ["keep", "back"] : []),
                ...(row.locked ? ["delete", "back", "name", "itself"] : []),
                ...(n === 0 ? ["earlier"] : []),
                ...(last ? ["later"] : []),
              ]}
            >
              <MenuItem id="name">{text.shots.rename}</MenuItem>
              <MenuItem id="itself">{text.shots.nameItByWhatItShows}</MenuItem>
              <MenuItem id="duplicate">{text.shots.duplicate}</MenuItem>
              <MenuItem id="another">{text.shots.duplicateWithOneChange}</MenuItem>
              <MenuItem id="copy">{text.shots.copySettingsToOthers}</MenuItem>
              <MenuItem id="labels">{text.shots.labelsAndColour}</MenuItem>
              <MenuItem id="sight">{inSight ? text.shots.keepInSightNoLonger : text.shots.keepInSight}</MenuItem>
              <MenuItem id="takes">{text.shots.takes}</MenuItem>
              <MenuItem id="keep">{text.shots.keepThisFraming}</MenuItem>
              <MenuItem id="back">
                {row.take ? text.shots.backToKeptTake(row.take.number) : text.shots.backToKept}
              </MenuItem>
              <MenuItem id="lock">{row.locked ? text.shots.unlock : text.shots.lock}</MenuItem>
              <MenuItem id="earlier">{text.shots.earlierInTheList}</MenuItem>
              <MenuItem id="later">{text.shots.laterInTheList}</MenuItem>
              <MenuItem id="delete">{text.everywhere.delete}</MenuItem>
            </Menu>
          </Paper>
        </MenuTrigger>
      </div>
    </Item>
  );
}
