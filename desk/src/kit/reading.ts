/**
 * Numbers that were typed and are still being read. A hand that types a number and presses at once means the number it
 * typed: whatever it does next waits until that is read.
 */
const reads = new Set<Promise<boolean>>();

/** Something typed is being asked about; what is made of the answer comes before all that waits for it. */
export function read<T>(asked: Promise<T>, heard: (answer: T) => void, failed: (error: Error) => void): void {
  const one: Promise<boolean> = asked.then(
    (answer) => {
      reads.delete(one);
      heard(answer);
      return true;
    },
    (error: Error) => {
      reads.delete(one);
      failed(error);
      return false;
    },
  );
  reads.add(one);
}

/**
 * Press after what was typed is read: at once where nothing is. Not at all where it cannot be, which its field says.
 */
export function afterReading(press: () => void): void {
  if (reads.size === 0) return press();
  void Promise.all(reads).then((could) => {
    if (could.every(Boolean)) press();
  });
}

/** Write after all that was typed before has been read, whatever came of it; null where nothing is being read. */
export function allRead(): Promise<unknown> | null {
  return reads.size === 0 ? null : Promise.all(reads);
}
