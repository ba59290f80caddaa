/** So many of them: thousands are parted by a space, as a comma might be read as the decimal one. */
export const counted = (count: number, one: string, more: string): string =>
  `${count.toLocaleString("en").replaceAll(",", " ")} ${count === 1 ? one : more}`;
