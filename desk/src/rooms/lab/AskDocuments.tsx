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
import { many } from "../../kit/words";
import { Foot, List, One, Pictures, Settings, Two, Wide } from "./page";

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
  ["mm", "millimetres"],
  ["cm", "centimetres"],
  ["m", "metres"],
  ["in", "inches"],
  ["ft", "feet"],
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
      ? "Choose the shots they are of."
      : kinds.length === 0
        ? "Choose what is to be made."
        : kinds.some((kind) => (asked[kind].files ?? []).length === 0)
          ? "Choose the files of each."
          : kinds.includes("plans") && plans.levels?.some((name) => levelNames.includes(name)) === false
            ? "Choose the levels."
            : null;
  const paper = (kind: "contact_sheet" | "shot_list" | "plans") => (
    <>
      <Choice
        label="Paper"
        value={asked[kind].paper ?? "A4"}
        options={lab.papers.map((id) => ({ id, name: id }))}
        onChoose={(id) => put(kind, { paper: id as Lab["papers"][number] })}
      />
      <Choice
        label="Orientation"
        value={asked[kind].landscape ? "landscape" : "portrait"}
        options={[
          { id: "landscape", name: "landscape" },
          { id: "portrait", name: "portrait" },
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
              <Label>Files</Label>
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
            label="On a page"
            value={sheet.layout ?? "grid"}
            options={[
              { id: "grid", name: "many" },
              { id: "one", name: "one" },
              { id: "pairs", name: "before and after" },
            ]}
            onChoose={(id) => put("contact_sheet", { layout: id as Asked["contact_sheet"]["layout"] })}
          />
          {sheet.layout === "grid" && (
            <NumberField
              label="Beside each other"
              digits={0}
              step={1}
              of={SheetLimits.columns}
              value={sheet.columns ?? 3}
              onCommit={(columns) => put("contact_sheet", { columns: Math.round(columns) })}
            />
          )}
          {sheet.layout === "pairs" && (
            <Choice
              label="Before is"
              value={sheet.before ?? "print"}
              options={[
                { id: "print", name: "the print before" },
                { id: "take", name: "the take before" },
              ]}
              onChoose={(id) => put("contact_sheet", { before: id as "print" | "take" })}
            />
          )}
          {paper("contact_sheet")}
          <Choice
            label="Pictures"
            value={sheet.pictures ?? "prints"}
            options={[
              { id: "prints", name: "prints that still hold" },
              { id: "drawn", name: "drawn ones" },
            ]}
            onChoose={(id) => put("contact_sheet", { pictures: id as "prints" | "drawn" })}
          />
          {sheet.files?.includes("png") && (
            <NumberField
              label="PNG, dots an inch"
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
            Lens data
          </Toggle>
          <Toggle isSelected={sheet.notes ?? false} onChange={(on) => put("contact_sheet", { notes: on })}>
            Room for notes
          </Toggle>
          <Toggle isSelected={sheet.crops ?? false} onChange={(on) => put("contact_sheet", { crops: on })}>
            Crops after their shots
          </Toggle>
        </Row>
      </>
    ),
    shot_list: (
      <>
        <Fields $columns={2}>{paper("shot_list")}</Fields>
        <Row>
          <Toggle isSelected={asked.shot_list.pictures ?? true} onChange={(on) => put("shot_list", { pictures: on })}>
            Small pictures
          </Toggle>
        </Row>
      </>
    ),
    plans: (
      <>
        <Fields $columns={2}>
          {paper("plans")}
          <Choice
            label="Scale"
            value={String(plans.scale ?? "fits")}
            shown={plans.scale == null ? "as large as fits" : scaleWords(plans.scale)}
            options={[
              { id: "fits", name: "as large as fits" },
              ...lab.scales.map((scale) => ({ id: String(scale), name: scaleWords(scale) })),
            ]}
            onChoose={(id) => put("plans", { scale: id === "fits" ? null : Number(id) })}
          />
          {plans.files?.includes("dxf") && (
            <Choice
              label="Unit of the DXF"
              value={plans.dxf_unit ?? "mm"}
              options={UNITS}
              onChoose={(id) => put("plans", { dxf_unit: id as Asked["plans"]["dxf_unit"] })}
            />
          )}
        </Fields>
        <Row>
          <Toggle isSelected={plans.angles ?? true} onChange={(on) => put("plans", { angles: on })}>
            What lenses see
          </Toggle>
          <Toggle isSelected={plans.thin_lines ?? true} onChange={(on) => put("plans", { thin_lines: on })}>
            Thin lines
          </Toggle>
        </Row>
        {levelNames.length > 1 && (
          <>
            <Row>
              <Toggle isSelected={plans.levels == null} onChange={() => put("plans", { levels: null })}>
                Levels a shot stands on
              </Toggle>
              <Toggle isSelected={plans.levels != null} onChange={() => put("plans", { levels: levelNames })}>
                Levels you choose
              </Toggle>
            </Row>
            {plans.levels && (
              <Checks value={plans.levels} onChange={(levels) => put("plans", { levels })} aria-label="Levels">
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
          A file for each
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
          <Heading slot="title">Documents</Heading>
          <Two>
            <Pictures>
              <Row>
                <Plain onPress={() => choose(ids)}>All shots</Plain>
                <Plain isDisabled={chosen.length === 0} onPress={() => choose([])}>
                  None
                </Plain>
                <Find
                  style={{ flex: 1 }}
                  aria-label="Find a shot"
                  placeholder="Find a shot"
                  value={wanted}
                  onChange={(e) => want(e.target.value)}
                />
              </Row>
              <List value={chosen} onChange={choose} aria-label="Shots">
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
                <b>{many(chosen.length, "shot")}</b>
                <span>{kindsWords(offered.filter(({ key }) => kinds.includes(key as Kind)))}</span>
              </>
            )}
            {lab.machines.length === 0 && <span>No machine is there: they wait until one is.</span>}
            <span className="end">
              <Plain onPress={close}>Cancel</Plain>
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
                Make documents
              </Primary>
            </span>
          </Foot>
        </Dialog>
      </Wide>
    </Overlay>
  );
}
