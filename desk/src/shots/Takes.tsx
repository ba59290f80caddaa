import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog, Heading } from "react-aria-components";
import styled from "styled-components";
import { http, type ShotRow, answerOf, type Write } from "../api/client";
import { Button, Plain } from "../kit/controls";
import { TextField } from "../kit/fields";
import { Overlay, Sheet } from "../kit/sheet";
import { line, mid, quiet, spruce } from "../kit/tokens";
import { text } from "../text";

const List = styled.ol`
  list-style: none;
  margin: 0 0 16px;
  padding: 0;
  display: grid;
  gap: 10px;
  width: 580px;
  max-width: 80vw;
  li {
    display: grid;
    grid-template-columns: 150px 1fr auto;
    gap: 14px;
    align-items: start;
    border-top: 1px solid ${line};
    padding-top: 10px;
  }
  img {
    width: 150px;
    height: auto;
    display: block;
    background: ${mid};
  }
  p {
    color: ${quiet};
  }
`;

/** All takes of a shot beside what it is now: named, compared, gone back to. */
export function Takes({ row, close, write }: { row: ShotRow; close: () => void; write: Write }) {
  const cache = useQueryClient();
  const key = ["takes", row.id, row.version, row.thumbnail];
  const { data: takes, error } = useQuery({
    queryKey: key,
    queryFn: () => answerOf(http.GET("/api/shots/{key}/takes", { params: { path: { key: row.id } } })),
  });
  const back = (id: string) =>
    write(async () => {
      await answerOf(http.POST("/api/takes/{key}/back", { params: { path: { key: id } } }));
      await cache.invalidateQueries({ queryKey: ["takes"] });
    });
  const name = (id: string, to: string) =>
    write(async () => {
      await answerOf(http.PATCH("/api/takes/{key}", { params: { path: { key: id } }, body: { name: to } }));
      await cache.invalidateQueries({ queryKey: ["takes"] });
    });
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
          <Heading slot="title">{text.shots.takesOf(row.shot.name)}</Heading>
          {error && <p role="alert">{error.message}</p>}
          <List aria-label={text.shots.takesTitle}>
            <li>
              <img src={row.thumbnail} alt={text.shots.theShotAsItIs} />
              <div>
                <b>{text.shots.asItIsNow}</b>
                <p>
                  {row.line}
                  {row.kept ? "" : `, ${text.everywhere.notKept}`}
                </p>
              </div>
            </li>
            {takes?.map((take) => (
              <li key={take.id}>
                <img src={take.thumbnail} alt={text.shots.takeNumber(take.number)} />
                <div>
                  <b style={{ color: take.kept ? spruce : undefined }}>
                    {(take.kept ? text.shots.takeTheKept : text.shots.takeNumber)(take.number)}
                  </b>
                  <TextField
                    hidden
                    label={text.shots.nameOfTake(take.number)}
                    most={80}
                    value={take.name ?? ""}
                    placeholder={text.shots.nameIt}
                    onCommit={(to) => name(take.id, to)}
                  />
                  <p>{take.line}</p>
                  <p>
                    {take.differs.length ? text.shots.sinceThen(take.differs.join(", ")) : text.shots.theSameAsItIsNow}
                  </p>
                </div>
                <Button isDisabled={row.locked || take.differs.length === 0} onPress={() => back(take.id)}>
                  {text.everywhere.backToTake(take.number)}
                </Button>
              </li>
            ))}
          </List>
          <Plain onPress={close}>{text.everywhere.close}</Plain>
        </Dialog>
      </Sheet>
    </Overlay>
  );
}
