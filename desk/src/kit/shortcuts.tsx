import { useEffect, useState } from "react";
import { Dialog, Heading } from "react-aria-components";
import styled from "styled-components";
import { Button, Told } from "./controls";
import { Overlay, Sheet } from "./sheet";
import { ink, quiet } from "./tokens";

const Keys = styled.dl`
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 7px 18px;
  margin: 0 0 18px;
  dt {
    font-weight: 600;
  }
  dd {
    margin: 0;
    color: ${quiet};
  }
  kbd {
    font: inherit;
    border: 1px solid ${ink};
    border-radius: 3px;
    padding: 0 6px;
  }
`;

const sheet: [string[], string][] = [
  [["?"], "this sheet"],
  [["Space"], "held: the clean picture, without guides and marks"],
  [["Ctrl Z"], "undo; with Shift redo"],
  [["Alt ↑", "Alt ↓"], "the shot before, the shot after"],
  [["Enter"], "keep the framing"],
  [["+", "−"], "the next longer, the next shorter prime lens; also the wheel over the fan of angles"],
  [["Alt", "Shift"], "while the frame’s edge is pulled: the opposite side goes too; the ratio is held"],
  [["Esc"], "put the camera back on the tripod; leave a mode"],
  [["← → ↑ ↓"], "scout view or in hand: walk; with Shift larger steps; Page Up and Down raise and lower"],
  [["Home"], "Set: show all of it; with Shift go to the chosen part"],
  [["Ctrl ← → ↑ ↓"], "in hand: pan and tilt by one turn; with Shift orbit the aim"],
];

export const typing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.tagName === "INPUT" ||
    target.isContentEditable ||
    target.closest('[role="listbox"],[role="menu"],[role="dialog"]') !== null);

/** A number that was ended is done: undo then takes back the change, not letters. */
const ended = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && target.closest("[data-at-rest]") !== null;

/** Undo by keys everywhere, and the sheet of shortcuts on `?`. */
export function Shortcuts({ onUndo, onRedo }: { onUndo: () => void; onRedo: () => void }) {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (typing(event.target) && !ended(event.target)) return;
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
        event.preventDefault();
        (event.shiftKey ? onRedo : onUndo)();
      } else if (event.key === "?" && !typing(event.target)) setOpen(true);
    };
    window.addEventListener("keydown", key);
    return () => window.removeEventListener("keydown", key);
  }, [onUndo, onRedo]);
  return (
    <>
      <Told tip="Shortcuts" onPress={() => setOpen(true)}>
        ?
      </Told>
      <Overlay isOpen={open} onOpenChange={setOpen} isDismissable>
        <Sheet>
          <Dialog>
            <Heading slot="title">Shortcuts</Heading>
            <Keys>
              {sheet.map(([keys, what]) => (
                <div key={what} style={{ display: "contents" }}>
                  <dt>
                    {keys.map((k) => (
                      <kbd key={k}>{k}</kbd>
                    ))}
                  </dt>
                  <dd>{what}</dd>
                </div>
              ))}
            </Keys>
            <Button onPress={() => setOpen(false)}>Close</Button>
          </Dialog>
        </Sheet>
      </Overlay>
    </>
  );
}
