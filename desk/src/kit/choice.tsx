import { type ReactNode, useEffect } from "react";
import { Label, ListBox, ListBoxItem, Popover, Select, SelectValue } from "react-aria-components";
import { Button } from "./pressed";
import styled from "styled-components";
import { MenuPaper } from "./controls";
import { useLatest } from "./remembered";
import { ink, line, quiet, spruce } from "./tokens";

const Box = styled(Select)`
  display: flex; flex-direction: column; gap: 3px; min-width: 0;
  &[data-focus-visible] { outline: none; }
  .react-aria-Label { color: ${quiet}; font-size: 12px; line-height: 1.25; }
  button {
    border: 0; border-bottom: 1px solid ${ink}; background: none; padding: 2px 0 4px; font-size: 14px; font-weight: 500;
    text-align: left; display: flex; justify-content: space-between; gap: 6px; cursor: pointer; border-radius: 0; white-space: nowrap;
  }
  button[data-disabled] { color: ${quiet}; border-bottom-color: ${line}; cursor: default; }
  button span:first-child { overflow: hidden; text-overflow: ellipsis; }
  button i { font-style: normal; color: ${spruce}; }
`;
const Sheet = styled(Popover)`${MenuPaper} max-height: 320px !important; overflow: auto;`;

export interface Option { id: string; name: string }

interface Props {
  label: string;
  value: string;
  shown?: string;
  options: Option[];
  off?: boolean;
  onChoose: (id: string) => void;
  /** The one that is pointed at, by pointer or keys, while the list is open; null when none is any more. */
  onOver?: (id: string | null) => void;
}

/** Tells when an entry comes to be the one pointed at. */
function Pointed({ on, tell, children }: { on: boolean; tell: () => void; children: ReactNode }) {
  const latest = useLatest(tell);
  useEffect(() => { if (on) latest.current(); }, [on, latest]);
  return children;
}

/** One of a few: the value as it is, a list on press. */
export function Choice({ label, value, shown, options, off, onChoose, onOver }: Props) {
  return (
    <Box selectedKey={value} isDisabled={off} onOpenChange={(open) => { if (!open) onOver?.(null); }} onSelectionChange={(key) => { if (key != null && key !== value) onChoose(String(key)); }}>
      <Label>{label}</Label>
      <Button><SelectValue>{() => shown ?? options.find((o) => o.id === value)?.name ?? value}</SelectValue><i aria-hidden>▾</i></Button>
      <Sheet>
        <ListBox items={options} aria-label={label}>{(option) => <ListBoxItem id={option.id} textValue={option.name}>{({ isFocused }) => <Pointed on={isFocused} tell={() => { if (option.id !== value) onOver?.(option.id); else onOver?.(null); }}>{option.name}</Pointed>}</ListBoxItem>}</ListBox>
      </Sheet>
    </Box>
  );
}
