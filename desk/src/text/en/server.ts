export const server = {
  theServerDoesNotAnswer:
    "The server does not answer. It may have been stopped; when it runs again, what you did is sent.",
  theServerIsBusy: "The server is busy starting.",
  theProjectIsNotOpen: "The project is not open any more.",
  thatShotIsNotThereAnyMore: "That shot is not there any more.",
};
