import { useEffect } from "react";
import { typing } from "../../kit/shortcuts";

interface Keys {
  /** Esc: what is in hand is put down, what is asked for is left. */
  leaveAll: () => void;
  /** Space, held: the clean picture. */
  setClean: (on: boolean) => void;
  /** Enter: the framing is kept. */
  keep: () => void;
  /** Plus and minus: the next longer, the next shorter prime. */
  prime: (by: 1 | -1) => void;
  /** Alt with an arrow: the shot before or after, of those that are shown. */
  step: (by: 1 | -1) => void;
}

/** What keys do in the Frame room, wherever nothing is being typed. */
export function useFrameKeys({ leaveAll, setClean, keep, prime, step }: Keys) {
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (typing(event.target)) return;
      if (event.key === "Escape") leaveAll();
      else if (event.key === " " && !(event.target instanceof HTMLButtonElement)) {
        event.preventDefault();
        setClean(true);
      } else if (
        event.key === "Enter" &&
        (event.target === document.body || (event.target as HTMLElement).dataset.finder)
      )
        keep();
      else if ((event.key === "+" || event.key === "-") && !event.ctrlKey && !event.metaKey)
        prime(event.key === "+" ? 1 : -1);
      else if (event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
        event.preventDefault();
        step(event.key === "ArrowUp" ? -1 : 1);
      }
    };
    const up = (event: KeyboardEvent) => {
      if (event.key === " ") setClean(false);
    };
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
    };
  }, [leaveAll, setClean, keep, prime, step]);
}
