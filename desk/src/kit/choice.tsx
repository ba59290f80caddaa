import { type ReactNode, useEffect } from "react";
import { Label, ListBox, ListBoxItem, Popover, Select, SelectValue } from "react-aria-components";
import { Button } from "./pressed";
import styled from "styled-components";
import { MenuPaper } from "./controls";
import { useLatest } from "./remembered";
import { ink, line, quiet, spruce } from "./tokens";

const Box = styled(Select)`
  display: flex;
  flex-direction: column;
  gap: 3px;
  min-width: 0;
  &[data-focus-visible] {
    outline: none;
  }
  .react-aria-Label {
    color: ${quiet};
    font-size: 12px;
    line-height: 1.25;
  }
  button {
    border: 0;
    border-bottom: 1px solid ${ink};
    background: none;
    padding: 2px 0 4px;
    font-size: 14px;
    font-weight: 500;
    text-align: left;
    display: flex;
    justify-content: space-between;
    gap: 6px;
    cursor: pointer;
    border-radius: 0;
    white-space: nowrap;
  }
  button[data-disabled] {
    color: ${quiet};
    border-bottom-color: ${line};
    cursor: default;
  }
  button span:first-child {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  button i {
    font-style: normal;
    color: ${spruce};
  }
`;
const Sheet = styled(Popover)`
  ${MenuPaper} max-height: 320px !important;
  overflow: auto;
`;

export interface Option {
  id: string;
  name: string;
}

export interface Listed {
  value: string;
  options: Option[];
  onChoose: (id: string) => void;
  /** The one that is pointed at, by pointer or keys, while the list is open; null when none is any more. */
  onOver?: (id: string | null) => void;
}

interface Props extends Listed {
  label: string;
  shown?: string;
  off?: boolean;
}

/** Tells when an entry comes to be the one pointed at. */
function Pointed({ on, tell, children }: { on: boolean; tell: () => void; children: ReactNode }) {
  const latest = useLatest(tell);
  useEffect(() => {
    if (on) latest.current();
  }, [on, latest]);
  return children;
}

/** One of a few: the value as it is, a list on press. */
export function Choice({ label, shown, ...listed }: Props) {
  return (
    <Choosing as={Box} label={label} {...listed}>
      <Label>{label}</Label>
      <Button>
        <SelectValue>{() => shown ?? nameOf(listed)}</SelectValue>
        <i aria-hidden>▾</i>
      </Button>
    </Choosing>
  );
}

const nameOf = ({ options, value }: Listed) => options.find((one) => one.id === value)?.name ?? value;

const AtEnd = styled(Select)`
  position: absolute;
  right: 0;
  bottom: 1px;
  button {
    border: 0;
    background: none;
    padding: 2px 1px 4px 8px;
    min-width: 24px;
    min-height: 24px;
    text-align: right;
    font-size: 14px;
    color: ${spruce};
    cursor: pointer;
  }
  button[data-disabled] {
    color: ${quiet};
    cursor: default;
  }
  button span {
    position: absolute;
    clip-path: inset(50%);
    width: 1px;
    height: 1px;
    overflow: hidden;
  }
`;

/** The list at the end of a field that may be typed into as well. */
export function ListAtEnd({ label, ...listed }: Omit<Props, "shown">) {
  return (
    <Choosing as={AtEnd} label={label} {...listed}>
      <Button>
        <SelectValue>{() => nameOf(listed)}</SelectValue>
        <i aria-hidden style={{ fontStyle: "normal" }}>
          ▾
        </i>
      </Button>
    </Choosing>
  );
}

function Choosing({
  as: Frame,
  label,
  value,
  options,
  off,
  onChoose,
  onOver,
  children,
}: Props & { as: typeof Box | typeof AtEnd; children: ReactNode }) {
  return (
    <Frame
      aria-label={label}
      selectedKey={value}
      isDisabled={off}
      onOpenChange={(open) => {
        if (!open) onOver?.(null);
      }}
      onSelectionChange={(key) => {
        if (key != null && key !== value) onChoose(String(key));
      }}
    >
      {children}
      <Sheet>
        <ListBox items={options} aria-label={label}>
          {(option) => (
            <ListBoxItem id={option.id} textValue={option.name}>
              {({ isFocused }) => (
                <Pointed
                  on={isFocused}
                  tell={() => {
                    if (option.id !== value) onOver?.(option.id);
                    else onOver?.(null);
                  }}
                >
                  {option.name}
                </Pointed>
              )}
            </ListBoxItem>
          )}
        </ListBox>
      </Sheet>
    </Frame>
  );
}
