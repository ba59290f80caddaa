import { text } from "../text";

/** How numbers are written on screen. Rounding for the eye only; every number comes from the sheet. */
export const metres = (value: number | null | undefined, digits = 2): string =>
  value == null
    ? "∞"
    : Math.abs(value) < 0.0005
      ? `${(0).toFixed(digits)} m`
      : value >= 100
        ? `${value.toFixed(0)} m`
        : value >= 10
          ? `${value.toFixed(1)} m`
          : `${value.toFixed(value !== 0 && Math.abs(value) < 0.1 ? Math.max(digits, 3) : digits)} m`;

export const degrees = (value: number, digits = 1): string => `${value.toFixed(digits)}°`;

/** A share, told in per cent. */
export const percent = (share: number): string => `${(100 * share).toFixed(share < 0.1 ? 1 : 0)} %`;

export const millimetres = (value: number): string => `${Number(value.toFixed(2))} mm`;

export const seconds = (value: number | null | undefined): string =>
  value == null
    ? ""
    : value < 60
      ? text.kit.secondsLeft(Math.max(1, Math.round(value)))
      : text.kit.minutesLeft(Math.round(value / 60));

export const pitchWords = (pitch: number): string =>
  Math.abs(pitch) < 0.05
    ? text.everywhere.level
    : pitch > 0
      ? text.kit.up(degrees(pitch))
      : text.kit.down(degrees(-pitch));

/** Letter of a suggested stand: shots have numbers. */
export const letter = (n: number): string => String.fromCharCode(65 + n);

/** What the two axes of the plan are called: by the compass only where north is straight up. */
export const planAxes = (northDeg: number): { x: string; y: string; lessX: string; lessY: string } =>
  northDeg % 360 === 0
    ? { x: text.kit.east, y: text.kit.north, lessX: text.kit.west, lessY: text.kit.south }
    : { x: "x", y: "y", lessX: text.kit.less, lessY: text.kit.less };

export const headed = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1);

/** How large a file is, in words. */
export const bytesWords = (bytes: number) =>
  bytes < 1e6
    ? text.kit.kB(Math.ceil(bytes / 1e3))
    : bytes < 1e9
      ? text.kit.mb((bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0))
      : text.kit.gb((bytes / 1e9).toFixed(1));
