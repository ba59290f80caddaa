import type { DeskInstrument } from "../described";
import { BackBody } from "./Back";

export const back: DeskInstrument = { key: "back", useLine: ({ sheet }) => `${sheet.back.format} cut to ${sheet.back.ratio}`, Body: BackBody };
