import type { DeskInstrument } from "../described";
import { BackBody } from "./Back";
import { BackInFinder } from "./InFinder";

export const back: DeskInstrument = {
  key: "back",
  useLine: ({ sheet }) => `${sheet.back.format} fitted to ${sheet.back.ratio}`,
  Body: BackBody,
  InFinder: BackInFinder,
  showsAround: true,
};
