import { useRef, useState } from "react";
import { Dialog, FileTrigger, Heading, Label } from "react-aria-components";
import styled from "styled-components";
import {
  bringIn,
  bringInOfSet,
  camerasFile,
  type CamerasCame,
  useCameraKinds,
  useNotSaid,
  type World,
} from "../../api/cameras";
import type { Project } from "../../api/client";
import { Check, Checks } from "../../kit/checks";
import { Choice } from "../../kit/choice";
import { Button, Fields, Plain, Primary, Row, Toggle } from "../../kit/controls";
import { Overlay, Sheet } from "../../kit/sheet";
import { brick, line, ochre, quiet, spruce } from "../../kit/tokens";
import { text } from "../../text";

const Wide = styled(Sheet)`
  width: 720px;
  max-width: 94vw;
  > section {
    display: grid;
    gap: 16px;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    max-height: 34vh;
    overflow: auto;
    border-top: 1px solid ${line};
  }
  li {
    border-bottom: 1px solid ${line};
    padding: 5px 2px;
    small {
      display: block;
      color: ${quiet};
    }
    .mind {
      color: ${ochre};
    }
    .no {
      color: ${brick};
    }
  }
  p {
    color: ${quiet};
  }
  .why {
    color: ${brick};
    font-weight: 600;
  }
  a {
    display: inline-block;
    padding: 4px 12px;
    border-radius: 3px;
    background: ${spruce};
    color: #fff;
    font-weight: 600;
    text-decoration: none;
  }
`;
const List = styled(Checks)`
  max-height: 30vh;
  overflow: auto;
  border-bottom: 1px solid ${line};
`;

const UNITS = [
  ["m", text.everywhere.metres],
  ["cm", text.everywhere.centimetres],
  ["mm", text.everywhere.millimetres],
  ["in", text.everywhere.inches],
  ["ft", text.everywhere.feet],
].map(([id, name]) => ({ id: id!, name: name! }));
const AXES = [
  { id: "z", name: text.lab.zUp },
  { id: "y", name: text.lab.yUp },
];
/** The kind of file the set can go along in. */
const WITH_SET = ".glb";
const FIRST: World = { unit: "m", up: "z", own: false };
/** By the last of its endings one kind would hide another: the longest that fits is meant. */
const fits = (name: string, endings: string[]) => endings.find((ending) => name.toLowerCase().endsWith(ending));

interface Props {
  project: Project;
  close: () => void;
}

/**
 * Another program's unit and upright axis, or those of the model itself; `open`: whether the kind of file leaves them
 * open.
 */
function WorldChoice({ world, setWorld, open }: { world: World; setWorld: (world: World) => void; open: boolean }) {
  return (
    <>
      <Row>
        <Toggle isSelected={world.own} onChange={(own) => setWorld({ ...world, own })}>
          {open ? text.lab.asTheModelHasItsUnit : text.lab.atTheModelsOwn}
        </Toggle>
      </Row>
      {open && !world.own && (
        <Fields $columns={2}>
          <Choice
            label={text.lab.unit}
            value={world.unit}
            options={UNITS}
            onChoose={(id) => setWorld({ ...world, unit: id as World["unit"] })}
          />
          <Choice
            label={text.lab.uprightAxis}
            value={world.up}
            options={AXES}
            onChoose={(id) => setWorld({ ...world, up: id as World["up"] })}
          />
        </Fields>
      )}
    </>
  );
}

/** Shots as cameras of another program, with what that will not be told. */
export function CamerasOut({ project, close }: Props) {
  const kinds = useCameraKinds() ?? [];
  const [ending, setEnding] = useState(".usda");
  const [world, setWorld] = useState(FIRST);
  const [chosen, choose] = useState(project.shots.map(({ id }) => id));
  const [withSet, takeSet] = useState(false);
  const set = withSet && ending === WITH_SET;
  const words = useNotSaid(project, ending, chosen);
  const kind = kinds.find(({ endings }) => endings.includes(ending));
  const endings = kinds.flatMap((one) =>
    one.endings.map((end) => ({ id: end, name: `${end.slice(1)}: ${one.words}` })),
  );
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
          <Heading slot="title">{text.lab.camerasToAnotherProgram}</Heading>
          <Choice label={text.everywhere.file} value={ending} options={endings} onChoose={setEnding} />
          {ending !== ".json" && <WorldChoice world={world} setWorld={setWorld} open={kind?.in_any_world ?? false} />}
          {kind && !kind.in_any_world && (
            <p>{ending === ".json" ? text.lab.theShotsThemselvesWhole : text.lab.inMetresYUpAsEvery}</p>
          )}
          {ending === WITH_SET && (
            <Row>
              <Toggle isSelected={withSet} onChange={takeSet}>
                {text.lab.withTheSetTheyLook}
              </Toggle>
            </Row>
          )}
          <List value={chosen} onChange={choose}>
            <Label>{text.everywhere.shots}</Label>
            {project.shots.map(({ id, shot }, n) => (
              <Check key={id} value={id}>
                {n + 1} {shot.name}
              </Check>
            ))}
          </List>
          {words && words.length > 0 && (
            <ul aria-label={text.lab.whatIsNotSaid}>
              {words.map((one) => (
                <li key={one}>
                  <small className="mind">{one}</small>
                </li>
              ))}
            </ul>
          )}
          <Row>
            {chosen.length > 0 ? (
              <a href={camerasFile(project, ending, chosen, world, set)} download onClick={close}>
                {text.lab.save(text.counts.camera(chosen.length))}
              </a>
            ) : (
              <p>{text.lab.chooseTheShotsThatAreToGo}</p>
            )}
            <Plain onPress={close}>{text.everywhere.cancel}</Plain>
          </Row>
        </Dialog>
      </Wide>
    </Overlay>
  );
}

