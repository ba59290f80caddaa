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
import { many } from "../../kit/words";

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
  ["m", "metres"],
  ["cm", "centimetres"],
  ["mm", "millimetres"],
  ["in", "inches"],
  ["ft", "feet"],
].map(([id, name]) => ({ id: id!, name: name! }));
const AXES = [
  { id: "z", name: "Z up" },
  { id: "y", name: "Y up" },
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
          {open ? "As the model has its unit, axes and origin" : "At the model's own origin"}
        </Toggle>
      </Row>
      {open && !world.own && (
        <Fields $columns={2}>
          <Choice
            label="Unit"
            value={world.unit}
            options={UNITS}
            onChoose={(id) => setWorld({ ...world, unit: id as World["unit"] })}
          />
          <Choice
            label="Upright axis"
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
          <Heading slot="title">Cameras to another program</Heading>
          <Choice label="File" value={ending} options={endings} onChoose={setEnding} />
          {ending !== ".json" && <WorldChoice world={world} setWorld={setWorld} open={kind?.in_any_world ?? false} />}
          {kind && !kind.in_any_world && (
            <p>
              {ending === ".json"
                ? "The shots themselves, whole, as they are here: metres, Z up."
                : "In metres, Y up, as every glTF is."}
            </p>
          )}
          {ending === WITH_SET && (
            <Row>
              <Toggle isSelected={withSet} onChange={takeSet}>
                With the set they look at
              </Toggle>
            </Row>
          )}
          <List value={chosen} onChange={choose}>
            <Label>Shots</Label>
            {project.shots.map(({ id, shot }, n) => (
              <Check key={id} value={id}>
                {n + 1} {shot.name}
              </Check>
            ))}
          </List>
          {words && words.length > 0 && (
            <ul aria-label="What is not said">
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
                Save {many(chosen.length, "camera")}
              </a>
            ) : (
              <p>Choose the shots that are to go out.</p>
            )}
            <Plain onPress={close}>Cancel</Plain>
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
      (told) => {
        if (asked.current === next) setCame(told);
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
          <Heading slot="title">Cameras from a file</Heading>
          <Row>
            <FileTrigger
              acceptedFileTypes={kinds.flatMap(({ endings }) => endings)}
              onSelect={(given) => look(given?.[0] ?? null, world)}
            >
              <Button>Choose a file…</Button>
            </FileTrigger>
            <Button
              onPress={() => {
                setFile(null);
                setOfSet(true);
                hear(bringInOfSet(project.id, true));
              }}
            >
              Those of the model
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
          {(file || ofSet) && !came && !trouble && <p aria-busy>Reading…</p>}
          {came && (
            <ul aria-label="Cameras of the file">
              {came.cameras.map((one, n) => (
                <li key={n}>
                  {one.name}
                  {(one.refused == null || one.changes.length > 0) && (
                    <small>
                      {one.shot == null
                        ? "a new shot"
                        : one.changes.length > 0
                          ? `changes the shot: ${one.changes.join(", ")}`
                          : "the same as the shot"}
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
              {ready ? `Bring in ${many(ready, "camera")}` : "Nothing to bring in"}
            </Primary>
            <Plain onPress={close}>Cancel</Plain>
          </Row>
        </Dialog>
      </Wide>
    </Overlay>
  );
}
