export const leftOut = {
  notInThisShot: "Not in this shot, its proofs and its finals. Other shots still show it.",
  partsInTheWay:
    "Parts in the way of this shot alone: pick them in the picture or find them by name. They stay in the set and in every other shot.",
  partsLiftedOffWhile: "Parts lifted off while working are another thing: pictures show those.",
  putAllBackIntoTheShot: "Put all back into the shot",
  leftOutOfThisShot: "Left out of this shot",
  putBack: (name: string) => `Put ${name} back`,
  putBackQuoted: (name: string) => `Put “${name}” back`,
  findAPartToLeave: "Find a part to leave out",
  partsFound: "Parts found",
  leftOut: "left out",
  leaveOut: (name: string) => `Leave ${name} out`,
  leaveOutQuoted: (name: string) => `Leave “${name}” out`,
  leaveOutIt: "Leave out",
  writeMoreOfItsName: (parts: string) => `${parts}: write more of its name.`,
  nothing: "nothing",
  pressOnEachPart: "Press on each part to leave out of this shot; Esc ends it",
};
