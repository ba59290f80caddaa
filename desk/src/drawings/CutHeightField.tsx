import { memo, useState } from "react";
import styled from "styled-components";
import { http, type Project, told } from "../api/client";
import { useRuler } from "../kit/ruler";
import { brick, ink, quiet } from "../kit/tokens";

const Box = styled.label`
  display: flex; gap: 5px; align-items: center; color: ${quiet}; font-size: 12px; white-space: nowrap;
  input { width: 54px; border: 0; border-bottom: 1px solid ${ink}; background: none; text-align: right; }
  input[aria-invalid="true"] { border-bottom-color: ${brick}; }
`;

/** Height of the plan's cut, typed with any unit. */
export const CutHeightField = memo(function CutHeightField({ project, onHeight }: { project: Project; onHeight: (height: number) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const [why, setWhy] = useState<string | null>(null);
  const ruler = useRuler();
  const shown = `${(project.plan_height / ruler.metres + 0).toFixed(ruler.digits)} ${ruler.unit}`;
  const read = async () => {
    if (typed === null || typed === shown) return;
    try {
      const { value } = await told(http.GET("/api/measure", { params: { query: { kind: "length", text: typed, unit: ruler.unit } } }));
      setTyped(null);
      setWhy(null);
      if (value !== project.plan_height) onHeight(value);
    } catch (error) {
      setWhy((error as Error).message);
    }
  };
  return (
    <Box className="live" title={why ?? undefined}>
      Cut at
      <input aria-label="Height of the plan's cut" aria-invalid={why !== null} value={typed ?? shown} onChange={(e) => setTyped(e.target.value)} onFocus={(e) => e.target.select()}
        onBlur={() => void read()}
        onKeyDown={(e) => {
          if (e.key === "Enter") e.currentTarget.blur();
          if (e.key === "Escape") { setTyped(null); setWhy(null); }
        }} />
    </Box>
  );
});
