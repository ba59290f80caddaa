export const instruments = {
  nameOfThis: (kind: string) => `Name of this ${kind}`,
  aNameThenEnter: "a name, then Enter",
  keepThis: (kind: string) => `Keep this ${kind}…`,
  keepNoLonger: (name: string) => `Keep ${name} no longer`,
};
