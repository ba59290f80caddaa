import type { ComponentType } from "react";
import type { PairFocus, Project, PutHabits, PutKept, ShotGesture, Write } from "../api/client";
import type { Eye, Point } from "../drawings/Paper";
import type { FrameRect } from "../stage/frameRect";
import type { ShotDesk } from "../shots/draft";

export interface BodyProps {
  project: Project;
  desk: ShotDesk;
  /** What a press in the finder is for, until it is made or left with Esc: the name of a pick. */
  picking: string | null;
  pick: (what: string | null) => void;
  putHabits: PutHabits;
  /** Write what the project keeps of its own, made of what it keeps by then. */
  putKept: PutKept;
  /** The crop of the shot that is looked at alone. */
  alone: string | null;
  lookAlone: (crop: string | null) => void;
  write: Write;
}

export interface FinderProps {
  desk: ShotDesk;
  frame: FrameRect;
  /** Whether its panel is open. */
  open: boolean;
  alone: string | null;
  off: boolean;
}

export interface HandleProps {
  project: Project;
  desk: ShotDesk;
  eye: Eye;
  off: boolean;
  /** Whether its panel is open. */
  open: boolean;
}

/** A press in the finder, or a line on a drawing: what it asks for, the words of the change, and the gesture it is. */
export interface Pick {
  words: string;
  label: string;
  gesture?: (x: number, y: number) => ShotGesture;
  onPaper?: (drawing: "plan" | "section", start: Point, end: Point) => ShotGesture;
  /** As many presses, one after the other, make one gesture. */
  presses?: number;
  gestureOf?: (places: Point[]) => ShotGesture;
  /** It makes two shots more instead of changing this one. */
  pairOf?: (places: Point[]) => PairFocus;
  /** Goes on until it is left: one press after the other. */
  again?: boolean;
}

/** All of an instrument that the desk draws. Its name and its place among the others are the core's. */
export interface DeskInstrument {
  /** The key of its settings in the shot. */
  key: string;
  /** Its value in a line, while it is closed. */
  useLine: (desk: ShotDesk) => string;
  Body: ComponentType<BodyProps>;
  /** What of it is taken and moved on the drawings, the topmost last. */
  InPlan?: ComponentType<HandleProps>;
  InSection?: ComponentType<HandleProps>;
  /** What of it is drawn, taken and moved in the finder. */
  InFinder?: ComponentType<FinderProps>;
  picks?: Record<string, Pick>;
  /** While it is open, what lies outside the frame is shown, dimmed. */
  showsAround?: boolean;
  /** While it is open, the finder shows faintly what the shot leaves out. */
  showsLeftOut?: boolean;
}
