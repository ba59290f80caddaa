import { type ReactNode, useState } from "react";
import { Dialog, Heading, Label } from "react-aria-components";
import styled from "styled-components";
import type { Project } from "../../api/client";
import { ContactSheet as SheetLimits } from "../../api/limits";
import { type Documents, documentsOf, type Lab } from "../../api/lab";
import { Check, Checks } from "../../kit/checks";
import { Choice } from "../../kit/choice";
import { Fields, Find, Plain, Primary, Row, Toggle } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { Overlay } from "../../kit/sheet";
import { line } from "../../kit/tokens";
import { Foot, List, One, Pictures, Settings, Two, Wide } from "./page";
import { text } from "../../text";

type Kind = Exclude<keyof Documents, "shots">;
type Asked = { [kind in Kind]: NonNullable<Documents[kind]> };
type Offer = Lab["document_kinds"][number];

/** The kinds that are asked for, of those there are. */
export const kindsOf = (documents: Documents, offered: Offer[]): Offer[] =>
  offered.filter(({ key }) => documents[key as Kind] != null);
/** Their names in a sentence. */
export const kindsWords = (kinds: Offer[]) => kinds.map(({ name }) => name.toLowerCase()).join(", ");

const Part = styled.section`
  border-top: 1px solid ${line};
  padding-top: 10px;
  display: grid;
  gap: 10px;
  &:first-child {
    border-top: 0;
    padding-top: 0;
  }
  .react-aria-Label {
    font-size: 12px;
  }
`;
const UNITS = [
  ["mm", text.everywhere.millimetres],
  ["cm", text.everywhere.centimetres],
  ["m", text.everywhere.metres],
  ["in", text.everywhere.inches],
  ["ft", text.everywhere.feet],
].map(([id, name]) => ({ id: id!, name: name! }));
const scaleWords = (scale: number) => (scale >= 1 ? `1:${scale}` : `${1 / scale}:1`);

interface Props {
  project: Project;
  lab: Lab;
  first: Documents | null;
  close: () => void;
  ask: (action: () => Promise<unknown>) => void;
}

