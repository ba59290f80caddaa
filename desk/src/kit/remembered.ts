import { type MutableRefObject, useCallback, useRef, useSyncExternalStore } from "react";

const known = new Map<string, unknown>();
const listeners = new Map<string, Set<() => void>>();

const kindOf = (value: unknown) => (Array.isArray(value) ? "list" : typeof value);

/**
 * What is kept under a key, if it is of the kind of what stands there first; that, where nothing is, or something
 * else.
 */
function read<T>(storage: () => Storage, key: string, first: T): T {
  try {
    const value = JSON.parse(storage().getItem(key) ?? "null") as unknown;
    // Where none is a choice too, something is one of any kind.
    return value !== null && (first === null || kindOf(value) === kindOf(first)) ? (value as T) : first;
  } catch {
    return first;
  }
}

function write(storage: () => Storage, key: string, value: unknown) {
  try {
    if (value === null) storage().removeItem(key);
    else storage().setItem(key, JSON.stringify(value));
  } catch {
    // A browser that keeps nothing, or no more, forgets it when the page is left.
  }
}

const browser = () => window.localStorage;
const tab = () => window.sessionStorage;

/** A remembered choice as it is now, for who only reads it once. */
export function remembered<T>(key: string, first: T): T {
  if (!known.has(key)) known.set(key, read(browser, key, first));
  return known.get(key) as T;
}

/** Remember a choice in this browser; null: as if it had not been made. */
export function remember(key: string, value: unknown) {
  known.set(key, value);
  write(browser, key, value);
  listeners.get(key)?.forEach((heard) => heard());
}

/** What is kept in this tab alone, also where its page is loaded again; null: nothing is. */
export const keptInTab = <T extends object>(key: string): T | null => read<T | null>(tab, key, null);

export const keepInTab = (key: string, value: object | null) => write(tab, key, value);

/** A choice that is remembered in this browser, the same wherever it is asked for. */
export function useRemembered<T>(key: string, first: T): [T, (value: T) => void] {
  const listen = useCallback(
    (heard: () => void) => {
      const own = listeners.get(key) ?? new Set();
      listeners.set(key, own.add(heard));
      return () => {
        own.delete(heard);
      };
    },
    [key],
  );
  const value = useSyncExternalStore(listen, () => remembered(key, first));
  const put = useCallback((next: T) => remember(key, next), [key]);
  return [value, put];
}

/** What was given last, behind a thing that stays the same. */
export function useLatest<T>(value: T): MutableRefObject<T> {
  const latest = useRef(value);
  latest.current = value;
  return latest;
}
