import { useState } from "react";
import styled from "styled-components";
import { Plain, Row } from "../kit/controls";
import { TextField } from "../kit/fields";
import { Button } from "../kit/pressed";
import { line, quiet } from "../kit/tokens";
import { text } from "../text";

const Name = styled.span`
  border: 1px solid ${line};
  border-radius: 3px;
  padding: 1px 2px 1px 7px;
  display: inline-flex;
  align-items: center;
  gap: 2px;
  color: ${quiet};
  button {
    border: 0;
    background: none;
    cursor: pointer;
    padding: 1px 5px 3px;
    line-height: 1;
    color: inherit;
    min-height: 22px;
  }
`;

interface Props {
  what: string;
  names: string[];
  off?: boolean;
  onKeep: (name: string) => void;
  onAway: (name: string) => void;
}

/** What a project keeps of its own of one kind: what is there now gets a name; names are taken away again. */
export function Own({ what, names, off, onKeep, onAway }: Props) {
  const [naming, setNaming] = useState(false);
  return (
    <Row>
      {naming ? (
        <TextField
          label={text.instruments.nameOfThis(what)}
          value=""
          placeholder={text.instruments.aNameThenEnter}
          most={60}
          onCommit={(name) => {
            setNaming(false);
            onKeep(name);
          }}
        />
      ) : (
        <Plain isDisabled={off} onPress={() => setNaming(true)}>
          {text.instruments.keepThis(what)}
        </Plain>
      )}
      {names.map((name) => (
        <Name key={name}>
          {name}
          <Button aria-label={text.instruments.keepNoLonger(name)} onPress={() => onAway(name)}>
            ×
          </Button>
        </Name>
      ))}
    </Row>
  );
}
