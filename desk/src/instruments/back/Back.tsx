import { type ShotPatch, useOffer } from "../../api/client";
import { Back } from "../../api/limits";
import { Choice } from "../../kit/choice";
import { Fields } from "../../kit/controls";
import { NumberField } from "../../kit/fields";
import { ink, quiet, spruce } from "../../kit/tokens";
import type { BodyProps } from "../described";

const sized = ([w, h]: readonly [number, number]) => `${w} × ${h}`;
const cuts = [{ id: "inside", name: "inside" }, { id: "width", name: "width kept" }, { id: "height", name: "height kept" }];

/** The formats nested to scale, and the back with what is cut from it. */
export function BackBody({ desk }: BodyProps) {
  const { back } = desk.shot;
  const sheet = desk.sheet.back;
  const off = desk.row.locked;
  const put = (label: string, change: NonNullable<ShotPatch["back"]>) => desk.commit(label, { back: change });
  const sizeTo = (px: (now: typeof back) => [number, number]) => desk.commit("Picture size", ({ back: now }) => ({ back: { output_px: px(now) } }));
  const { formats, picture_sizes_px: sizes } = useOffer();
  const upright = back.height_mm > back.width_mm;
  const named = formats.find(({ name }) => name === sheet.format);
  const scale = 0.98;
  const [cw, ch] = sheet.cut_mm;
  const most = Math.max(back.width_mm, back.height_mm, cw, ch);
  const k = 92 / most;
  const size = sized(back.output_px);
  const turned = (w: number, h: number) => (upright ? { width_mm: h, height_mm: w } : { width_mm: w, height_mm: h });
  return (
    <>
      <svg viewBox="0 0 272 132" role="group" aria-label="Formats to scale, and the cut">
        <g transform="translate(4 122)">
          {formats.map(({ name, width_mm: w, height_mm: h }) => {
            const on = named?.name === name;
            return (
              <g key={name} role="button" aria-label={`Back ${name}`} tabIndex={off ? -1 : 0} style={{ cursor: off ? "default" : "pointer" }} onClick={() => { if (!off) put("Format", turned(w, h)); }}
                onKeyDown={(e) => { if (!off && (e.key === "Enter" || e.key === " ")) { e.preventDefault(); e.stopPropagation(); put("Format", turned(w, h)); } }}>
                <rect y={-h * scale} width={w * scale} height={h * scale} fill={on ? spruce : "none"} fillOpacity={0.12} stroke={on ? spruce : "#8b8f8d"} strokeWidth={on ? 2 : 0.9} />
                <rect x={w * scale - 5} y={-h * scale} width={8} height={h * scale} fill="transparent" />
              </g>
            );
          })}
          <text x={116 * scale} y={-80 * scale - 5} fontSize={11} textAnchor="end" fill={quiet}>4 × 5 in</text>
          <text x={54 * scale} y={-56 * scale + 12} fontSize={11} textAnchor="end" fill={quiet}>56 × 56</text>
        </g>
        <g transform="translate(202 64)">
          <rect x={(-back.width_mm * k) / 2} y={(-back.height_mm * k) / 2} width={back.width_mm * k} height={back.height_mm * k} fill="#fff" stroke={ink} />
          <rect x={(-cw * k) / 2} y={(-ch * k) / 2} width={cw * k} height={ch * k} fill={spruce} fillOpacity={0.12} stroke={spruce} strokeWidth={2} />
          <text y={4} fontSize={12} fontWeight={700} textAnchor="middle" fill={spruce}>cut {sheet.ratio}</text>
          <text y={63} fontSize={11} textAnchor="middle" fill={quiet}>{Number(cw.toFixed(2))} × {Number(ch.toFixed(2))} mm</text>
        </g>
      </svg>
      <Fields $columns={2}>
        <Choice label="Format" value={named?.name ?? "own"} shown={sheet.format + " mm"} off={off} options={formats.map(({ name }) => ({ id: name, name: name.endsWith("in") ? name : `${name} mm` }))}
          onChoose={(id) => { const f = formats.find(({ name }) => name === id); if (f) put("Format", turned(f.width_mm, f.height_mm)); }} />
        <Choice label="Cut" value={back.cut} options={cuts} off={off} onChoose={(id) => put("Cut", { cut: id as typeof back.cut })} />
        <NumberField label="Back width" unit="millimeter" step={0.5} of={Back.width_mm} value={back.width_mm} off={off} onCommit={(v) => put("Back width", { width_mm: v })} />
        <NumberField label="Back height" unit="millimeter" step={0.5} of={Back.height_mm} value={back.height_mm} off={off} onCommit={(v) => put("Back height", { height_mm: v })} />
        <Choice label="Picture size" value={size} shown={`${size} px`} off={off} options={sizes.map(sized).map((name) => ({ id: name, name: `${name} px` }))}
          onChoose={(id) => { const chosen = sizes.find((px) => sized(px) === id); if (chosen) put("Picture size", { output_px: chosen }); }} />
        <NumberField label="Enlarge" digits={2} step={0.1} of={Back.enlarge} value={back.enlarge} off={off} onCommit={(v) => put("Enlarge", { enlarge: v })} />
        <NumberField label="Pixels wide" digits={0} step={1} of={Back.output_px} value={back.output_px[0]} off={off} onCommit={(v) => sizeTo((now) => [Math.round(v), now.output_px[1]])} />
        <NumberField label="Pixels high" digits={0} step={1} of={Back.output_px} value={back.output_px[1]} off={off} onCommit={(v) => sizeTo((now) => [now.output_px[0], Math.round(v)])} />
      </Fields>
      {sheet.cuts.length > 0 && (
        <p style={{ color: quiet }}>Cuts out of it: {sheet.cuts.map(({ name, output_px: px }) => `${name}, ${sized(px)} px`).join(" · ")}</p>
      )}
    </>
  );
}
