import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useState,
  useSyncExternalStore,
} from "react";
import styled from "styled-components";
import { awayWords, listenAway } from "../api/away";
import { Plain } from "./controls";
import { brick, ink, ochre, spruce } from "./tokens";
import { text } from "../text";

export type Tone = "trouble" | "done";
const Say = createContext<(words: string, tone?: Tone) => void>(() => undefined);
export const useSay = () => useContext(Say);

const Bar = styled.div<{ $tone: Tone }>`
  position: fixed;
  left: 50%;
  bottom: 18px;
  transform: translateX(-50%);
  z-index: 50;
  display: flex;
  gap: 12px;
  align-items: center;
  background: #fff;
  color: ${ink};
  border: 1px solid ${(p) => (p.$tone === "done" ? spruce : brick)};
  border-left-width: 6px;
  padding: 9px 10px 9px 14px;
  border-radius: 3px;
  max-width: min(720px, 86vw);
  box-shadow: 0 2px 14px rgba(0, 0, 0, 0.22);
`;

const Top = styled.div`
  position: fixed;
  left: 50%;
  top: 8px;
  transform: translateX(-50%);
  z-index: 60;
  background: #fff;
  color: ${ink};
  border: 1px solid ${ochre};
  border-left: 6px solid ${ochre};
  padding: 7px 14px;
  border-radius: 3px;
  max-width: min(760px, 90vw);
  box-shadow: 0 2px 14px rgba(0, 0, 0, 0.22);
`;

/** Says that nothing answers for now, and that what a hand does meanwhile is kept and sent after. */
export function AwayBar() {
  const words = useSyncExternalStore(listenAway, awayWords);
  return (
    words && (
      <Top role="status">
        <b>{text.kit.waiting}</b> {words}
      </Top>
    )
  );
}

/** Says what went wrong, in the server's words, or what is to be known, until it is read or put away. */
export function Notices({ children }: { children: ReactNode }) {
  const [said, setSaid] = useState<{ words: string; tone: Tone } | null>(null);
  const say = useCallback((words: string, tone: Tone = "trouble") => setSaid({ words, tone }), []);
  useEffect(() => {
    if (!said) return;
    const timer = window.setTimeout(() => setSaid(null), 12000);
    return () => window.clearTimeout(timer);
  }, [said]);
  return (
    <Say.Provider value={say}>
      {children}
      {said && (
        <Bar role={said.tone === "done" ? "status" : "alert"} $tone={said.tone}>
          <span>{said.words}</span>
          <Plain onPress={() => setSaid(null)}>{text.everywhere.dismiss}</Plain>
        </Bar>
      )}
    </Say.Provider>
  );
}
