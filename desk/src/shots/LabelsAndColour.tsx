import { useState } from "react";
import { Dialog, Heading } from "react-aria-components";
import { Button as AriaButton } from "../kit/pressed";
import styled from "styled-components";
import { http, type Project, shotIn, type ShotRow, answerOf, type Write } from "../api/client";
import { Button, Plain, Row } from "../kit/controls";
import { Overlay, Sheet } from "../kit/sheet";
import { ink, line, quiet, shotColours, spruce } from "../kit/tokens";
import { text } from "../text";

const Body = styled.div`
  width: 420px;
  max-width: 80vw;
  display: grid;
  gap: 14px;
  margin-bottom: 18px;
  h3 {
    color: ${quiet};
    font-size: 12px;
  }
  input {
    border: 0;
    border-bottom: 1px solid ${ink};
    background: none;
    padding: 3px 0;
    min-width: 160px;
  }
`;
const Chips = styled.div`
  display: flex;
  gap: 5px;
  flex-wrap: wrap;
  align-items: center;
`;
const Chip = styled(AriaButton)<{ $on: boolean }>`
  border: 1px solid ${(p) => (p.$on ? spruce : line)};
  background: ${(p) => (p.$on ? spruce : "#fff")};
  color: ${(p) => (p.$on ? "#fff" : ink)};
  border-radius: 3px;
  padding: 2px 8px;
  cursor: pointer;
`;
const Dab = styled(AriaButton)<{ $on: boolean }>`
  width: 26px;
  height: 26px;
  border-radius: 50%;
  border: 2px solid #fff;
  box-shadow: 0 0 0 ${(p) => (p.$on ? 2 : 1)}px ${(p) => (p.$on ? ink : line)};
  cursor: pointer;
  padding: 0;
`;

/** Own labels to find shots by, and the colour of the marker on drawings and in space. */
export function LabelsAndColour({
  project,
  row,
  close,
  write,
}: {
  project: Project;
  row: ShotRow;
  close: () => void;
  write: Write;
}) {
  const [typed, setTyped] = useState("");
  const all = [...new Set([...project.shots.flatMap((s) => s.labels), ...row.labels])].sort();
  const put = (change: (now: ShotRow) => { labels?: string[]; colour?: string }) =>
    write((project) => {
      const now = shotIn(project, row.id);
      return answerOf(
        http.POST("/api/shots/{key}/card", {
          params: { path: { key: row.id } },
          body: { version: now.version, labels: null, colour: null, name_itself: false, ...change(now) },
        }),
      );
    });
  const flip = (label: string) =>
    put(({ labels }) => ({ labels: labels.includes(label) ? labels.filter((l) => l !== label) : [...labels, label] }));
  const add = () => {
    const label = typed.trim();
    setTyped("");
    if (label && !row.labels.includes(label)) put(({ labels }) => ({ labels: [...labels, label] }));
  };
  return (
    <Overlay
      isOpen
      onOpenChange={(open) => {
        if (!open) close();
      }}
      isDismissable
    >
      <Sheet>
        <Dialog>
          <Heading slot="title">“{row.shot.name}”</Heading>
          <Body>
            <div>
              <h3>{text.shots.labels}</h3>
              <Chips>
                {all.map((label) => (
                  <Chip
                    key={label}
                    $on={row.labels.includes(label)}
                    aria-pressed={row.labels.includes(label)}
                    onPress={() => flip(label)}
                  >
                    {label}
                  </Chip>
                ))}
                <input
                  aria-label={text.shots.newLabel}
                  placeholder={text.shots.newLabel}
                  maxLength={40}
                  value={typed}
                  onChange={(e) => setTyped(e.target.value)}
                  onKeyDown={(e) => {
                    if (e.key === "Enter") {
                      e.preventDefault();
                      add();
                    }
                  }}
                />
                <Button isDisabled={!typed.trim()} onPress={add}>
                  {text.shots.add}
                </Button>
              </Chips>
            </div>
            <div>
              <h3>{text.shots.colourOfTheMarker}</h3>
              <Row style={{ marginTop: 6 }}>
                {shotColours.map(([name, colour]) => (
                  <Dab
                    key={name}
                    $on={(row.colour ?? "") === colour}
                    aria-label={name}
                    aria-pressed={(row.colour ?? "") === colour}
                    style={{ background: colour || spruce }}
                    onPress={() => put(() => ({ colour }))}
                  />
                ))}
              </Row>
            </div>
          </Body>
          <Plain onPress={close}>{text.everywhere.close}</Plain>
        </Dialog>
      </Sheet>
    </Overlay>
  );
}
