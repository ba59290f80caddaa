export const finder = {
  drawingTheSet: (came: number) => `Drawing the set, ${came} %`,
  gettingTheSetReady: "Getting the set ready to be worked in…",
  bringingTheSetToTheDesk: "Bringing the set to the desk…",
  blurAPreview: "blur: a preview",
  keptInSight: "Kept in sight",
  open: (name: string) => `Open ${name}`,
  keepInSightNoLonger: (name: string) => `Keep ${name} in sight no longer`,
  thisBrowserCannotDraw:
    "This browser cannot draw in three dimensions (WebGL 2 is needed). The drawings and instruments work without it.",
  theSetCouldNotBeDrawn: "The set could not be drawn. Reload the page to try again.",
  theStandInsCouldNotBeDrawn: "The stand-ins could not be drawn. Reload the page to try again.",
};
