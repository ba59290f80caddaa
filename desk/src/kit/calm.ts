import { underWay } from "./settled";
import { useEffect, useRef, useState } from "react";

const CALM_MS = 120;

/**
 * A value that changes often, told a few times a second: for figures to be read beside what the hand moves. At once
 * where `atOnce` says so, and where `key` is another one.
 */
export function useCalm<T>(value: T, key: string | null, atOnce: boolean): T {
  const [shown, setShown] = useState({ value, key });
  const last = useRef(0);
  useEffect(() => {
    if (shown.value === value) return;
    const wait = Math.max(0, last.current + CALM_MS - performance.now());
    const over = underWay();
    const timer = window.setTimeout(() => {
      last.current = performance.now();
      setShown({ value, key });
      over();
    }, wait);
    return () => {
      window.clearTimeout(timer);
      over();
    };
  }, [value, key, shown.value]);
  return atOnce || shown.key !== key ? value : shown.value;
}
