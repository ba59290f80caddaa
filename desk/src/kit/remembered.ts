import { type MutableRefObject, useCallback, useRef, useSyncExternalStore } from "react";

const known = new Map<string, unknown>();
const listeners = new Map<string, Set<() => void>>();

/** A remembered choice as it is now, for who only reads it once. */
export function remembered<T>(key: string, first: T): T {
  if (!known.has(key)) {
    let value = first;
    try {
      const text = window.localStorage.getItem(key);
      if (text !== null) value = JSON.parse(text) as T;
    } catch {
      // What cannot be read is as if it were not there.
    }
    known.set(key, value);
  }
  return known.get(key) as T;
}

/** A choice that is remembered in this browser, the same wherever it is asked for. */
export function useRemembered<T>(key: string, first: T): [T, (value: T) => void] {
  const listen = useCallback(
    (heard: () => void) => {
      const own = listeners.get(key) ?? new Set();
      listeners.set(key, own.add(heard));
      return () => { own.delete(heard); };
    },
    [key],
  );
  const value = useSyncExternalStore(listen, () => remembered(key, first));
  const put = useCallback(
    (next: T) => {
      known.set(key, next);
      window.localStorage.setItem(key, JSON.stringify(next));
      listeners.get(key)?.forEach((heard) => heard());
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
