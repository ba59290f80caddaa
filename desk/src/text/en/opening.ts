import { type DrawingKey, names } from "./names";
import { counted } from "./counted";

export const opening = {
  openByAWall: "Open by a wall",
  openByALine: "Open by a line",
  standBehindAWall: "Stand behind a wall",
  behindItBy: "Behind it by",
  takeTheOtherSide: "Take the other side away",
  theOtherSide: "The other side",
  closeTheSetAgain: "Close the set again",
  theSetIsOpen: (capped: string) => `The set is open in this shot alone. ${capped}`,
  itCutsNotClosed: (count: number) =>
    `${counted(count, "surface it cuts is not closed and stays open", "surfaces it cuts are not closed and stay open")}.`,
  whatItCutsIsClosed: "What it cuts is closed with dark faces.",
  cuttingPlaneIn: (drawing: DrawingKey) => `Cutting plane in ${names.drawings[drawing]}`,
  pushTheCuttingPlane: "Push the cutting plane",
  endOfTheCutting: (end: string, drawing: DrawingKey) =>
    `${end} end of the cutting plane in ${names.drawings[drawing]}`,
  first: "First",
  second: "Second",
  turnTheCuttingPlane: "Turn the cutting plane",
  nearClip: "Near clip",
  farClip: "Far clip",
  addAFarClip: "Add a far clip",
  noFarClip: "No far clip",
  from: (near: string) => `from ${near}`,
  fromTo: (from: string, to: string) => `${from} to ${to}`,
  setOpen: (clips: string) => `set open · ${clips}`,
  pressTheWallThatIsToBeTaken: "Press the wall that is to be taken away",
  drawALineInPlan: "Draw a line in plan or section: the camera’s side is taken away",
  pressTheWallToStand: "Press the wall to stand behind",
};