/** Cameras of a file as shots: first what that changes, then, on a press, done. */
export function CamerasIn({ project, close, take }: Props & { take: (action: () => Promise<unknown>) => void }) {
  const kinds = useCameraKinds() ?? [];
  const [world, setWorld] = useState(FIRST);
  const [file, setFile] = useState<File | null>(null);
  const [came, setCame] = useState<CamerasCame | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [ofSet, setOfSet] = useState(false);
  const asked = useRef<Promise<CamerasCame> | null>(null);
  // What is told is of the file that was chosen last, also where another takes longer to be read.
  const hear = (next: Promise<CamerasCame> | null) => {
    asked.current = next;
    setCame(null);
    setTrouble(null);
    next?.then(
      (answer) => {
        if (asked.current === next) setCame(answer);
      },
      (error: Error) => {
        if (asked.current === next) setTrouble(error.message);
      },
    );
  };
  const look = (given: File | null, from: World) => {
    setFile(given);
    setWorld(from);
    setOfSet(false);
    hear(given && bringIn(project.id, given, from, true));
  };
  const ready =
    came?.cameras.filter((one) => one.refused == null && (one.shot == null || one.changes.length > 0)).length ?? 0;
  const kind = file && kinds.find(({ endings }) => fits(file.name, endings));
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
          <Heading slot="title">{text.lab.camerasFromAFile}</Heading>
          <Row>
            <FileTrigger
              acceptedFileTypes={kinds.flatMap(({ endings }) => endings)}
              onSelect={(given) => look(given?.[0] ?? null, world)}
            >
              <Button>{text.lab.chooseAFile}</Button>
            </FileTrigger>
            <Button
              onPress={() => {
                setFile(null);
                setOfSet(true);
                hear(bringInOfSet(project.id, true));
              }}
            >
              {text.lab.thoseOfTheModel}
            </Button>
            <p>
              {ofSet ? project.set.file_name : file ? file.name : kinds.flatMap(({ endings }) => endings).join(", ")}
            </p>
          </Row>
          {!ofSet && <WorldChoice world={world} setWorld={(to) => look(file, to)} open={!kind?.says_its_world} />}
          {trouble && (
            <p className="why" role="alert">
              {trouble}
            </p>
          )}
          {(file || ofSet) && !came && !trouble && <p aria-busy>{text.lab.reading}</p>}
          {came && (
            <ul aria-label={text.lab.camerasOfTheFile}>
              {came.cameras.map((one, n) => (
                <li key={n}>
                  {one.name}
                  {(one.refused == null || one.changes.length > 0) && (
                    <small>
                      {one.shot == null
                        ? text.lab.aNewShot
                        : one.changes.length > 0
                          ? text.lab.changesTheShot(one.changes.join(", "))
                          : text.lab.theSameAsTheShot}
                    </small>
                  )}
                  {one.words.map((words) => (
                    <small key={words} className="mind">
                      {words}
                    </small>
                  ))}
                  {one.refused && <small className="no">{one.refused}</small>}
                </li>
              ))}
            </ul>
          )}
          <Row>
            <Primary
              isDisabled={ready === 0}
              onPress={() => {
                if (ofSet) take(() => bringInOfSet(project.id, false));
                else if (file) take(() => bringIn(project.id, file, world, false));
                close();
              }}
            >
              {ready ? text.lab.bringIn(text.counts.camera(ready)) : text.lab.nothingToBringIn}
            </Primary>
            <Plain onPress={close}>{text.everywhere.cancel}</Plain>
          </Row>
        </Dialog>
      </Wide>
    </Overlay>
  );
}
