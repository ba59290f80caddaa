import { createContext, type ReactNode, useCallback, useContext, useEffect, useState, useSyncExternalStore } from "react";
import styled from "styled-components";
import { awayWords, listenAway } from "../api/away";
import { Plain } from "./controls";
import { brick, ink, ochre } from "./tokens";

const Say = createContext<(trouble: string) => void>(() => undefined);
export const useSay = () => useContext(Say);

const Bar = styled.div`
  position: fixed; left: 50%; bottom: 18px; transform: translateX(-50%); z-index: 50; display: flex; gap: 12px;
  align-items: center; background: #fff; color: ${ink}; border: 1px solid ${brick}; border-left: 6px solid ${brick};
  padding: 9px 10px 9px 14px; border-radius: 3px; max-width: min(720px, 86vw); box-shadow: 0 2px 14px rgba(0, 0, 0, 0.22);
`;

const Top = styled.div`
  position: fixed; left: 50%; top: 8px; transform: translateX(-50%); z-index: 60; background: #fff; color: ${ink}; border: 1px solid ${ochre};
  border-left: 6px solid ${ochre}; padding: 7px 14px; border-radius: 3px; max-width: min(760px, 90vw); box-shadow: 0 2px 14px rgba(0, 0, 0, 0.22);
`;

/** Says that nothing answers for now, and that what a hand does meanwhile is kept and sent after. */
export function AwayBar() {
  const words = useSyncExternalStore(listenAway, awayWords);
  return words && <Top role="status"><b>Waiting.</b> {words}</Top>;
}

/** Says what went wrong, in the server's words, until it is read or put away. */
export function Notices({ children }: { children: ReactNode }) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const say = useCallback((words: string) => setTrouble(words), []);
  useEffect(() => {
    if (!trouble) return;
    const timer = window.setTimeout(() => setTrouble(null), 12000);
    return () => window.clearTimeout(timer);
  }, [trouble]);
  return (
    <Say.Provider value={say}>
      {children}
      {trouble && (
        <Bar role="alert">
          <span>{trouble}</span>
          <Plain onPress={() => setTrouble(null)}>Put away</Plain>
        </Bar>
      )}
    </Say.Provider>
  );
}
