import { back } from "./back";
import { focus } from "./focus";
import { guides } from "./guides";
import type { DeskInstrument, Pick } from "./described";
import { leftOut } from "./left_out";
import { lens } from "./lens";
import { movements } from "./movements";
import { opening } from "./opening";
import { stand } from "./stand";

/** The instruments that have a panel, in any order: how they lie on each other in the drawings, the topmost last. */
export const PANELS: readonly DeskInstrument[] = [leftOut, guides, back, opening, lens, movements, focus, stand];

export const PICKS: Readonly<Record<string, Pick>> = Object.assign({}, ...PANELS.map(({ picks }) => picks));