/** Documents of the shot list: of which shots, which of them, how. */
export function AskDocuments({ project, lab, first, close, ask }: Props) {
  const ids = project.shots.map(({ id }) => id);
  const begun = first ?? lab.documents[0]?.documents ?? null;
  const [chosen, choose] = useState<string[]>(first ? first.shots.filter((id) => ids.includes(id)) : ids);
  const [wanted, want] = useState("");
  const offered = lab.document_kinds;
  const [kinds, setKinds] = useState<Kind[]>(
    (begun ? kindsOf(begun, offered) : offered.slice(0, 1)).map(({ key }) => key as Kind),
  );
  const [asked, setAsked] = useState<Asked>(
    () => Object.fromEntries(offered.map(({ key, first }) => [key, begun?.[key as Kind] ?? first])) as Asked,
  );
  const put = <K extends Kind>(kind: K, change: Partial<Asked[K]>) =>
    setAsked((now) => ({ ...now, [kind]: { ...now[kind], ...change } }));
  const shown = project.shots
    .map((row, n) => ({ row, n }))
    .filter(({ row }) => row.shot.name.toLowerCase().includes(wanted.trim().toLowerCase()));
  const levelNames = (project.places.levels ?? []).map(({ name }) => name),
    plans = asked.plans;
  const lacks =
    chosen.length === 0
      ? text.lab.chooseTheShotsTheyAreOf
      : kinds.length === 0
        ? text.lab.chooseWhatIsToBeMade
        : kinds.some((kind) => (asked[kind].files ?? []).length === 0)
          ? text.lab.chooseTheFilesOfEach
          : kinds.includes("plans") && plans.levels?.some((name) => levelNames.includes(name)) === false
            ? text.lab.chooseTheLevels
            : null;
  const paper = (kind: "contact_sheet" | "shot_list" | "plans") => (
    <>
      <Choice
        label={text.everywhere.paper}
        value={asked[kind].paper ?? "A4"}
        options={lab.papers.map((id) => ({ id, name: id }))}
        onChoose={(id) => put(kind, { paper: id as Lab["papers"][number] })}
      />
      <Choice
        label={text.lab.orientation}
        value={asked[kind].landscape ? "landscape" : "portrait"}
        options={[
          { id: "landscape", name: text.lab.landscape },
          { id: "portrait", name: text.lab.portrait },
        ]}
        onChoose={(id) => put(kind, { landscape: id === "landscape" })}
      />
    </>
  );
  const part = (kind: Kind, name: string, files: Offer["files"], body: ReactNode) => (
    <Part key={kind} aria-label={name}>
      <Row>
        <Toggle
          isSelected={kinds.includes(kind)}
          onChange={(on) => setKinds((now) => (on ? [...now, kind] : now.filter((one) => one !== kind)))}
        >
          {name}
        </Toggle>
      </Row>
      {kinds.includes(kind) && (
        <>
          {body}
          {files.length > 1 && (
            <Checks
              value={asked[kind].files ?? []}
              onChange={(chosen) =>
                put(kind, { files: files.map(({ ending }) => ending).filter((one) => chosen.includes(one)) } as Partial<
                  Asked[typeof kind]
                >)
              }
            >
              <Label>{text.everywhere.files}</Label>
              {files.map(({ ending, words }) => (
                <Check key={ending} value={ending}>
                  {words}
                </Check>
              ))}
            </Checks>
          )}
        </>
      )}
    </Part>
  );
  const sheet = asked.contact_sheet;
  const bodies: { [kind in Kind]: ReactNode } = {
    contact_sheet: (
      <>
        <Fields $columns={2}>
          <Choice
            label={text.lab.onAPage}
            value={sheet.layout ?? "grid"}
            options={[
              { id: "grid", name: text.lab.many },
              { id: "one", name: text.lab.one },
              { id: "pairs", name: text.lab.beforeAndAfter },
            ]}
            onChoose={(id) => put("contact_sheet", { layout: id as Asked["contact_sheet"]["layout"] })}
          />
          {sheet.layout === "grid" && (
            <NumberField
              label={text.lab.besideEachOther}
              digits={0}
              step={1}
              of={SheetLimits.columns}
              value={sheet.columns ?? 3}
              onCommit={(columns) => put("contact_sheet", { columns: Math.round(columns) })}
            />
          )}
          {sheet.layout === "pairs" && (
            <Choice
              label={text.lab.beforeIs}
              value={sheet.before ?? "print"}
              options={[
                { id: "print", name: text.lab.thePrintBefore },
                { id: "take", name: text.lab.theTakeBefore },
              ]}
              onChoose={(id) => put("contact_sheet", { before: id as "print" | "take" })}
            />
          )}
          {paper("contact_sheet")}
          <Choice
            label={text.everywhere.pictures}
            value={sheet.pictures ?? "prints"}
            options={[
              { id: "prints", name: text.lab.printsThatStillHold },
              { id: "drawn", name: text.lab.drawnOnes },
            ]}
            onChoose={(id) => put("contact_sheet", { pictures: id as "prints" | "drawn" })}
          />
          {sheet.files?.includes("png") && (
            <NumberField
              label={text.lab.pngDotsAnInch}
              digits={0}
              step={10}
              of={SheetLimits.dpi}
              value={sheet.dpi ?? 150}
              onCommit={(dpi) => put("contact_sheet", { dpi })}
            />
          )}
        </Fields>
        <Row>
          <Toggle isSelected={sheet.lens_data ?? true} onChange={(on) => put("contact_sheet", { lens_data: on })}>
            {text.lab.lensData}
          </Toggle>
          <Toggle isSelected={sheet.notes ?? false} onChange={(on) => put("contact_sheet", { notes: on })}>
            {text.lab.roomForNotes}
          </Toggle>
          <Toggle isSelected={sheet.crops ?? false} onChange={(on) => put("contact_sheet", { crops: on })}>
            {text.lab.cropsAfterTheirShots}
          </Toggle>
        </Row>
      </>
    ),
    shot_list: (
      <>
        <Fields $columns={2}>{paper("shot_list")}</Fields>
        <Row>
          <Toggle isSelected={asked.shot_list.pictures ?? true} onChange={(on) => put("shot_list", { pictures: on })}>
            {text.lab.smallPictures}
          </Toggle>
        </Row>
      </>
    ),
    plans: (
      <>
        <Fields $columns={2}>
          {paper("plans")}
          <Choice
            label={text.lab.scale}
            value={String(plans.scale ?? "fits")}
            shown={plans.scale == null ? text.lab.asLargeAsFits : scaleWords(plans.scale)}
            options={[
              { id: "fits", name: text.lab.asLargeAsFits },
              ...lab.scales.map((scale) => ({ id: String(scale), name: scaleWords(scale) })),
            ]}
            onChoose={(id) => put("plans", { scale: id === "fits" ? null : Number(id) })}
          />
          {plans.files?.includes("dxf") && (
            <Choice
              label={text.lab.unitOfTheDxf}
              value={plans.dxf_unit ?? "mm"}
              options={UNITS}
              onChoose={(id) => put("plans", { dxf_unit: id as Asked["plans"]["dxf_unit"] })}
            />
          )}
        </Fields>
        <Row>
          <Toggle isSelected={plans.angles ?? true} onChange={(on) => put("plans", { angles: on })}>
            {text.lab.whatLensesSee}
          </Toggle>
          <Toggle isSelected={plans.thin_lines ?? true} onChange={(on) => put("plans", { thin_lines: on })}>
            {text.lab.thinLines}
          </Toggle>
        </Row>
        {levelNames.length > 1 && (
          <>
            <Row>
              <Toggle isSelected={plans.levels == null} onChange={() => put("plans", { levels: null })}>
                {text.lab.levelsAShotStands}
              </Toggle>
              <Toggle isSelected={plans.levels != null} onChange={() => put("plans", { levels: levelNames })}>
                {text.lab.levelsYouChoose}
              </Toggle>
            </Row>
            {plans.levels && (
              <Checks value={plans.levels} onChange={(levels) => put("plans", { levels })} aria-label={text.lab.levels}>
                {levelNames.map((name) => (
                  <Check key={name} value={name}>
                    {name}
                  </Check>
                ))}
              </Checks>
            )}
          </>
        )}
      </>
    ),
    camera_cards: (
      <Row>
        {(["A4", "Letter"] as const).map((name) => (
          <Toggle
            key={name}
            isSelected={asked.camera_cards.paper === name}
            onChange={() => put("camera_cards", { paper: name })}
          >
            {name}
          </Toggle>
        ))}
        <Toggle isSelected={asked.camera_cards.apart ?? false} onChange={(apart) => put("camera_cards", { apart })}>
          {text.lab.aFileForEach}
        </Toggle>
      </Row>
    ),
  };
  return (
    <Overlay
      isOpen
      onOpenChange={(open) => {
        if (!open) close();
      }}
      isDismissable
    >
      <Wide>
        <Dialog>
          <Heading slot="title">{text.lab.documents}</Heading>
          <Two>
            <Pictures>
              <Row>
                <Plain onPress={() => choose(ids)}>{text.lab.allShots}</Plain>
                <Plain isDisabled={chosen.length === 0} onPress={() => choose([])}>
                  {text.everywhere.noneOfThem}
                </Plain>
                <Find
                  style={{ flex: 1 }}
                  aria-label={text.everywhere.findAShot}
                  placeholder={text.everywhere.findAShot}
                  value={wanted}
                  onChange={(e) => want(e.target.value)}
                />
              </Row>
              <List value={chosen} onChange={choose} aria-label={text.everywhere.shots}>
                {shown.map(({ row, n }) => (
                  <One key={row.id} value={row.id} aria-label={`${n + 1}, ${row.shot.name}`}>
                    <i>
                      <img src={row.thumbnail} alt="" loading="lazy" />
                    </i>
                    <span>
                      {n + 1} {row.shot.name}
                      <small>{row.line}</small>
                    </span>
                    <em>{[row.level, row.room].filter(Boolean).join(", ")}</em>
                  </One>
                ))}
              </List>
            </Pictures>
            <Settings>
              {offered.map(({ key, name, files }) => part(key as Kind, name, files, bodies[key as Kind]))}
            </Settings>
          </Two>
          <Foot>
            {lacks ? (
              <span>{lacks}</span>
            ) : (
              <>
                <b>{text.counts.shot(chosen.length)}</b>
                <span>{kindsWords(offered.filter(({ key }) => kinds.includes(key as Kind)))}</span>
              </>
            )}
            {lab.machines.length === 0 && <span>{text.lab.noMachineIsThereTheyWait}</span>}
            <span className="end">
              <Plain onPress={close}>{text.everywhere.cancel}</Plain>
              <Primary
                isDisabled={lacks !== null}
                onPress={() => {
                  ask(
                    documentsOf(project.id, {
                      shots: chosen,
                      ...Object.fromEntries(kinds.map((kind) => [kind, asked[kind]])),
                    }),
                  );
                  close();
                }}
              >
                {text.lab.makeDocuments}
              </Primary>
            </span>
          </Foot>
        </Dialog>
      </Wide>
    </Overlay>
  );
}
