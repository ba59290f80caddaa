import { useEffect, useState } from "react";
import { Dialog, Heading } from "react-aria-components";
import styled from "styled-components";
import { Button, Told } from "./controls";
import { Overlay, Sheet } from "./sheet";
import { ink, quiet } from "./tokens";
import { text } from "../text";

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
  [["?"], text.kit.thisSheet],
  [[text.kit.space], text.kit.heldTheCleanPicture],
  [[text.kit.ctrlZ], text.kit.undoWithShiftRedo],
  [[text.kit.altUp, text.kit.altDown], text.kit.theShotBeforeTheShot],
  [[text.kit.enter], text.kit.keepTheFraming],
  [["+", "−"], text.kit.theNextLongerTheNext],
  [[text.kit.alt, text.kit.shift], text.kit.whileTheFramesEdge],
  [[text.kit.esc], text.kit.putTheCameraBack],
  [["← → ↑ ↓"], text.kit.scoutViewOrInHand],
  [[text.kit.home], text.kit.setShowAllOfItWithShift],
  [[text.kit.ctrlArrows], text.kit.inHandPanAndTilt],
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
      <Told tip={text.kit.shortcuts} onPress={() => setOpen(true)}>
        ?
      </Told>
      <Overlay isOpen={open} onOpenChange={setOpen} isDismissable>
        <Sheet>
          <Dialog>
            <Heading slot="title">{text.kit.shortcuts}</Heading>
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
            <Button onPress={() => setOpen(false)}>{text.everywhere.close}</Button>
          </Dialog>
        </Sheet>
      </Overlay>
    </>
  );
}
