import { createContext, useContext } from "react";
import type { Live } from "./live";

export const LiveSocket = createContext<Live | null>(null);

/** The live socket of this page. */
export function useLive(): Live {
  const live = useContext(LiveSocket);
  if (!live) throw new Error("no live socket");
  return live;
}
