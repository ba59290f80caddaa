import { type MutableRefObject, useCallback, useRef, useState } from "react";

/** A choice that is remembered in this browser. */
export function useRemembered<T>(key: string, first: T): [T, (value: T) => void] {
  const [value, setValue] = useState<T>(() => {
    try {
      const stored = window.localStorage.getItem(key);
      return stored === null ? first : (JSON.parse(stored) as T);
    } catch {
      return first;
    }
  });
  const put = useCallback(
    (next: T) => {
      window.localStorage.setItem(key, JSON.stringify(next));
      setValue(next);
    },
    [key],
  );
  return [value, put];
}

/** What was given last, behind a thing that stays the same. */
export function useLatest<T>(value: T): MutableRefObject<T> {
  const latest = useRef(value);
  latest.current = value;
  return latest;
}
