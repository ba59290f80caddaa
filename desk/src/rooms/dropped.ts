import { type DragEvent, useState } from "react";
import { whenceOf } from "../api/lab";
import { useSay } from "../kit/notice";
import { useLatest } from "../kit/remembered";
import type { Place } from "../kit/place";

const carriesFiles = (event: DragEvent) => event.dataTransfer.types.includes("Files");

/** A picture's file let fall on the desk leads to the shot it was made of. */
export function useDropped(go: (to: Place) => void) {
  const say = useSay();
  const latest = useLatest(go);
  const [over, setOver] = useState(false);
  return {
    over,
    hold: {
      onDragOverCapture: (event: DragEvent) => {
        if (carriesFiles(event)) {
          event.preventDefault();
          setOver(true);
        }
      },
      onDragLeaveCapture: (event: DragEvent) => {
        if (!event.currentTarget.contains(event.relatedTarget as Node | null)) setOver(false);
      },
      onDropCapture: (event: DragEvent) => {
        if (!carriesFiles(event)) return;
        event.preventDefault();
        event.stopPropagation();
        setOver(false);
        const file = event.dataTransfer.files[0];
        if (!file) return;
        whenceOf(file).then(
          ({ project, shot, words }) => {
            say(words, project && shot ? "done" : "trouble");
            if (project && shot) latest.current({ project, room: "frame", thing: shot });
          },
          (error: Error) => say(error.message),
        );
      },
    },
  };
}
