import { createGlobalStyle } from "styled-components";
import { text } from "../text";

/** Colours of the desk: exactly neutral chrome, one accent, film black for the strip. See docs/architecture.md. */
export const ink = "#202322";
export const quiet = "#5A5D5B";
export const paper = "#F2F2F1";
export const card = "#FAFAF9";
export const line = "#D4D4D2";
export const mid = "#777777";
export const spruce = "#1E5B49";
export const sprucePale = "#E6EDEA";
export const film = "#232625";
export const filmLift = "#343837";
export const edgePrint = "#E9D9A6";
export const filmText = "#DCDCD8";
export const ochre = "#8A5A00";
export const brick = "#9B2C1F";

/** Colours of shot markers: the set of Okabe and Ito, told apart by every eye; first the usual one. */
export const shotColours: [string, string][] = [
  [text.kit.theUsualColour, ""],
  [text.kit.orange, "#E69F00"],
  [text.kit.skyBlue, "#56B4E9"],
  [text.kit.bluishGreen, "#009E73"],
  [text.kit.yellow, "#F0E442"],
  [text.kit.blue, "#0072B2"],
  [text.kit.vermilion, "#D55E00"],
  [text.kit.reddishPurple, "#CC79A7"],
];

export const Look = createGlobalStyle`
  *, *::before, *::after { box-sizing: border-box; }
  html, body, #desk { height: 100%; margin: 0; }
  body {
    font-family: "Archivo Variable", sans-serif; font-size: 13px; line-height: 1.4; color: ${ink};
    background: ${paper}; font-variant-numeric: tabular-nums; -webkit-font-smoothing: antialiased;
    min-width: 1100px;
  }
  button, input { font: inherit; color: inherit; font-variant-numeric: inherit; }
  h1, h2, h3, p { margin: 0; font-size: inherit; font-weight: inherit; }
  svg text { font-family: inherit; font-variant-numeric: tabular-nums; }
  :focus-visible, [data-focus-visible] { outline: 2px solid ${spruce}; outline-offset: 2px; }
  @media (prefers-reduced-motion: reduce) { *, *::before, *::after { transition: none !important; animation: none !important; } }
`;
