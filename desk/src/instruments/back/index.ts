import type { DeskInstrument } from "../described";
import { BackBody } from "./Back";
import { BackInFinder } from "./InFinder";
import { text } from "../../text";

export const back: DeskInstrument = {
  key: "back",
  useLine: ({ sheet }) => text.back.fittedTo(sheet.back.format, sheet.back.ratio),
  Body: BackBody,
  InFinder: BackInFinder,
  showsAround: true,
};
