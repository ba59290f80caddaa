import { useCallback, useEffect, useState } from "react";

const ANSWERED_WITHIN_MS = 1500;

/**
 * Where quick steps have come to, ahead of the answers: the next step is made from there, until something else is
 * done.
 */
export function useAhead<T>(value: T): [T, (next: T) => void, () => void] {
  const [ahead, setAhead] = useState<{ at: T } | null>(null);
  const here = JSON.stringify(value);
  const there = ahead && JSON.stringify(ahead.at);
  useEffect(() => {
    if (there === null) return;
    const timer = window.setTimeout(() => setAhead(null), there === here ? 0 : ANSWERED_WITHIN_MS);
    return () => window.clearTimeout(timer);
  }, [there, here]);
  const put = useCallback((next: T) => setAhead({ at: next }), []);
  const forget = useCallback(() => setAhead(null), []);
  return [ahead ? ahead.at : value, put, forget];
}
