import { en } from "./en";

/** Every text of the desk in one language; the compiler holds each language to the same names and the same values. */
export type Text = typeof en;

/** Another language is another folder beside `en`. Which one is spoken is said by the page. */
const languages: Record<string, Text> = { en };

export const text: Text = languages[document.documentElement.lang] ?? en;
