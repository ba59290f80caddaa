export const projects = {
  theServerDoesNotAnswer: "The server does not answer. Nothing was changed; try again when it runs.",
  theFileIsMb: (size: number, most: number) =>
    `The file is ${size} MB; up to ${most} MB are taken. Leave out what no shot sees, or make the textures smaller.`,
  projects: "Projects",
  newProjectFromAModel: "New project from a model…",
  bringAModelIn: "Bring a model in",
  dropAModelHere:
    "Drop a model here: glTF or GLB, OpenUSD, IFC, OBJ, STL or PLY. What lies in several files (an OBJ with its materials and textures, say) comes as one .zip.",
  bringingTheModelIn: "Bringing the model in",
  giveItUp: "Give it up",
  wasNotTakenIn: (name: string) => `${name} was not taken in`,
  doesTheSizeLook: (parts: string, triangles: string, hand: boolean) =>
    `${parts}, ${triangles}. Does the size look right beside ${hand ? "a grown-up's hand" : "a person of 1.75 m"}?`,
  openIt: "Open it",
  lookAtTheSet: "Look at the set first",
  stayHere: "Stay here",
  theProjectsCannotBeRead: "The projects cannot be read",
  noProjectsYet: "No projects yet",
  bringAModelInToBegin: "Bring a model in to begin: the first thing to do is to place a camera in it.",
  open: (name: string) => `Open ${name}`,
  openEmpty: (name: string) => `Open ${name}: no shots yet`,
  nameAndOpen: (name: string) => `${name}, open`,
  delete: (name: string) => `Delete ${name}`,
};
