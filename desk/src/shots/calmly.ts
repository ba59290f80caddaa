import { useCalm } from "../kit/calm";
import { type ShotDesk, type ShotDraft, useWholeDesk } from "./draft";

/**
 * The shot on the desk for what is only read while a hand moves in a drawing: a few times a second; with every answer
 * where the hand is in it itself.
 */
export function useCalmDesk(draft: ShotDraft | null, atOnce: boolean): ShotDesk | null {
  const desk = useWholeDesk(draft);
  return useCalm(desk, desk && `${desk.row.id} ${desk.row.version}`, atOnce);
}
