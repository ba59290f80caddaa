import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Dialog, Heading, Label } from "react-aria-components";
import styled from "styled-components";
import { type CopyGroup, http, type Project, type ShotRow, answerOf, useOffer, type Write } from "../api/client";
import { Check, Checks } from "../kit/checks";
import { Plain, Primary, Row } from "../kit/controls";
import { Overlay, Sheet } from "../kit/sheet";
import { line } from "../kit/tokens";
import { text } from "../text";

const Two = styled.div`
  display: grid;
  grid-template-columns: 190px 380px;
  gap: 26px;
  margin-bottom: 16px;
`;
const Targets = styled.div`
  max-height: 46vh;
  overflow: auto;
  border-top: 1px solid ${line};
  border-bottom: 1px solid ${line};
`;

/** Chosen groups of one shot's settings put into others, after showing what that changes in each. */
export function CopySettings({
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
  const others = project.shots.filter((s) => s.id !== row.id);
  const { instruments } = useOffer();
  const [groups, setGroups] = useState<CopyGroup[]>(["lens"]);
  const [targets, setTargets] = useState<string[]>(others.map((s) => s.id));
  const change = { source: row.id, groups, targets: others.map((s) => s.id) };
  const { data, error } = useQuery({
    queryKey: ["copy", project.id, project.shots.map((s) => s.version), change],
    queryFn: () =>
      answerOf(
        http.POST("/api/projects/{key}/copy", {
          params: { path: { key: project.id } },
          body: { ...change, only_try: true },
        }),
      ),
    enabled: groups.length > 0 && others.length > 0,
  });
  const offered_for = (id: string) => data?.shots.find((s) => s.shot === id);
  const ready = targets.filter((id) => {
    const one = offered_for(id);
    return one && !one.refused && one.changes.length > 0;
  });
  return (
    <Overlay
      isOpen
      onOpenChange={(open) => {
        if (!open) close();
      }}
      isDismissable
    >
      <Sheet style={{ maxWidth: 700 }}>
        <Dialog>
          <Heading slot="title">{text.shots.copyFrom(row.shot.name)}</Heading>
          {others.length === 0 ? (
            <p>{text.shots.thereIsNoOtherShot}</p>
          ) : (
            <Two>
              <Checks value={groups} onChange={(to) => setGroups(to as CopyGroup[])}>
                <Label>{text.shots.what}</Label>
                {instruments
                  .flatMap(({ copied }) => copied)
                  .map(({ name, words }) => (
                    <Check key={name} value={name}>
                      {words}
                    </Check>
                  ))}
              </Checks>
              <Checks value={targets} onChange={setTargets}>
                <Label>{text.shots.to}</Label>
                <Targets>
                  {others.map((other) => {
                    const one = offered_for(other.id);
                    return (
                      <Check key={other.id} value={other.id}>
                        <span>
                          {other.shot.name}
                          <small className={one?.refused ? "no" : undefined}>
                            {groups.length === 0
                              ? ""
                              : one
                                ? (one.refused ??
                                  (one.changes.length ? one.changes.join(", ") : text.shots.nothingChanges))
                                : "…"}
                          </small>
                        </span>
                      </Check>
                    );
                  })}
                </Targets>
              </Checks>
            </Two>
          )}
          {error && <p role="alert">{error.message}</p>}
          <Row>
            <Primary
              isDisabled={ready.length === 0 || groups.length === 0}
              onPress={() => {
                write(() =>
                  answerOf(
                    http.POST("/api/projects/{key}/copy", {
                      params: { path: { key: project.id } },
                      body: { source: row.id, groups, targets: ready, only_try: false },
                    }),
                  ),
                );
                close();
              }}
            >
              {ready.length ? text.shots.changeOf(text.counts.shot(ready.length)) : text.shots.nothingToChange}
            </Primary>
            <Plain onPress={close}>{text.everywhere.cancel}</Plain>
          </Row>
        </Dialog>
      </Sheet>
    </Overlay>
  );
}
